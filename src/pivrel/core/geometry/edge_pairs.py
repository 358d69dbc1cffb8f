"""Where faces meet at edges as the eye sees it: which two border the same open space, and how wide it is."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.topology import Topology
from pivrel.core.geometry.vectors import unit_rows
from pivrel.core.kernels import kernel

GLUED = np.radians(1.0)
"""Faces that leave less open space between them than this lie on each other: nobody sees their edge."""

MOST_AT_AN_EDGE = 16


@dataclass(frozen=True)
class EdgePairs:
    """Edges at which two faces border the same open space.

    near: (E,) half-edge of one face, far: (E,) that of the other (corner ids, as in `Topology`).
    opposed: (E,) whether they run along the edge in opposite senses.
    opening: (E,) radians of open space between the faces: pi where they are flush, 3 pi / 2 at the
    outer edge of a box, pi / 2 in its inner corner, 0 where they lie on each other.
    length_mm: (E,).
    """

    near: Ints
    far: Ints
    opposed: Mask
    opening: Floats
    length_mm: Floats

    def only(self, keep: Mask) -> EdgePairs:
        """Only these of them."""
        return EdgePairs(
            self.near[keep], self.far[keep], self.opposed[keep], self.opening[keep], self.length_mm[keep]
        )


@kernel
def _opening(e: Floats, na: Floats, nb: Floats, opposed: bool) -> float:
    """The turn about the edge from face a, towards the side that it looks to, until face b.

    e: the direction of a's half-edge; na, nb: unit normals.
    """
    iax, iay, iaz = na[1] * e[2] - na[2] * e[1], na[2] * e[0] - na[0] * e[2], na[0] * e[1] - na[1] * e[0]
    sign = -1.0 if opposed else 1.0
    ibx = sign * (nb[1] * e[2] - nb[2] * e[1])
    iby = sign * (nb[2] * e[0] - nb[0] * e[2])
    ibz = sign * (nb[0] * e[1] - nb[1] * e[0])
    up = ibx * na[0] + iby * na[1] + ibz * na[2]
    along = ibx * iax + iby * iay + ibz * iaz
    turn = np.arctan2(up, along)
    # A hair behind the face itself is the face itself, and not a whole turn away.
    return turn if turn >= -1e-9 else turn + 2 * np.pi


@kernel
def _along(points: Floats, corners: Ints, after: Ints, half: int, e: Floats) -> float:
    """Writes the unit direction of a half-edge into e; its length in mm."""
    p, q = points[corners[half]], points[corners[after[half]]]
    mm = np.sqrt((q[0] - p[0]) ** 2 + (q[1] - p[1]) ** 2 + (q[2] - p[2]) ** 2)
    for k in range(3):
        e[k] = (q[k] - p[k]) / max(mm, 1e-300)
    return mm


@kernel
def _group_at(pairs: Ints, row: int, group: Ints) -> tuple[int, int]:
    """Writes the half-edges of the edge that begins at a row of pairs; how many they are, and the row after them."""
    # The faces of one edge are a chain of pairs.
    group[0], group[1] = pairs[row, 0], pairs[row, 1]
    size = 2
    row += 1
    while row < len(pairs) and pairs[row, 0] == group[size - 1] and size < MOST_AT_AN_EDGE:
        group[size] = pairs[row, 1]
        size += 1
        row += 1
    return size, row


@kernel
def _facing(
    group: Ints, size: int, i: int, face: Ints, corners: Ints, place: Ints, unit: Floats, e: Floats
) -> tuple[int, float]:
    """Which of the half-edges of an edge borders the same space as the one at i, or -1; and how wide that is."""
    a, best, at = group[i], np.inf, -1
    for j in range(size):
        if j == i:
            continue
        b = group[j]
        against = place[corners[a]] != place[corners[b]]
        turn = _opening(e, unit[face[a]], unit[face[b]], against)
        # Seen from b, the space must be the same: else b looks away from it.
        if turn < best and (against or size == 2):
            best, at = turn, j
    return at, best


@kernel
def _meet(
    pairs: Ints, face: Ints, after: Ints, corners: Ints, place: Ints, points: Floats, unit: Floats
) -> tuple[Ints, Ints, Mask, Floats, Floats]:
    count = len(pairs)
    near, far = np.empty(2 * count, np.int32), np.empty(2 * count, np.int32)
    opposed = np.empty(2 * count, np.bool_)
    opening, length = np.empty(2 * count), np.empty(2 * count)
    group, e = np.empty(MOST_AT_AN_EDGE, np.int32), np.empty(3)
    out = row = 0
    while row < count:
        size, row = _group_at(pairs, row, group)
        for i in range(size):
            a = group[i]
            mm = _along(points, corners, after, a, e)
            at, best = _facing(group, size, i, face, corners, place, unit, e)
            if at <= i:
                continue
            b = group[at]
            if size > 2:
                # The nearest one as seen from b has to be a.
                _along(points, corners, after, b, e)
                if _facing(group, size, at, face, corners, place, unit, e)[0] != i:
                    continue
            near[out], far[out] = a, b
            opposed[out] = place[corners[a]] != place[corners[b]]
            opening[out], length[out] = best, mm
            out += 1
    return (
        near[:out].copy(),
        far[:out].copy(),
        opposed[:out].copy(),
        opening[:out].copy(),
        length[:out].copy(),
    )


def find_edge_pairs(mesh: Mesh, topology: Topology, normals: Floats) -> EdgePairs:
    """Every edge of a mesh at which two faces border the same open space. normals: (F, 3) of any length.

    Of more than two faces at an edge, as where two mitred boards meet, those are paired that look
    into the same space: the outer sides with each other, and the two cuts with each other.
    """
    unit = unit_rows(normals)
    found = _meet(
        topology.pairs, topology.corner_face, topology.next_corner, mesh.corners, topology.place, mesh.points,
        unit,
    )  # fmt: skip
    return EdgePairs(*found)


def _looks() -> tuple[Floats, Floats]:
    """(N, 3) directions from which a model is looked at, evenly spread, and how often each."""
    count = 96
    k = np.arange(count) + 0.5
    z = 1 - 2 * k / count
    turn = np.pi * (1 + np.sqrt(5)) * k
    flat = np.sqrt(1 - z * z)
    directions = np.stack([flat * np.cos(turn), flat * np.sin(turn), z], axis=1)
    # Mostly from eye level and above; now and then from below, as a shelf over the eye is.
    often = np.where(z >= 0, 1.0, np.where(z > -0.5, 0.35, 0.05))
    return directions, often / often.sum()


LOOKS, OFTEN = _looks()


@kernel(parallel=True)
def _shares(normals: Floats, one: Ints, other: Ints, opening: Floats, looks: Floats, often: Floats) -> Floats:
    out = np.zeros(len(one))
    for e in prange(len(one)):
        if opening[e] < GLUED:
            continue
        a, b = normals[one[e]], normals[other[e]]
        # A face that is met edge-on is not seen.
        least_a = 0.02 * np.sqrt(a[0] ** 2 + a[1] ** 2 + a[2] ** 2)
        least_b = 0.02 * np.sqrt(b[0] ** 2 + b[1] ** 2 + b[2] ** 2)
        share = 0.0
        for k in range(len(looks)):
            x, y, z = looks[k, 0], looks[k, 1], looks[k, 2]
            if a[0] * x + a[1] * y + a[2] * z > least_a and b[0] * x + b[1] * y + b[2] * z > least_b:
                share += often[k]
        out[e] = share
    return out


def exposure(topology: Topology, normals: Floats, edge_pairs: EdgePairs) -> Floats:
    """(E,) how much each edge shows, 0 to 1: the share of views that see both of its faces.

    Views come from all sides, seldom from below. What stands in the way does not count; faces that
    lie on each other show nothing. normals: (F, 3) of any length.
    """
    face = topology.corner_face
    return _shares(normals, face[edge_pairs.near], face[edge_pairs.far], edge_pairs.opening, LOOKS, OFTEN)


def share_of_views(normals: Floats, one: Ints, other: Ints) -> Floats:
    """(E,) the share of views that see both of two faces, by their normals (N, 3), whatever stands in the way."""
    return _shares(normals, one, other, np.full(len(one), np.pi), LOOKS, OFTEN)
