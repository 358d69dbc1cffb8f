"""Whose turn it is to compute, in the order of asking: the kernels use all cores themselves.

There are two lanes. Short work, what a page or an edit waits for, holds `COMPUTING`. Long work runs beside it, one
piece at a time, in `long_work`, so that nobody waits for it but other long work.
"""

from __future__ import annotations

import importlib
import threading
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager


class FairLock:
    """A lock that its owner may take again, and that goes to whoever has waited longest.

    A plain lock goes back to the thread that has just let go of it, so that a long piece of work in steps would
    keep everybody else out.
    """

    def __init__(self) -> None:
        self._mutex = threading.Lock()
        self._waiting: deque[tuple[int, threading.Event]] = deque()
        self._owner: int | None = None
        self._depth = 0

    def __enter__(self) -> None:
        me = threading.get_ident()
        with self._mutex:
            if self._owner == me:
                self._depth += 1
                return
            if self._owner is None:
                self._owner, self._depth = me, 1
                return
            mine = threading.Event()
            self._waiting.append((me, mine))
        mine.wait()

    def __exit__(self, *_: object) -> None:
        with self._mutex:
            self._depth -= 1
            if self._depth:
                return
            if self._waiting:
                self._owner, next_one = self._waiting.popleft()
                self._depth = 1
                next_one.set()
            else:
                self._owner = None

    def let_others(self) -> None:
        """Between two steps: those who wait come first. Nothing happens for whoever holds the lock more than once."""
        if self.is_mine and self._depth == 1:
            self.__exit__()
            self.__enter__()

    @property
    def is_mine(self) -> bool:
        """Whether the calling thread holds the lock."""
        return self._owner == threading.get_ident()


def _kernels_may_meet() -> bool:
    """Whether two threads may run parallel kernels at once: numba's simplest threading layer breaks there
    (numba manual, "The Threading Layers")."""
    for layer in ("tbbpool", "omppool"):
        try:
            importlib.import_module(f"numba.np.ufunc.{layer}")
        except ImportError:
            continue
        return True
    return False


COMPUTING = FairLock()
"""Held around short work. What is kept between requests (`caching.Recent`) is made under it."""

_LONG = FairLock() if _kernels_may_meet() else COMPUTING


@contextmanager
def long_work() -> Iterator[None]:
    """Held around work that takes seconds on a large model. Short work within it takes `COMPUTING` for its time.

    Within short work it is short work itself: the lanes are entered in one order only, so nobody waits in a circle.
    """
    with COMPUTING if COMPUTING.is_mine else _LONG:
        yield


def let_others() -> None:
    """Between two steps of long work: other long work that waits comes first."""
    _LONG.let_others()
