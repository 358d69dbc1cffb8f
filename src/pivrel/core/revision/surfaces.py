"""Faces that were cut anew: which face of the other model each place of them lies on."""

from __future__ import annotations

import numpy as np
from numba import prange
from scipy.spatial import cKDTree

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.same_rows import same_rows
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.vectors import unit_rows
from pivrel.core.kernels import kernel
from pivrel.core.revision.faces import SAME_MM
from pivrel.core.revision.near_cells import NearCells
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

FLUSH = 1 - 1e-6
"""Faces that look the same way to within this cosine lie flush: a plane is cut without a sagitta."""

INNER = np.array([[1 / 3, 1 / 3, 1 / 3], [0.7, 0.15, 0.15], [0.15, 0.7, 0.15], [0.15, 0.15, 0.7]])
"""Places within a triangle, by its corners, that stand for a quarter of its area each."""


class OtherSurface:
    """The triangles of one of two models, moved as a whole, to be asked what lies at places."""

    def __init__(self, surface: Surface, motion: Motion = STILL) -> None:
        self.face = surface.triangle_face
        self.faces = surface.mesh.face_count
        self._corners = motion.places(surface.mesh.points)[surface.mesh.corners[surface.triangles]]
        self._normal_of_face = unit_rows(motion.directions(surface.normals))
        self._area = surface.triangle_areas * motion.scale**2
        self.spacing = float(np.sqrt(max(self._area.sum(), 1e-12) / SAMPLES))

    def at(self, places: Floats, normals: Floats) -> Ints:
        """(N,) the face that lies at each place and looks the same way, or -1."""
        none = np.full(len(places), -1, np.int64)
        if not len(places):
            return none
        # A facet's allowance is a share of its size, so that its own box is near enough.
        near = NearCells(places, SAME_MM)
        own = np.flatnonzero(near.touch(self._corners.min(axis=1), self._corners.max(axis=1)))
        corners, face = self._corners[own], self.face[own]
        normal = self._normal_of_face[face]
        size = np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2).max(axis=1)
        count = np.clip(np.ceil(self._area[own] / self.spacing**2), 1, MOST_A_TRIANGLE).astype(np.int64)
        count[~_told_apart(corners, normal, size)] = 0
        of = np.repeat(np.arange(len(count)), count)
        if not len(of):
            return none
        u, v = _spread(count)
        a, b, c = (corners[of, k] for k in range(3))
        tree = cKDTree(self._key(a + u[:, None] * (b - a) + v[:, None] * (c - a), normal[of]))
        asked = self._key(places, normals)
        found = tree.query(asked, k=min(LOOKED_AT, len(of)), workers=-1)[1].reshape(len(places), -1)
        best = _lying(places, normals, of[found], corners, normal, size)
        return np.where(best >= 0, face[best], -1)

    def _key(self, places: Floats, normals: Floats) -> Floats:
        # Faces that look another way are far off: a thin board has two sides.
        return np.column_stack([places, 8 * self.spacing * normals])


def _told_apart(corners: Floats, normal: Floats, size: Floats) -> Mask:
    """(T,) the triangles that look anywhere, and of those that lie on each other the first."""
    out = np.zeros(len(corners), bool)
    looks = np.flatnonzero(normal.any(axis=1))
    shape = np.column_stack([corners[looks].mean(axis=1), normal[looks], size[looks]])
    out[looks[same_rows(shape.astype(np.float32))[1]]] = True
    return out


def _spread(count: Ints) -> tuple[Floats, Floats]:
    """Places spread evenly over triangles, `count` in each, by the plastic number's sequence (R2)."""
    k = np.arange(int(count.sum())) - np.repeat(np.cumsum(count) - count, count) + 0.5
    u, v = (k * 0.7548776662466927) % 1.0, (k * 0.5698402909980532) % 1.0
    over = u + v > 1
    return np.where(over, 1 - u, u), np.where(over, 1 - v, v)


@kernel(parallel=True)
def _lying(
    places: Floats, normals: Floats, near: Ints, corners: Floats, looking: Floats, size: Floats
) -> Ints:
    """(N,) the triangle that lies nearest to each place (N, 3) and looks its way (N, 3), or -1.

    near: (N, K) the triangles asked of each place. corners: (T, 3, 3), looking: (T, 3) and size: (T,) of all.
    """
    out = np.full(len(places), -1)
    for n in prange(len(places)):
        off = np.inf
        for k in range(near.shape[1]):
            t = near[n, k]
            facing = (
                looking[t, 0] * normals[n, 0] + looking[t, 1] * normals[n, 1] + looking[t, 2] * normals[n, 2]
            )
            if facing < ALIKE:
                continue
            distance = _distance(places[n], corners[t])
            allowed = SAME_MM if facing >= FLUSH else max(SAME_MM, SAGITTA * size[t])
            if distance <= allowed and distance < off:
                out[n], off = t, distance
            # What lies in the very place is found at once, mostly with the first.
            if off <= FLUSH_MM:
                break
    return out


@kernel
def _distance(place: Floats, corners: Floats) -> float:
    """From a place (3,) to a triangle (3, 3): the way to its plane where it lies over it, else to the nearest edge."""
    # Number by number: arrays of three would be taken from the heap each time.
    nx, ny, nz = _cross(
        corners[1, 0] - corners[0, 0], corners[1, 1] - corners[0, 1], corners[1, 2] - corners[0, 2],
        corners[2, 0] - corners[0, 0], corners[2, 1] - corners[0, 1], corners[2, 2] - corners[0, 2],
    )  # fmt: skip
    twice = np.sqrt(nx * nx + ny * ny + nz * nz)
    over, out = twice > 0, np.inf
    x = y = z = 0.0
    for k in range(3):
        q = (k + 1) % 3
        a, b, c = (
            corners[q, 0] - corners[k, 0],
            corners[q, 1] - corners[k, 1],
            corners[q, 2] - corners[k, 2],
        )
        x, y, z = place[0] - corners[k, 0], place[1] - corners[k, 1], place[2] - corners[k, 2]
        share = (x * a + y * b + z * c) / max(a * a + b * b + c * c, 1e-300)
        share = min(max(share, 0.0), 1.0)
        out = min(out, (x - share * a) ** 2 + (y - share * b) ** 2 + (z - share * c) ** 2)
        # Inside of every edge, as seen against the normal.
        sx, sy, sz = _cross(a, b, c, x, y, z)
        over = over and sx * nx + sy * ny + sz * nz >= 0
    if over:
        return float(abs(x * nx + y * ny + z * nz) / twice)
    return float(np.sqrt(out))


@kernel
def _cross(a: float, b: float, c: float, x: float, y: float, z: float) -> tuple[float, float, float]:
    return b * z - c * y, c * x - a * z, a * y - b * x


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
    others = other.faces
    pairs, which = np.unique(row[hit] * others + found[hit], return_inverse=True)
    held_by = np.bincount(which.reshape(-1), weights=weight[hit], minlength=len(pairs))
    # The greatest is written last.
    order = np.argsort(held_by, kind="stable")
    best[pairs[order] // others] = pairs[order] % others
    return best, lies / np.maximum(total, 1e-300)
