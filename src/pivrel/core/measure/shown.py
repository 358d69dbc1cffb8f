"""How much of a face shows a sheet that is laid once."""

from __future__ import annotations

import numpy as np
from numba import njit

from pivrel.core.arrays import Floats, Ints


@njit(cache=True)
def _halved(s: Floats, t: Floats, count: int, axis: int, sign: float, bound: float) -> int:
    """Cuts a convex polygon, in place, to where sign * coordinate >= sign * bound; the count that is left."""
    kept_s, kept_t = np.empty(10), np.empty(10)
    kept = 0
    for k in range(count):
        n = (k + 1) % count
        here = sign * ((s[k] if axis == 0 else t[k]) - bound)
        there = sign * ((s[n] if axis == 0 else t[n]) - bound)
        if here >= 0.0:
            kept_s[kept], kept_t[kept] = s[k], t[k]
            kept += 1
        if (here >= 0.0) != (there >= 0.0):
            share = here / (here - there)
            kept_s[kept], kept_t[kept] = s[k] + share * (s[n] - s[k]), t[k] + share * (t[n] - t[k])
            kept += 1
    s[:kept], t[:kept] = kept_s[:kept], kept_t[:kept]
    return kept


@njit(cache=True)
def _area(s: Floats, t: Floats, count: int) -> float:
    twice = 0.0
    for k in range(1, count - 1):
        twice += (s[k] - s[0]) * (t[k + 1] - t[0]) - (t[k] - t[0]) * (s[k + 1] - s[0])
    return abs(twice) / 2


@njit(cache=True)
def shares_within(final: Floats, triangles: Ints, width: float, height: float) -> Floats:
    """(T,) the share of each triangle's area that lies within [0, width] x [0, height] of the sheet.

    final: (C, 2) mm by corner id. Triangles without area on the sheet count as outside it. Clipping as
    by I. Sutherland and G. Hodgman, "Reentrant polygon clipping", Communications of the ACM 17(1), 1974.
    """
    out = np.zeros(len(triangles))
    s, t = np.empty(10), np.empty(10)
    for k in range(len(triangles)):
        for corner in range(3):
            s[corner], t[corner] = final[triangles[k, corner], 0], final[triangles[k, corner], 1]
        whole = _area(s, t, 3)
        if whole <= 0.0:
            continue
        count = 3
        for axis, sign, bound in ((0, 1.0, 0.0), (0, -1.0, width), (1, 1.0, 0.0), (1, -1.0, height)):
            count = _halved(s, t, count, axis, sign, bound)
            if count < 3:
                break
        if count >= 3:
            out[k] = min(_area(s, t, count) / whole, 1.0)
    return out


@njit(cache=True)
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
