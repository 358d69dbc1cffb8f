"""How often a surface winds round a place: whether the place is inside a body, outside, or beside a sheet."""

from __future__ import annotations

import numpy as np
from numba import njit, prange

from pivrel.core.arrays import Floats


@njit(cache=True, parallel=True)
def winding_numbers(places: Floats, a: Floats, b: Floats, c: Floats) -> Floats:
    """(Q,) generalized winding numbers of places (Q, 3) against triangles with corners a, b, c (T, 3).

    1 inside a closed body that looks outward, -1 inside one that looks inward, 0 outside; in between
    where the surface is open (A. Jacobson, L. Kavan and O. Sorkine-Hornung, "Robust Inside-Outside
    Segmentation Using Generalized Winding Numbers", ACM Transactions on Graphics 32(4), 2013). The solid
    angle of a triangle is that of A. van Oosterom and J. Strackee, "The Solid Angle of a Plane
    Triangle", IEEE Transactions on Biomedical Engineering 30(2), 1983.
    """
    out = np.zeros(len(places))
    for q in prange(len(places)):
        x, y, z = places[q, 0], places[q, 1], places[q, 2]
        total = 0.0
        for t in range(len(a)):
            ax, ay, az = a[t, 0] - x, a[t, 1] - y, a[t, 2] - z
            bx, by, bz = b[t, 0] - x, b[t, 1] - y, b[t, 2] - z
            cx, cy, cz = c[t, 0] - x, c[t, 1] - y, c[t, 2] - z
            la = np.sqrt(ax * ax + ay * ay + az * az)
            lb = np.sqrt(bx * bx + by * by + bz * bz)
            lc = np.sqrt(cx * cx + cy * cy + cz * cz)
            det = ax * (by * cz - bz * cy) - ay * (bx * cz - bz * cx) + az * (bx * cy - by * cx)
            under = (
                la * lb * lc
                + (ax * bx + ay * by + az * bz) * lc
                + (bx * cx + by * cy + bz * cz) * la
                + (cx * ax + cy * ay + cz * az) * lb
            )
            total += 2.0 * np.arctan2(det, under)
        out[q] = total / (4.0 * np.pi)
    return out
