"""A tape laid over the surface from one place to another: its length, and the way that it takes.

The tape starts along the section through both places that stands square to the surface; over the edges
that this crosses it is pulled tight (`strip`).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.edge_pairs import EdgePairs
from pivrel.core.geometry.surface import Surface
from pivrel.core.measure.strip import crossed, one_way, pulled_tight, unfolded
from pivrel.core.solve.nearest import place_on


@dataclass(frozen=True)
class Spot:
    """A place on a triangle of the surface, in mm."""

    point: Floats
    triangle: int


@dataclass(frozen=True)
class Tape:
    """Where a tape lies.

    points: (N, 3) mm, the corners of its way. triangles: (N - 1,) the one under each piece, -1 where it
    spans the air. over_surface: whether it lies on the surface all the way.
    """

    points: Floats
    triangles: Ints
    over_surface: bool

    @property
    def length_mm(self) -> float:
        return float(np.linalg.norm(np.diff(self.points, axis=0), axis=1).sum())


def neighbours(surface: Surface, edge_pairs: EdgePairs) -> Ints:
    """(T, 3) the triangle slot (3 t + k) across the edge from corner k to the next, or -1."""
    triangles, after = surface.triangles, surface.topology.next_corner
    start, end = triangles.reshape(-1), np.roll(triangles, -1, axis=1).reshape(-1)
    slots = np.arange(len(start))
    out = np.full(len(start), -1, np.int64)
    outer = after[start] == end
    slot_of = np.full(surface.mesh.corner_count, -1, np.int64)
    slot_of[start[outer]] = slots[outer]
    partner = np.full(surface.mesh.corner_count, -1, np.int64)
    partner[edge_pairs.near], partner[edge_pairs.far] = edge_pairs.far, edge_pairs.near
    across = np.where(partner >= 0, slot_of[partner], -1)
    out[outer] = across[start[outer]]
    # Diagonals within a face join the two triangles that share them.
    inner = slots[~outer]
    key = np.minimum(start, end)[inner].astype(np.int64) * surface.mesh.corner_count
    key += np.maximum(start, end)[inner]
    order = np.argsort(key, kind="stable")
    same = np.flatnonzero(key[order][1:] == key[order][:-1])
    one, other = inner[order[same]], inner[order[same + 1]]
    out[one], out[other] = other, one
    return out.reshape(-1, 3)


def spot_on(surface: Surface, face: int, point: Floats) -> Spot:
    """The place of a face that is nearest to a point."""
    own = np.flatnonzero(surface.triangle_face == face)
    if not len(own):
        raise ValueError(f"face {face} has no triangle")
    triangle, place = place_on(surface, own, np.asarray(point, float))
    return Spot(place, triangle)


def barycentric(corners: Floats, point: Floats) -> Floats:
    """(3,) the shares of a triangle's corners (3, 3) in a place of its plane."""
    u, v, w = corners[1] - corners[0], corners[2] - corners[0], point - corners[0]
    uu, uv, vv, wu, wv = u @ u, u @ v, v @ v, w @ u, w @ v
    det = uu * vv - uv * uv
    if det <= 1e-18 * max(uu, vv, 1e-300) ** 2:
        return np.array([1.0, 0.0, 0.0])
    b, c = (vv * wu - uv * wv) / det, (uu * wv - uv * wu) / det
    return np.array([1 - b - c, b, c])


def _over(surface: Surface, slots: Ints, a: Spot, b: Spot) -> Tape:
    """The tape that crosses the edges of some slots, pulled tight."""
    points, place = surface.mesh.points, surface.mesh.corners
    t, k = np.divmod(slots, 3)
    ends = np.stack([surface.triangles[t, (k + 1) % 3], surface.triangles[t, k]], axis=1)
    edges = one_way(points[place[ends]])
    share = pulled_tight(*unfolded(a.point, edges, b.point))
    way = edges[:, 0] + share[:, None] * (edges[:, 1] - edges[:, 0])
    under = np.append(t, b.triangle).astype(np.int32)
    return Tape(np.concatenate([a.point[None], way, b.point[None]]), under, True)


def lay_tape(surface: Surface, a: Spot, b: Spot, across: Ints | None = None) -> Tape:
    """The tape from one spot to another; straight through the air where the surface does not lead there.

    across: `neighbours` of the surface, where they are known.
    """
    straight = np.stack([a.point, b.point])
    if a.triangle == b.triangle:
        return Tape(straight, np.array([a.triangle], np.int32), True)
    across = neighbours(surface, surface.edge_pairs) if across is None else across
    unit = [surface.normals[surface.triangle_face[spot.triangle]] for spot in (a, b)]
    unit = [n / max(float(np.linalg.norm(n)), 1e-300) for n in unit]
    square = unit[0] + unit[1] if unit[0] @ unit[1] > -0.9 else unit[0]
    plane = np.cross(b.point - a.point, square)
    if np.linalg.norm(plane) < 1e-9 * max(float(np.linalg.norm(b.point - a.point)), 1e-300):
        plane = np.cross(b.point - a.point, np.eye(3)[np.argmin(np.abs(b.point - a.point))])
    found = []
    points, corners, triangles = surface.mesh.points, surface.mesh.corners, surface.triangles
    for k in range(3):
        p, q = (points[corners[triangles[a.triangle, (k + j) % 3]]] for j in (0, 1))
        if (((p - a.point) @ plane) >= 0) == (((q - a.point) @ plane) >= 0):
            continue
        first = 3 * a.triangle + k
        slots = crossed(points, corners, triangles, across.reshape(-1), a.point, plane, first, b.triangle)
        if len(slots):
            found.append(_over(surface, slots, a, b))
    if not found:
        return Tape(straight, np.array([-1], np.int32), False)
    return min(found, key=lambda tape: tape.length_mm)


def sheet_between(surface: Surface, tape: Tape, final: Floats) -> Floats:
    """(2,) mm of sheet, along and up, that lie under a tape; final: (C, 2) by corner id, NaN where bare.

    Counted piece by piece, so that a joint at an edge does not count.
    """
    total = np.zeros(2)
    for piece, t in enumerate(tape.triangles):
        if t < 0:
            continue
        own = surface.triangles[t]
        corners = surface.mesh.points[surface.mesh.corners[own]]
        a, b = (barycentric(corners, tape.points[piece + k]) @ final[own] for k in (0, 1))
        if np.isfinite(a).all() and np.isfinite(b).all():
            total += b - a
    return np.abs(total)
