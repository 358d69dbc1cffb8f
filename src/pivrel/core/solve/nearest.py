"""Which face of a pick lies nearest to a place, and where on it."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.surface import Surface
from pivrel.core.kernels import kernel


@kernel
def closest_on_triangle(p: Floats, a: Floats, b: Floats, c: Floats) -> tuple[float, float, float]:
    """The shares of a, b and c in the point of their triangle that is closest to p.

    C. Ericson, Real-Time Collision Detection, 2005, section 5.1.5.
    """
    ab, ac, ap = b - a, c - a, p - a
    d1, d2 = float(ab @ ap), float(ac @ ap)
    if d1 <= 0 and d2 <= 0:
        return 1.0, 0.0, 0.0
    bp = p - b
    d3, d4 = float(ab @ bp), float(ac @ bp)
    if d3 >= 0 and d4 <= d3:
        return 0.0, 1.0, 0.0
    vc = d1 * d4 - d3 * d2
    if vc <= 0 and d1 >= 0 and d3 <= 0:
        v = d1 / (d1 - d3)
        return 1 - v, v, 0.0
    cp = p - c
    d5, d6 = float(ab @ cp), float(ac @ cp)
    if d6 >= 0 and d5 <= d6:
        return 0.0, 0.0, 1.0
    vb = d5 * d2 - d1 * d6
    if vb <= 0 and d2 >= 0 and d6 <= 0:
        w = d2 / (d2 - d6)
        return 1 - w, 0.0, w
    va = d3 * d6 - d5 * d4
    if va <= 0 and d4 - d3 >= 0 and d5 - d6 >= 0:
        w = (d4 - d3) / ((d4 - d3) + (d5 - d6))
        return 0.0, 1 - w, w
    total = va + vb + vc
    return va / total, vb / total, vc / total


@kernel
def nearest_triangle(p: Floats, points: Floats, triangles: Ints) -> tuple[int, Floats]:
    """The row of the triangle (T, 3) of points that lies nearest to a place, and the (3,) shares of its corners there."""
    best, row = np.inf, -1
    share = np.zeros(3)
    for t in range(len(triangles)):
        a, b, c = points[triangles[t, 0]], points[triangles[t, 1]], points[triangles[t, 2]]
        u, v, w = closest_on_triangle(p, a, b, c)
        gap = u * a + v * b + w * c - p
        away = gap @ gap
        if away < best:
            best, row = away, t
            share[0], share[1], share[2] = u, v, w
    return row, share


def place_on(surface: Surface, own: Ints, place: Floats) -> tuple[int, Floats]:
    """Of the surface's triangles `own` (rows, at least one) that nearest to a place in mm, and the (3,) place on it."""
    points, triangles = surface.mesh.points, surface.mesh.corners[surface.triangles[own]]
    row, share = nearest_triangle(place, points, triangles)
    return int(own[row]), share @ points[triangles[row]]


def face_at(surface: Surface, faces: Ints, place: tuple[float, float, float]) -> int | None:
    """The face (of int32 ids) nearest to a place in mm, or None where there are none."""
    own = np.flatnonzero(surface.held(faces)[surface.triangle_face])
    if not len(own):
        return None
    triangle, _ = place_on(surface, own, np.array(place, float))
    return int(surface.triangle_face[triangle])
