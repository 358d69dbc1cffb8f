"""How the process keeps its memory."""

from __future__ import annotations

import ctypes
import sys

_M_TRIM_THRESHOLD, _M_MMAP_THRESHOLD, _M_ARENA_MAX = -1, -3, -8


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
