"""Convex polygons cut by half-spaces, corner values carried along.

Clipping as by I. Sutherland and G. Hodgman, "Reentrant polygon clipping", Communications of the ACM 17(1), 1974.
"""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.kernels import kernel


@kernel
def clip(polygon: Floats, count: int, out: Floats, column: int) -> int:
    """Cuts a convex polygon to where its values in a column are not below zero; the count of its corners then.

    polygon: (N, K) values by corner, of which the first `count` rows are used. out: (N + 1, K) or larger, takes
    the corners that stay and those on the cut, whose values lie between those of their neighbours.
    """
    kept = 0
    for k in range(count):
        a, b = polygon[k], polygon[(k + 1) % count]
        here, there = a[column], b[column]
        if here >= 0.0:
            out[kept] = a
            kept += 1
        if (here > 0.0 and there < 0.0) or (here < 0.0 and there > 0.0):
            share = here / (here - there)
            out[kept] = a + share * (b - a)
            kept += 1
    return kept


def clipped(polygon: Floats, height: Floats) -> Floats:
    """(M, K) the part of a convex polygon (N, K) where the height (N,) of its corners is not below zero.

    Empty where no area is left.
    """
    if not (height > 0).any():
        return polygon[:0]
    stacked = np.column_stack([polygon, height])
    out = np.empty((len(polygon) + 2, stacked.shape[1]))
    count = clip(stacked, len(polygon), out, polygon.shape[1])
    return out[:count, :-1] if count >= 3 else polygon[:0]
