"""Processes that end with the one that began them."""

from __future__ import annotations

import ctypes
import os
import signal
import sys
from collections.abc import Mapping

PARENT = "PIVREL_PARENT"
"""The environment's variable that tells a process the number of the one that began it."""


def environment() -> Mapping[str, str]:
    """This process's environment, as it is given to one that shall end with it."""
    return {**os.environ, PARENT: str(os.getpid())}


def end_with_parent() -> None:
    """Ends this process as soon as the one that began it is gone, killed or not; at once where it is gone already."""
    if sys.platform != "linux":
        return
    # prctl(PR_SET_PDEATHSIG): the kernel sees to it, also while a reader holds Python's lock.
    ctypes.CDLL(None).prctl(1, signal.SIGKILL)
    # Whoever died before that has sent no signal: its child belongs to another process by now.
    stated = os.environ.get(PARENT)
    if stated is not None and os.getppid() != int(stated):
        os._exit(1)
