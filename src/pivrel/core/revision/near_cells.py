"""What lies near places, told by the cells of a grid: whoever asks at few places need not look through a whole model."""

from __future__ import annotations

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats, Mask
from pivrel.core.kernels import kernel

CELLS = 200
"""Of the grid along its longest side."""

LARGE = 64
"""A box of more cells counts as near: it would take longer to look through them."""


class NearCells:
    """The cells that hold places (N, 3), N > 0, and those beside them. reach: what lies no further off is always found."""

    def __init__(self, places: Floats, reach: float) -> None:
        low, high = places.min(axis=0), places.max(axis=0)
        self._cell = max(reach, float((high - low).max()) / CELLS)
        # One cell more all round.
        self._low = low - self._cell
        marked = np.zeros(((high - self._low) // self._cell).astype(np.int64) + 2, bool)
        marked[tuple(((places - self._low) // self._cell).astype(np.int64).T)] = True
        for axis in range(3):
            beside = np.moveaxis(marked, axis, 0)
            was = beside.copy()
            beside[1:] |= was[:-1]
            beside[:-1] |= was[1:]
        self._marked = marked

    def touch(self, low: Floats, high: Floats) -> Mask:
        """(K,) boxes, by their lowest and highest corners (K, 3), that may be near a place, and all that are."""
        out: Mask = _touched(self._marked, self._low, self._cell, low, high)
        return out


@kernel(parallel=True)
def _touched(marked: Mask, origin: Floats, cell: float, low: Floats, high: Floats) -> Mask:
    out = np.zeros(len(low), np.bool_)
    x, y, z = marked.shape
    for k in prange(len(low)):
        ax = max(np.floor((low[k, 0] - origin[0]) / cell), 0.0)
        ay = max(np.floor((low[k, 1] - origin[1]) / cell), 0.0)
        az = max(np.floor((low[k, 2] - origin[2]) / cell), 0.0)
        bx = min(np.floor((high[k, 0] - origin[0]) / cell), x - 1.0)
        by = min(np.floor((high[k, 1] - origin[1]) / cell), y - 1.0)
        bz = min(np.floor((high[k, 2] - origin[2]) / cell), z - 1.0)
        if bx < ax or by < ay or bz < az:
            continue
        if (bx - ax + 1) * (by - ay + 1) * (bz - az + 1) > LARGE:
            out[k] = True
            continue
        for i in range(int(ax), int(bx) + 1):
            for j in range(int(ay), int(by) + 1):
                for m in range(int(az), int(bz) + 1):
                    out[k] = out[k] or marked[i, j, m]
    return out
