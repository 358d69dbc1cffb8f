"""Factors of sparse matrices, which are let go of by the thread that made them.

SciPy's SuperLU notes by thread what memory it took (`memory_dict` in scipy/sparse/linalg/_dsolve/_superlu_utils.c), and
memory that another thread lets go of stays taken for good. A server makes factors in one thread and lets go of them in
another all day; so both are done by threads of their own.
"""

from __future__ import annotations

import atexit
import os
import threading
from collections.abc import Callable
from concurrent.futures import Future
from queue import LifoQueue, SimpleQueue

from scipy.sparse import csc_array
from scipy.sparse.linalg import SuperLU, splu

from pivrel.core.arrays import Floats

END_S = 1.0
"""For so long the end of the process waits for factors that are still being made."""


class Factors:
    """The factors of a symmetric matrix, whose pivots can stay on the diagonal. Any thread may solve by them."""

    def __init__(self, matrix: csc_array) -> None:
        """RuntimeError where the matrix is singular."""
        makers = _makers
        self._maker = maker = makers.idle.get()
        try:
            self._made = maker.made(matrix)
        finally:
            makers.idle.put(maker)

    def solve(self, right: Floats) -> Floats:
        """(N,) what the matrix turns into the right-hand side (N,)."""
        out: Floats = self._made[0].solve(right)
        return out

    def __del__(self) -> None:
        # Nothing was made of a singular matrix.
        if hasattr(self, "_made"):
            self._maker.asked.put(self._made.clear)


class _Maker(threading.Thread):
    """Makes factors and lets go of them, one after the other. asked: what is to be done; it may be put from anywhere."""

    def __init__(self) -> None:
        super().__init__(name="factors", daemon=True)
        self.asked: SimpleQueue[Callable[[], None] | None] = SimpleQueue()

    def run(self) -> None:
        while work := self.asked.get():
            work()
            # Whatever it holds is let go of before the next is waited for.
            del work

    def made(self, matrix: csc_array) -> list[SuperLU]:
        """The factors, in a list that this thread alone may empty."""
        found: Future[list[SuperLU]] = Future()

        def make() -> None:
            try:
                found.set_result([_factorised(matrix)])
            except BaseException as error:
                found.set_exception(error)

        if self.ident is None:
            self.start()
        self.asked.put(make)
        return found.result()


def _factorised(matrix: csc_array) -> SuperLU:
    # An ordering of A + A' makes the fewest new entries of such a matrix.
    return splu(matrix, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True})


class _Makers:
    """A maker for each processor. idle: those with nothing to do, the one that was at work last in front."""

    def __init__(self) -> None:
        self._all = [_Maker() for _ in range(os.cpu_count() or 1)]
        self.idle: LifoQueue[_Maker] = LifoQueue()
        for maker in self._all:
            self.idle.put(maker)

    def end(self) -> None:
        """Ends them: what SciPy noted for a thread must not outlive Python itself."""
        for maker in self._all:
            if maker.is_alive():
                maker.asked.put(None)
                maker.join(END_S)


def _begin_anew() -> None:
    """A process that was born of this one has none of its threads."""
    global _makers
    _makers = _Makers()


_makers = _Makers()
os.register_at_fork(after_in_child=_begin_anew)
atexit.register(lambda: _makers.end())
