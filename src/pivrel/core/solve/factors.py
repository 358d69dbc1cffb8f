"""Factors of sparse matrices, as plain arrays."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csc_array
from scipy.sparse.linalg import splu

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel


class Factors:
    """The factors of a symmetric matrix, whose pivots can stay on the diagonal. Any thread may solve by them.

    Only the factors themselves are kept. SciPy's SuperLU holds seven times their bytes, by an estimate that it never
    gives back, and memory that another thread lets go of than the one that factorised stays taken for good: it notes by
    thread what it took. So what it made is copied and let go of where it was made.
    """

    def __init__(self, matrix: csc_array) -> None:
        """RuntimeError where the matrix is singular."""
        # An ordering of A + A' makes the fewest new entries of such a matrix.
        made = splu(
            matrix, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True}
        )
        self._lower, self._upper = _arrays(made.L), _arrays(made.U)
        # Unlike the factors these are views of what it holds.
        self._rows, self._columns = made.perm_r.copy(), made.perm_c.copy()

    @property
    def nbytes(self) -> int:
        """What they take."""
        return sum(held.nbytes for held in (*self._lower, *self._upper, self._rows, self._columns))

    def solve(self, right: Floats) -> Floats:
        """(N,) what the matrix turns into the right-hand side (N,)."""
        if len(right) != len(self._rows):
            raise ValueError(f"{len(right)} values for {len(self._rows)} unknowns")
        values = np.empty_like(right, np.result_type(right, self._lower[2]))
        values[self._rows] = right
        _substitute(*self._lower, *self._upper, values)
        return values[self._columns]


def _arrays(factor: csc_array) -> tuple[Ints, Ints, Floats]:
    """Where each column begins, the rows of its entries, ascending, and their values."""
    factor.sort_indices()
    return factor.indptr, factor.indices, factor.data


@kernel
def _substitute(
    lower_start: Ints,
    lower_row: Ints,
    lower: Floats,
    upper_start: Ints,
    upper_row: Ints,
    upper: Floats,
    values: Floats,
) -> None:
    """Puts forward and back into values (N,), column by column (Golub and Van Loan, Matrix Computations, 3.1.3).

    The first entry of a column of the lower factor is 1, the last of one of the upper lies on the diagonal.
    """
    count = len(values)
    for j in range(count):
        value = values[j]
        for at in range(lower_start[j] + 1, lower_start[j + 1]):
            values[lower_row[at]] -= lower[at] * value
    for j in range(count - 1, -1, -1):
        last = upper_start[j + 1] - 1
        values[j] /= upper[last]
        value = values[j]
        for at in range(upper_start[j], last):
            values[upper_row[at]] -= upper[at] * value
