"""Faces within an outline that is drawn over the view."""

from __future__ import annotations

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.core.kernels import kernel
from pivrel.core.view.eye import MAX_CORNERS, Eye, on_screen, outline_on_screen
from pivrel.core.view.sight import Sight, look, middles

BINS = 512
"""The outline's edges are sorted into so many strips by height, so that a place is compared with those beside it alone."""

Sorted = tuple[Floats, Ints, Ints, float, float]
"""An outline (N, 2), its edges sorted by strip, where each strip's begin, the lowest y, and strips a pixel."""


@kernel
def _strip(y: float, low: float, per_px: float) -> int:
    """The strip that a height lies in; the nearest one for what lies above or below all."""
    return int(min(max((y - low) * per_px, 0.0), BINS - 1.0))


@kernel
def _sorted(outline: Floats) -> Sorted:
    low, high = outline[:, 1].min(), outline[:, 1].max()
    per_px = BINS / (high - low) if high > low else 0.0
    count = len(outline)
    starts = np.zeros(BINS + 1, np.int64)
    for fill in (False, True):
        if fill:
            edges = np.empty(starts[-1], np.int64)
            free = starts.copy()
        for i in range(count):
            a, b = outline[i - 1, 1], outline[i, 1]
            for strip in range(_strip(min(a, b), low, per_px), _strip(max(a, b), low, per_px) + 1):
                if fill:
                    edges[free[strip]] = i
                    free[strip] += 1
                else:
                    starts[strip + 1] += 1
        if not fill:
            starts = np.cumsum(starts)
    return outline, edges, starts, low, per_px


@kernel
def _between(x: float, y: float, a: Floats, b: Floats) -> bool:
    """Whether a line to the right of a place meets the edge from a to b."""
    return (b[1] > y) != (a[1] > y) and x < (a[0] - b[0]) * (y - b[1]) / (a[1] - b[1]) + b[0]


@kernel
def _inside(x: float, y: float, edged: Sorted) -> bool:
    """Whether a place lies within a closed outline (even-odd rule)."""
    outline, edges, starts, low, per_px = edged
    strip = _strip(y, low, per_px)
    inside = False
    for at in range(starts[strip], starts[strip + 1]):
        i = edges[at]
        if _between(x, y, outline[i - 1], outline[i]):
            inside = not inside
    return inside


@kernel
def _within_polygon(x: float, y: float, polygon: Floats, count: int) -> bool:
    inside = False
    for i in range(count):
        if _between(x, y, polygon[(i + count - 1) % count], polygon[i]):
            inside = not inside
    return inside


@kernel
def _cross(a: Floats, b: Floats, c: Floats, d: Floats) -> bool:
    """Whether two lines from a to b and from c to d cross."""
    ab_c = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
    ab_d = (b[0] - a[0]) * (d[1] - a[1]) - (b[1] - a[1]) * (d[0] - a[0])
    cd_a = (d[0] - c[0]) * (a[1] - c[1]) - (d[1] - c[1]) * (a[0] - c[0])
    cd_b = (d[0] - c[0]) * (b[1] - c[1]) - (d[1] - c[1]) * (b[0] - c[0])
    return ab_c * ab_d < 0.0 and cd_a * cd_b < 0.0


@kernel
def _crossed(polygon: Floats, count: int, edged: Sorted) -> bool:
    """Whether an edge of a polygon crosses the outline."""
    outline, edges, starts, low, per_px = edged
    for k in range(count):
        a, b = polygon[k], polygon[(k + 1) % count]
        first = _strip(min(a[1], b[1]), low, per_px)
        last = _strip(max(a[1], b[1]), low, per_px)
        for at in range(starts[first], starts[last + 1]):
            i = edges[at]
            if _cross(a, b, outline[i - 1], outline[i]):
                return True
    return False


