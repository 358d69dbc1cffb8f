"""How often a surface winds round a place: whether the place is inside a body, outside, or beside a sheet."""

from __future__ import annotations

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel

MANY = 20_000
"""Of more triangles those far off are taken together."""

CELLS = 48
"""Into so many cells along each axis."""

FAR = 3.0
"""What lies further away than so many times its own reach is as good as one small triangle of the same area vector."""


def winding_numbers(places: Floats, a: Floats, b: Floats, c: Floats) -> Floats:
    """(Q,) generalized winding numbers of places (Q, 3) against triangles with corners a, b, c (T, 3).

    1 inside a closed body that looks outward, -1 inside one that looks inward, 0 outside; in between
    where the surface is open (A. Jacobson, L. Kavan and O. Sorkine-Hornung, "Robust Inside-Outside
    Segmentation Using Generalized Winding Numbers", ACM Transactions on Graphics 32(4), 2013). The solid
    angle of a triangle is that of A. van Oosterom and J. Strackee, "The Solid Angle of a Plane
    Triangle", IEEE Transactions on Biomedical Engineering 30(2), 1983. Of many triangles those that lie far off
    together count as a dipole (G. Barill et al., "Fast Winding Numbers for Soups and Clouds", ACM Transactions on
    Graphics 37(4), 2018): to within about 0.01.
    """
    if len(a) <= MANY:
        found: Floats = _exactly(places, a, b, c)
        return found
    middle = (a + b + c) / 3
    low, size = middle.min(axis=0), max(float(np.ptp(middle, axis=0).max()), 1e-300)
    cell = np.minimum(((middle - low) * (CELLS / size)).astype(np.int64), CELLS - 1)
    key = (cell[:, 0] * CELLS + cell[:, 1]) * CELLS + cell[:, 2]
    order = np.argsort(key, kind="stable")
    starts = np.flatnonzero(np.diff(key[order], prepend=-1, append=-2))
    together: Floats = _together(places, a[order], b[order], c[order], starts)
    return together


@kernel
def _solid_angle(p: Floats, a: Floats, b: Floats, c: Floats) -> float:
    ax, ay, az = a[0] - p[0], a[1] - p[1], a[2] - p[2]
    bx, by, bz = b[0] - p[0], b[1] - p[1], b[2] - p[2]
    cx, cy, cz = c[0] - p[0], c[1] - p[1], c[2] - p[2]
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
    return 2.0 * np.arctan2(det, under)


@kernel(parallel=True)
def _exactly(places: Floats, a: Floats, b: Floats, c: Floats) -> Floats:
    out = np.zeros(len(places))
    for q in prange(len(places)):
        total = 0.0
        for t in range(len(a)):
            total += _solid_angle(places[q], a[t], b[t], c[t])
        out[q] = total / (4.0 * np.pi)
    return out


@kernel(parallel=True)
def _together(places: Floats, a: Floats, b: Floats, c: Floats, starts: Ints) -> Floats:
    """As `_exactly`; starts: where each cell's triangles begin, and the end."""
    count = len(starts) - 1
    # Of each cell the middle of its area, how far it reaches from there, and its area vector.
    cells = np.zeros((count, 7))
    for k in prange(count):
        area = 0.0
        for t in range(starts[k], starts[k + 1]):
            u, v = b[t] - a[t], c[t] - a[t]
            x, y, z = u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]
            own = np.sqrt(x * x + y * y + z * z) / 2 + 1e-300
            area += own
            for i in range(3):
                cells[k, i] += own * (a[t, i] + b[t, i] + c[t, i]) / 3
            cells[k, 4] += x / 2
            cells[k, 5] += y / 2
            cells[k, 6] += z / 2
        cells[k, :3] /= area
        for t in range(starts[k], starts[k + 1]):
            for corner in (a, b, c):
                x, y, z = corner[t, 0] - cells[k, 0], corner[t, 1] - cells[k, 1], corner[t, 2] - cells[k, 2]
                cells[k, 3] = max(cells[k, 3], np.sqrt(x * x + y * y + z * z))
    out = np.zeros(len(places))
    for q in prange(len(places)):
        total = 0.0
        for k in range(count):
            x, y, z = cells[k, 0] - places[q, 0], cells[k, 1] - places[q, 1], cells[k, 2] - places[q, 2]
            far = np.sqrt(x * x + y * y + z * z)
            if far > FAR * cells[k, 3]:
                total += (x * cells[k, 4] + y * cells[k, 5] + z * cells[k, 6]) / far**3
            else:
                for t in range(starts[k], starts[k + 1]):
                    total += _solid_angle(places[q], a[t], b[t], c[t])
        out[q] = total / (4.0 * np.pi)
    return out
