"""Roll: the sheet lies on one face and is folded over, edge by edge, to all others, the nearest first."""

from __future__ import annotations

from dataclasses import replace
from heapq import heappop, heappush

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.fits.frame import level_across
from pivrel.core.kernels import kernel
from pivrel.core.solve.even import even
from pivrel.core.solve.region import Region
from pivrel.core.solve.solution import Frame, Laid, Line, SolveError
from pivrel.core.solve.system import axis, laplacian, pulled, solved
from pivrel.core.solve.ties import Tied
from pivrel.core.solve.unfolding import unfolded


def roll(region: Region, start: int | None, together: bool) -> Laid:
    """The region rolled over from a face (its id), or from its largest one.

    together: the faces keep hanging together, true near the start and softer the farther away; SolveError where
    the region closes on itself.
    """
    unit = np.searchsorted(region.faces, region.triangle_face)
    areas = np.round(np.bincount(unit, region.areas), 3)
    first = int(np.argmax(areas)) if start is None else int(np.searchsorted(region.faces, start))
    own = np.flatnonzero(unit == first)
    place, away = rolled(region.plane_xy, region.partner, unit, own[0])
    place, away = _stood_up(region, own, place, away)
    outline = region.points[region.triangles[own]]
    frame = Frame("roll", (Line("start", outline[0]),), outline.mean(axis=(0, 1))[None])
    none = np.empty(0, np.int64)
    if together:
        return Laid(region, _together(region, own, place, away), none, frame)
    apart = replace(
        region,
        points=region.points[region.triangles.reshape(-1)],
        triangles=np.arange(3 * len(unit), dtype=np.int32).reshape(-1, 3),
    )
    return Laid(apart, place.reshape(-1, 2), none, frame)


@kernel
def rolled(xy: Floats, partner: Ints, unit: Ints, first: int) -> tuple[Floats, Floats]:
    """(T, 3, 2) mm where each triangle comes to lie, and (T,) mm how far its middle is from that of the first.

    xy: (T, 3, 2) each triangle in its own plane. partner: (3T,) from `Region.partner`. unit: (T,) the face of each
    triangle; those of one face stay together. first: the triangle that lies as it is in xy.
    """
    place = np.full(xy.shape, np.nan)
    away = np.full(len(xy), np.inf)
    laid = np.zeros(len(xy), np.bool_)
    place[first] = xy[first]
    middle = (xy[first, 0] + xy[first, 1] + xy[first, 2]) / 3
    waiting = [(0.0, first, first)]
    while len(waiting) > 0:
        _, triangle, slot = heappop(waiting)
        if laid[triangle]:
            continue
        if triangle != first:
            place[triangle] = _folded(xy, place, triangle, partner[slot] % 3, slot)
        laid[triangle] = True
        # All of its face comes along before any other face does.
        members = [triangle]
        at = 0
        while at < len(members):
            t = members[at]
            at += 1
            for k in range(3):
                other = partner[3 * t + k]
                if other >= 0 and not laid[other // 3] and unit[other // 3] == unit[t]:
                    place[other // 3] = _folded(xy, place, other // 3, other % 3, 3 * t + k)
                    laid[other // 3] = True
                    members.append(other // 3)
        for t in members:
            away[t] = _far(place[t], middle)
            for k in range(3):
                other = partner[3 * t + k]
                if other >= 0 and not laid[other // 3]:
                    there = _folded(xy, place, other // 3, other % 3, 3 * t + k)
                    heappush(waiting, (_far(there, middle), other // 3, 3 * t + k))
    return place, away


@kernel
def _folded(xy: Floats, place: Floats, triangle: int, corner: int, slot: int) -> Floats:
    """(3, 2) where a triangle comes to lie, whose half-edge from a corner meets the laid half-edge of a slot."""
    near = place[slot // 3]
    a, b = near[(slot % 3 + 1) % 3], near[slot % 3]
    p, q = xy[triangle, corner], xy[triangle, (corner + 1) % 3]
    ux, uy = q[0] - p[0], q[1] - p[1]
    vx, vy = b[0] - a[0], b[1] - a[1]
    # The rotation that turns u the way v runs; both are as long, but for rounding.
    size = np.sqrt((ux * ux + uy * uy) * (vx * vx + vy * vy))
    cosine, sine = (ux * vx + uy * vy) / size, (ux * vy - uy * vx) / size
    out = np.empty((3, 2))
    for k in range(3):
        x, y = xy[triangle, k, 0] - p[0], xy[triangle, k, 1] - p[1]
        out[k, 0] = a[0] + cosine * x - sine * y
        out[k, 1] = a[1] + sine * x + cosine * y
    return out


@kernel
def _far(three: Floats, middle: Floats) -> float:
    x = (three[0, 0] + three[1, 0] + three[2, 0]) / 3 - middle[0]
    y = (three[0, 1] + three[1, 1] + three[2, 1]) / 3 - middle[1]
    return float(np.sqrt(x * x + y * y))


def _stood_up(region: Region, own: Ints, place: Floats, away: Floats) -> tuple[Floats, Floats]:
    """The laying turned and shifted so that the start face stands as it does on the model, its lowest corner at the
    origin; and how far each triangle is from its middle."""
    a, b, c = (region.points[region.triangles[own[0], k]] for k in range(3))
    normal = np.cross(b - a, c - a)
    normal /= np.linalg.norm(normal)
    across = level_across(normal)
    x, y = (b - a) @ across, (b - a) @ np.cross(normal, across)
    u = place[own[0], 1] - place[own[0], 0]
    angle = np.arctan2(y, x) - np.arctan2(u[1], u[0])
    cosine, sine = np.cos(angle), np.sin(angle)
    place = place @ np.array([[cosine, sine], [-sine, cosine]])
    place = place - place[own].reshape(-1, 2).min(axis=0)
    return place, away


def _together(region: Region, own: Ints, place: Floats, away: Floats) -> Floats:
    """(V, 2) mm: all triangles as rigid as they can be while they hang together, the nearer to the start the more so."""
    if not len(region.border):
        raise SolveError(
            "this region closes on itself: roll it over apart, or leave some faces out of the pick"
        )
    weights = region.areas / (1 + (8 * away / max(float(away.max()), 1e-300)) ** 4)
    targets = np.einsum("tkr,tkc->trc", place, region.gradients)
    tied = [Tied.of(region), Tied.of(region)]
    corners, first = np.unique(region.triangles[own], return_index=True)
    for k in (0, 1):
        tied[k].fixed.append((corners, place[own].reshape(-1, 2)[first, k]))
    ties = tied[0].ties(), tied[1].ties()
    matrix = laplacian(region, weights)
    axes = axis(matrix, ties[0]), axis(matrix, ties[1])
    right = pulled(region.triangles, region.gradients, weights, targets, len(region.points))
    st = solved(axes, right)
    return unfolded(region, ties, even(region, axes, st, weights))
