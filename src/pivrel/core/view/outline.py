"""Faces within an outline that is drawn over the view."""

from __future__ import annotations

import numpy as np
from numba import njit, prange

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.core.view.eye import MAX_CORNERS, Eye, clip_space, outline_on_screen
from pivrel.core.view.sight import look, middles


@njit(cache=True)
def _inside(x: float, y: float, outline: Floats) -> bool:
    """Whether a place lies within a closed outline (even-odd rule)."""
    inside = False
    j = len(outline) - 1
    for i in range(len(outline)):
        xi, yi, xj, yj = outline[i, 0], outline[i, 1], outline[j, 0], outline[j, 1]
        if (yi > y) != (yj > y) and x < (xj - xi) * (y - yi) / (yj - yi) + xi:
            inside = not inside
        j = i
    return inside


@njit(cache=True)
def _cross(a: Floats, b: Floats, c: Floats, d: Floats) -> bool:
    """Whether two lines from a to b and from c to d cross."""
    ab_c = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
    ab_d = (b[0] - a[0]) * (d[1] - a[1]) - (b[1] - a[1]) * (d[0] - a[0])
    cd_a = (d[0] - c[0]) * (a[1] - c[1]) - (d[1] - c[1]) * (a[0] - c[0])
    cd_b = (d[0] - c[0]) * (b[1] - c[1]) - (d[1] - c[1]) * (b[0] - c[0])
    return ab_c * ab_d < 0.0 and cd_a * cd_b < 0.0


@njit(cache=True)
def _touches(polygon: Floats, count: int, outline: Floats) -> bool:
    """Whether a convex polygon and an outline have any place in common."""
    for k in range(count):
        if _inside(polygon[k, 0], polygon[k, 1], outline):
            return True
    if _inside(outline[0, 0], outline[0, 1], polygon[:count]):
        return True
    for k in range(count):
        a, b = polygon[k], polygon[(k + 1) % count]
        for i in range(len(outline)):
            if _cross(a, b, outline[i], outline[(i + 1) % len(outline)]):
                return True
    return False


@njit(cache=True)
def _wholly(polygon: Floats, count: int, outline: Floats) -> bool:
    """Whether a polygon lies within an outline."""
    for k in range(count):
        if not _inside(polygon[k, 0], polygon[k, 1], outline):
            return False
        a, b = polygon[k], polygon[(k + 1) % count]
        for i in range(len(outline)):
            if _cross(a, b, outline[i], outline[(i + 1) % len(outline)]):
                return False
    return True


@njit(parallel=True, cache=True)
def _judged(
    places: Floats, triangles: Ints, width: int, height: int, outline: Floats, touched: Mask, whole: Mask
) -> None:
    """For each triangle whether it touches the outline, and whether all of it lies within."""
    low_x, low_y = outline[:, 0].min(), outline[:, 1].min()
    high_x, high_y = outline[:, 0].max(), outline[:, 1].max()
    for t in prange(len(triangles)):
        first, second = np.empty((MAX_CORNERS, 6)), np.empty((MAX_CORNERS, 6))
        count = outline_on_screen(places, triangles[t], width, height, first, second)
        if count == 0:
            continue
        x, y = first[:count, 0], first[:count, 1]
        if x.max() < low_x or x.min() > high_x or y.max() < low_y or y.min() > high_y:
            continue
        touched[t] = _touches(first, count, outline)
        whole[t] = touched[t] and _wholly(first, count, outline)


def within(surface: Surface, eye: Eye, outline: Floats, drawn: Mask, through: bool, whole: bool) -> Mask:
    """(F,) the faces within an outline (N, 2) in pixels.

    through: those behind others too; else only what is seen. whole: faces that lie within the outline
    with all that the cut leaves of them; else those that it touches, or that show within it.
    """
    count = surface.mesh.face_count
    width, height = eye.size
    face = surface.triangle_face
    touched, inside = np.zeros(len(face), bool), np.zeros(len(face), bool)
    places = clip_space(surface, eye)
    _judged(places, surface.triangles, width, height, np.ascontiguousarray(outline), touched, inside)
    some = np.bincount(face, touched, count) > 0
    all_of_it = some & (np.bincount(face, inside, count) == np.bincount(face, minlength=count))
    out: Mask = (all_of_it if whole else some) & drawn
    if through:
        return out
    sight = look(surface, eye, drawn)
    if whole:
        return out & sight.seen
    showing = np.zeros(count, bool)
    y, x = np.nonzero(sight.ids >= 0)
    near = (x + 0.5 >= outline[:, 0].min()) & (x + 0.5 <= outline[:, 0].max())
    near &= (y + 0.5 >= outline[:, 1].min()) & (y + 0.5 <= outline[:, 1].max())
    x, y = x[near], y[near]
    held = _each_inside(x + 0.5, y + 0.5, np.ascontiguousarray(outline))
    showing[sight.ids[y[held], x[held]]] = True
    # Faces too small for a pixel of their own count by their middles.
    small = sight.seen & ~_drawn_anywhere(sight.ids, count)
    at, _ = middles(surface, eye)
    small[small] = _each_inside(at[small, 0].copy(), at[small, 1].copy(), np.ascontiguousarray(outline))
    return (showing | small) & out


@njit(cache=True)
def _each_inside(x: Floats, y: Floats, outline: Floats) -> Mask:
    out = np.empty(len(x), np.bool_)
    for k in range(len(x)):
        out[k] = _inside(x[k], y[k], outline)
    return out


def _drawn_anywhere(ids: Ints, count: int) -> Mask:
    out = np.zeros(count, bool)
    out[ids[ids >= 0]] = True
    return out