@kernel(parallel=True)
def _judged(
    clipped: Floats, pixel: Floats, whole: Mask, triangles: Ints, width: int, height: int, outline: Floats,
    face: Ints, asked: Mask, touched: Mask, inside: Mask,
) -> None:  # fmt: skip
    """For each triangle of the faces that are asked for, whether it has any place in common with the outline, and
    whether all of it lies within. face: (T,) of each triangle; asked: (F,)."""
    bounds = _bounds(outline, len(outline))
    edged = _sorted(outline)
    for run in prange((len(triangles) + RUN - 1) // RUN):
        _judge(run * RUN, min((run + 1) * RUN, len(triangles)), clipped, pixel, whole, triangles, width, height, outline,
               bounds, edged, face, asked, touched, inside)  # fmt: skip


@kernel
def _bounds(places: Floats, count: int) -> tuple[float, float, float, float]:
    """Left, right, top and bottom of the first places (N, 2 or more)."""
    left = top = np.inf
    right = bottom = -np.inf
    for k in range(count):
        left, right = min(left, places[k, 0]), max(right, places[k, 0])
        top, bottom = min(top, places[k, 1]), max(bottom, places[k, 1])
    return left, right, top, bottom


@kernel
def _judge(
    begin: int, end: int, clipped: Floats, pixel: Floats, whole: Mask, triangles: Ints, width: int, height: int,
    outline: Floats, bounds: tuple[float, float, float, float], edged: Sorted, face: Ints, asked: Mask, touched: Mask,
    inside: Mask,
) -> None:  # fmt: skip
    """Triangles from one to before another; bounds: of the outline."""
    first, second = np.empty((MAX_CORNERS, 6)), np.empty((MAX_CORNERS, 6))
    for t in range(begin, end):
        if not asked[face[t]]:
            continue
        count = outline_on_screen(clipped, pixel, whole, triangles[t], width, height, first, second)
        left, right, top, bottom = _bounds(first, count)
        if count == 0 or right < bounds[0] or left > bounds[1] or bottom < bounds[2] or top > bounds[3]:
            continue
        corners = 0
        for k in range(count):
            corners += _inside(first[k, 0], first[k, 1], edged)
        crossed = 0 < corners < count or _crossed(first, count, edged)
        touched[t] = corners > 0 or crossed or _within_polygon(outline[0, 0], outline[0, 1], first, count)
        inside[t] = corners == count and not crossed


RUN = 4096
"""Triangles that a thread judges at a time."""


def within(
    surface: Surface, eye: Eye, outline: Floats, drawn: Mask, through: bool, whole: bool, sight: Sight | None = None
) -> Mask:  # fmt: skip
    """(F,) the faces within an outline (N, 2) in pixels.

    through: those behind others too; else only what is seen. whole: faces that lie within the outline
    with all that the cut leaves of them; else those that it touches, or that show within it. sight: what is seen, where
    it is known.
    """
    outline = np.ascontiguousarray(outline, np.float64)
    if through:
        return _touching(surface, eye, outline, whole, drawn)
    sight = sight or look(surface, eye, drawn)
    if whole:
        return _touching(surface, eye, outline, whole, drawn & sight.seen)
    showing = np.zeros(surface.mesh.face_count, bool)
    _shown_within(sight.ids, outline, showing)
    # Faces too small for a pixel of their own count by their middles.
    own = np.zeros_like(showing)
    own[sight.ids[sight.ids >= 0]] = True
    small = np.flatnonzero(sight.seen & ~own)
    showing[small[_each_inside(middles(surface, eye, small), outline)]] = True
    return showing


def _touching(surface: Surface, eye: Eye, outline: Floats, whole: bool, asked: Mask) -> Mask:
    """(F,) of the faces that are asked for (F,) those that the outline touches, or that lie within it as a whole."""
    face = surface.triangle_face
    touched, inside = (np.zeros(len(face), bool) for _ in range(2))
    at = on_screen(surface, eye)
    _judged(
        at.clip, at.pixel, at.whole, surface.triangle_points, *eye.size, outline, face, asked, touched, inside
    )
    out = np.zeros(surface.mesh.face_count, bool)
    out[face[touched]] = True
    if whole:
        out[face[~inside]] = False
    return out


@kernel(parallel=True)
def _shown_within(ids: Ints, outline: Floats, showing: Mask) -> None:
    """Marks the faces that pixels within an outline show."""
    edged = _sorted(outline)
    height, width = ids.shape
    low_x, high_x, low_y, high_y = _bounds(outline, len(outline))
    left, right = max(int(low_x), 0), min(int(high_x) + 1, width)
    top, bottom = max(int(low_y), 0), min(int(high_y) + 1, height)
    for row in prange(max(bottom - top, 0)):
        _shown_in_row(top + row, left, right, ids, edged, showing)


@kernel
def _shown_in_row(y: int, left: int, right: int, ids: Ints, edged: Sorted, showing: Mask) -> None:
    for x in range(left, right):
        if ids[y, x] >= 0 and _inside(x + 0.5, y + 0.5, edged):
            showing[ids[y, x]] = True


@kernel(parallel=True)
def _each_inside(places: Floats, outline: Floats) -> Mask:
    edged = _sorted(outline)
    out = np.empty(len(places), np.bool_)
    for k in prange(len(places)):
        out[k] = _inside(places[k, 0], places[k, 1], edged)
    return out
