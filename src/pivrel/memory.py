"""How the process keeps its memory."""

from __future__ import annotations

import ctypes
import os
import sys
import threading
from pathlib import Path

_M_TRIM_THRESHOLD, _M_MMAP_THRESHOLD, _M_ARENA_MAX = -1, -3, -8


LOOKED_AT_EVERY_S = 15.0

GROWN = 1.05
"""By so much a process may grow until it gives back what it does not use."""


def keep_freed_memory() -> None:
    """Keeps freed memory for the next array instead of giving it back to the system at once.

    Every laying needs megabytes for a moment. Given back and asked for again, their pages are faulted
    in anew each time, which takes longer than the laying itself. glibc only; elsewhere nothing is done.
    """
    if sys.platform != "linux":
        return
    libc = ctypes.CDLL(None)
    if hasattr(libc, "mallopt"):
        for option, value in ((_M_MMAP_THRESHOLD, 1 << 30), (_M_TRIM_THRESHOLD, 1 << 30), (_M_ARENA_MAX, 1)):
            libc.mallopt(option, value)


def give_back() -> None:
    """Gives whole pages of freed memory back to the system.

    What is kept for the next array lies between what stays, in pieces that the next large one does not fit into: without
    this a server that does a thousand different things takes a little more with each of them.
    """
    if sys.platform == "linux":
        libc = ctypes.CDLL(None)
        if hasattr(libc, "malloc_trim"):
            libc.malloc_trim(0)


def resident(process: int | None = None) -> int:
    """Bytes of memory that a process holds, this one where None; 0 where it is gone or the system does not tell."""
    try:
        return int(Path(f"/proc/{process or 'self'}/statm").read_text().split()[1]) * os.sysconf(
            "SC_PAGE_SIZE"
        )
    except (OSError, IndexError, ValueError):
        return 0


def give_back_now_and_then() -> threading.Event:
    """Does so from now on, whenever the process has grown since it last did, by a leap or bit by bit.

    The event ends it.
    """

    def look() -> None:
        least = resident()
        while not over.wait(LOOKED_AT_EVERY_S):
            if resident() > GROWN * least:
                give_back()
                least = resident()
            least = min(least, resident())

    over = threading.Event()
    threading.Thread(target=look, name="memory", daemon=True).start()
    return over
