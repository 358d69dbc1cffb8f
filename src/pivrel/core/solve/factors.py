"""Factors of sparse matrices, which are let go of by the thread that made them.

SciPy's SuperLU notes by thread what memory it took (`memory_dict` in scipy/sparse/linalg/_dsolve/_superlu_utils.c), and
memory that another thread lets go of stays taken for good. A server makes factors in one thread and lets go of them in
another all day; so both are done by threads of their own.
"""

from __future__ import annotations

import os
import threading
from collections.abc import Callable
from concurrent.futures import Future
from queue import LifoQueue, SimpleQueue

from scipy.sparse import csc_array
from scipy.sparse.linalg import SuperLU, splu

from pivrel.core.arrays import Floats


class Factors:
    """The factors of a symmetric matrix, whose pivots can stay on the diagonal. Any thread may solve by them."""

    def __init__(self, matrix: csc_array) -> None:
        """RuntimeError where the matrix is singular."""
        self._maker = maker = _idle.get()
        try:
            self._made = maker.made(matrix)
        finally:
            _idle.put(maker)

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
        self.asked: SimpleQueue[Callable[[], None]] = SimpleQueue()

    def run(self) -> None:
        while True:
            self.asked.get()()

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


def _makers() -> LifoQueue[_Maker]:
    """A maker for each processor, the one that was at work last in front."""
    out: LifoQueue[_Maker] = LifoQueue()
    for _ in range(os.cpu_count() or 1):
        out.put(_Maker())
    return out


def _begin_anew() -> None:
    """A process that was born of this one has none of its threads."""
    global _idle
    _idle = _makers()


_idle = _makers()
os.register_at_fork(after_in_child=_begin_anew)
