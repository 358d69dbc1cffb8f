"""Faces that were cut anew: which face of the other model each place of them lies on."""

from __future__ import annotations

import numpy as np
from scipy.spatial import cKDTree

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.same_rows import same_rows
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.vectors import unit_rows
from pivrel.core.revision.faces import SAME_MM
from pivrel.core.revision.whole import STILL, Motion

SAMPLES = 120_000
"""Places spread over a surface by which its triangles are found."""

MOST_A_TRIANGLE = 600

LOOKED_AT = 10
"""Triangles near a place whose distance is measured."""

ALIKE = np.cos(np.radians(15.0))
"""Facets of one curved surface, cut anew, look the same way to within this cosine."""

SAGITTA = 0.05
"""How far a chord may lie off the surface that both cuttings follow, as a share of the facet's size."""

SMALL = 4.0
FLUSH_MM = 1e-3

INNER = np.array([[1 / 3, 1 / 3, 1 / 3], [0.7, 0.15, 0.15], [0.15, 0.7, 0.15], [0.15, 0.15, 0.7]])
"""Places within a triangle, by its corners, that stand for a quarter of its area each."""


class OtherSurface:
    """The triangles of one of two models, moved as a whole, to be asked what lies at a place."""

    def __init__(self, surface: Surface, motion: Motion = STILL) -> None:
        places = motion.places(surface.mesh.points)
        self.corners = places[surface.mesh.corners[surface.triangles]]
        self.face = surface.triangle_face
        normal = motion.directions(surface.normals)
        self.normal_of_face = unit_rows(normal)
        self.normal = self.normal_of_face[self.face]
        edges = self.corners - np.roll(self.corners, 1, axis=1)
        self.size = np.linalg.norm(edges, axis=2).max(axis=1)
        area = surface.triangle_areas * motion.scale**2
        self.spacing = float(np.sqrt(max(area.sum(), 1e-12) / SAMPLES))
        count = np.clip(np.ceil(area / self.spacing**2), 1, MOST_A_TRIANGLE).astype(np.int64)
        count[~self._told_apart()] = 0
        self.of = np.repeat(np.arange(len(count)), count)
        u, v = _spread(count)
        a, b, c = (self.corners[self.of, k] for k in range(3))
        self.tree = cKDTree(self._key(a + u[:, None] * (b - a) + v[:, None] * (c - a), self.normal[self.of]))

    def _told_apart(self) -> Mask:
        """(T,) the triangles that look anywhere, and of those that lie on each other the first."""
        out = np.zeros(len(self.face), bool)
        looks = np.flatnonzero(self.normal.any(axis=1))
        shape = np.column_stack([self.corners[looks].mean(axis=1), self.normal[looks], self.size[looks]])
        out[looks[same_rows(shape.astype(np.float32))[1]]] = True
        return out

    def _key(self, places: Floats, normals: Floats) -> Floats:
        # Faces that look another way are far off: a thin board has two sides.
        return np.column_stack([places, 8 * self.spacing * normals])

    def at(self, places: Floats, normals: Floats) -> Ints:
        """(N,) the face that lies at each place and looks the same way, or -1."""
        if not len(places) or not len(self.of):
            return np.full(len(places), -1, np.int64)
        near = self.tree.query(self._key(places, normals), k=min(LOOKED_AT, len(self.of)), workers=-1)[
            1
        ].reshape(len(places), -1)
        triangle = self.of[near]
        best, off = np.full(len(places), -1), np.full(len(places), np.inf)
        for k in range(triangle.shape[1]):
            # What lies in the very place is found at once, mostly with the first.
            rest = np.flatnonzero(off > FLUSH_MM)
            own = triangle[rest, k]
            facing = (self.normal[own] * normals[rest]).sum(axis=1)
            rest, own, facing = (v[facing >= ALIKE] for v in (rest, own, facing))
            distance = _distance(places[rest], self.corners[own])
            flush = facing >= 1 - 1e-6
            allowed = np.where(flush, SAME_MM, np.maximum(SAME_MM, SAGITTA * self.size[own]))
            better = (distance <= allowed) & (distance < off[rest])
            best[rest[better]], off[rest[better]] = own[better], distance[better]
        return np.where(best >= 0, self.face[best], -1)


