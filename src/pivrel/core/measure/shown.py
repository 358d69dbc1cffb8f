"""How much of a face shows a sheet that is laid once."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.clipping import clip
from pivrel.core.kernels import kernel

MAX_CORNERS = 8
"""A triangle cut by the four sides of a sheet has 7 corners at most."""


@kernel
def _area(polygon: Floats, count: int) -> float:
    twice = 0.0
    s, t = polygon[0, 0], polygon[0, 1]
    for k in range(1, count - 1):
        a, b = polygon[k], polygon[k + 1]
        twice += (a[0] - s) * (b[1] - t) - (a[1] - t) * (b[0] - s)
    return abs(twice) / 2


@kernel
def shares_within(final: Floats, triangles: Ints, width: float, height: float) -> Floats:
    """(T,) the share of each triangle's area that lies within [0, width] x [0, height] of the sheet.

    final: (C, 2) mm by corner id. Triangles without area on the sheet count as outside it.
    """
    out = np.zeros(len(triangles))
    first, second = np.empty((MAX_CORNERS, 4)), np.empty((MAX_CORNERS, 4))
    for k in range(len(triangles)):
        for corner in range(3):
            s, t = final[triangles[k, corner], 0], final[triangles[k, corner], 1]
            # How far within each of the four sides.
            first[corner, 0], first[corner, 1] = s, t
            first[corner, 2], first[corner, 3] = width - s, height - t
        whole = _area(first, 3)
        if whole <= 0.0:
            continue
        count = 3
        for side in range(4):
            count = clip(first, count, second, side)
            first, second = second, first
            if count < 3:
                break
        if count >= 3:
            out[k] = min(_area(first, count) / whole, 1.0)
    return out


@kernel
def edge_shares_within(start: Floats, end: Floats, width: float, height: float) -> Floats:
    """(E,) the share of each edge, (E, 2) to (E, 2) mm, that lies within the sheet shown once."""
    out = np.zeros(len(start))
    for e in range(len(start)):
        low, high = 0.0, 1.0
        for axis, size in ((0, width), (1, height)):
            a, b = start[e, axis], end[e, axis]
            if abs(b - a) < 1e-12:
                if a < 0.0 or a > size:
                    high = -1.0
                continue
            enter, leave = min(-a / (b - a), (size - a) / (b - a)), max(-a / (b - a), (size - a) / (b - a))
            low, high = max(low, enter), min(high, leave)
        out[e] = max(high - low, 0.0)
    return out