def _spread(count: Ints) -> tuple[Floats, Floats]:
    """Places spread evenly over triangles, `count` in each, by the plastic number's sequence (R2)."""
    k = np.arange(int(count.sum())) - np.repeat(np.cumsum(count) - count, count) + 0.5
    u, v = (k * 0.7548776662466927) % 1.0, (k * 0.5698402909980532) % 1.0
    over = u + v > 1
    return np.where(over, 1 - u, u), np.where(over, 1 - v, v)


def _distance(places: Floats, corners: Floats) -> Floats:
    """(N,) from places (N, 3) to triangles (N, 3, 3), by the region that each place projects to
    (C. Ericson, "Real-Time Collision Detection", 2005, section 5.1.5)."""
    a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
    ab, ac, ap = b - a, c - a, places - a
    d1, d2 = (ab * ap).sum(axis=1), (ac * ap).sum(axis=1)
    bp, cp = places - b, places - c
    d3, d4 = (ab * bp).sum(axis=1), (ac * bp).sum(axis=1)
    d5, d6 = (ab * cp).sum(axis=1), (ac * cp).sum(axis=1)
    va, vb, vc = d3 * d6 - d5 * d4, d5 * d2 - d1 * d6, d1 * d4 - d3 * d2
    inside = np.maximum(va + vb + vc, 1e-300)
    near = a + ab * (vb / inside)[:, None] + ac * (vc / inside)[:, None]
    out = np.where((va >= 0) & (vb >= 0) & (vc >= 0), np.linalg.norm(places - near, axis=1), np.inf)
    for p, q in ((a, b), (b, c), (c, a)):
        along = q - p
        share = ((places - p) * along).sum(axis=1) / np.maximum((along**2).sum(axis=1), 1e-300)
        on_edge = p + np.clip(share, 0, 1)[:, None] * along
        out = np.minimum(out, np.linalg.norm(places - on_edge, axis=1))
    return out


def faces_under(
    other: OtherSurface, surface: Surface, faces: Ints, shift: Floats, motion: Motion = STILL
) -> tuple[Ints, Floats]:
    """(K,) the other model's face that most of each face lies on, or -1, and the share of it that lies on any.

    faces: (K,) int32, ascending. motion, and then shift (K, 3), bring them to where the other surface is.
    """
    held = np.flatnonzero(surface.held(faces)[surface.triangle_face])
    row = np.searchsorted(faces, surface.triangle_face[held])
    # A triangle no larger than what tells the other surface's triangles apart is told by its middle.
    area = surface.triangle_areas[held]
    large = area * motion.scale**2 > SMALL * other.spacing**2
    more = len(INNER) - 1
    share = np.where(large, 1 / len(INNER), 1.0)
    weight = np.concatenate([area * share, np.repeat((area * share)[large], more)])
    at_place = np.concatenate(
        [np.zeros(len(area), np.int64), np.tile(np.arange(1, len(INNER)), int(large.sum()))]
    )
    held = np.concatenate([held, np.repeat(held[large], more)])
    row = np.concatenate([row, np.repeat(row[large], more)])
    corners = surface.mesh.points[surface.mesh.corners[surface.triangles[held]]]
    places = motion.places(np.einsum("tk,tkj->tj", INNER[at_place], corners)) + shift[row]
    normals = unit_rows(motion.directions(surface.normals[surface.triangle_face[held]]))
    found = other.at(places, normals)
    hit = found >= 0
    total = np.bincount(row, weights=weight, minlength=len(faces))
    lies = np.bincount(row[hit], weights=weight[hit], minlength=len(faces))
    best = np.full(len(faces), -1, np.int64)
    # One number a pair: rows come first, so that pairs keep the order of the faces.
    others = len(other.normal_of_face)
    pairs, which = np.unique(row[hit] * others + found[hit], return_inverse=True)
    held_by = np.bincount(which.reshape(-1), weights=weight[hit], minlength=len(pairs))
    # The greatest is written last.
    order = np.argsort(held_by, kind="stable")
    best[pairs[order] // others] = pairs[order] % others
    return best, lies / np.maximum(total, 1e-300)
