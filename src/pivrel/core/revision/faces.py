"""Faces as a revision compares them: by place, direction and area."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numba import prange
from scipy.spatial import cKDTree

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.same_rows import same_rows
from pivrel.core.geometry.surface import Surface
from pivrel.core.kernels import kernel
from pivrel.core.revision.near_cells import NearCells
from pivrel.core.revision.places import in_the_same_place
from pivrel.core.revision.whole import STILL, Motion

SAME_MM, SAME_DEG, SAME_AREA = 0.5, 0.5, 1e-3
"""A face is the same where its middle, its direction and its area (as a share) differ by less."""

SURE = 0.8
"""Faces matched with less confidence are doubtful: the artist is asked."""

KEPT, MOVED, RESHAPED, UNLIKELY = 1.0, 0.95, 0.9, 0.6
"""Confidence: the same face; the same after a move; another face that lies on the old surface; the likeliest
of its part, elsewhere."""


@dataclass(frozen=True)
class Match:
    """Old faces and parts for the new ones.

    face: (F_new,) int32 old face, -1 where there is none. confidence: (F_new,) 0 to 1.
    moved: (F_new,) bool. part: (P_new,) int32, the old part that most of a new one comes from, or -1.
    pure: (P_new,) bool, no other part is in it. shift_mm: (P_new, 3) of each part after the motion.
    motion: how the model as a whole has moved. left: (F_old,) the share of each old face's area that
    new faces stand for, 0 where none does.
    """

    face: Ints
    confidence: Floats
    moved: Mask
    part: Ints
    pure: Mask
    shift_mm: Floats
    motion: Motion
    left: Floats

    @property
    def sure(self) -> Mask:
        """(F_new,) faces that are matched without a question."""
        return (self.face >= 0) & (self.confidence >= SURE)

    @property
    def doubtful(self) -> Mask:
        return (self.face >= 0) & (self.confidence < SURE)


@dataclass(frozen=True)
class Faces:
    """Some faces of a model: ids, middles (K, 3), unit normals (K, 3), areas (K,) in mm², how far each
    reaches from its middle in mm, and the part (K,) of each."""

    ids: Ints
    middle: Floats
    normal: Floats
    area: Floats
    reach: Floats
    part: Ints

    @property
    def centre(self) -> Floats:
        """(3,) mm of their area as a whole."""
        return self.area @ self.middle / max(float(self.area.sum()), 1e-12)

    def centres(self, parts: int) -> Floats:
        """(parts, 3) mm, the same of each part."""
        area = np.maximum(np.bincount(self.part, self.area, parts), 1e-12)
        return np.stack(
            [np.bincount(self.part, self.area * self.middle[:, k], parts) / area for k in range(3)], axis=1
        )

    def only(self, rows: Ints) -> Faces:
        return Faces(*(values[rows] for values in vars(self).values()))

    def moved(self, motion: Motion) -> Faces:
        """The faces after a motion of the whole model."""
        if motion is STILL:
            return self
        return replace(
            self,
            middle=motion.places(self.middle),
            normal=motion.directions(self.normal),
            area=self.area * motion.scale**2,
            reach=self.reach * motion.scale,
        )

    def shifted(self, shift: Floats) -> Faces:
        return replace(self, middle=self.middle + shift)


def faces_of(surface: Surface) -> Faces:
    """All faces of a surface."""
    mesh = surface.mesh
    normal, reach = _shapes(mesh.points, mesh.corners, mesh.face_start, surface.normals, surface.centroids)
    ids = np.arange(mesh.face_count, dtype=np.int32)
    return Faces(ids, surface.centroids, normal, surface.face_areas, reach, mesh.face_part)


@kernel(parallel=True)
def _shapes(
    points: Floats, corners: Ints, face_start: Ints, normals: Floats, centroids: Floats
) -> tuple[Floats, Floats]:
    """(F, 3) unit normals, and (F,) how far each face reaches from its middle."""
    unit, reach = np.zeros((len(normals), 3)), np.zeros(len(normals))
    for f in prange(len(normals)):
        length = np.sqrt(normals[f, 0] ** 2 + normals[f, 1] ** 2 + normals[f, 2] ** 2)
        for k in range(3):
            unit[f, k] = normals[f, k] / length if length > 0.0 else 0.0
        for c in range(face_start[f], face_start[f + 1]):
            p = corners[c]
            x, y, z = (
                points[p, 0] - centroids[f, 0],
                points[p, 1] - centroids[f, 1],
                points[p, 2] - centroids[f, 2],
            )
            reach[f] = max(reach[f], np.sqrt(x * x + y * y + z * z))
    return unit, reach


def same_faces(was: Faces, now: Faces, likely: Ints | None = None) -> Ints:
    """(K_new,) the row of the old face in the place of each new one, or -1 where none is the same.

    likely: (P_new,) old parts that are preferred for faces of each new part, where several lie there.
    """
    if not len(was.ids) or not len(now.ids):
        return np.full(len(now.ids), -1, np.int64)
    preferred = np.full(len(now.ids), -1) if likely is None else likely[now.part]
    found = exactly_same(was, now, preferred)
    rest = np.flatnonzero(found < 0)
    if len(rest):
        found[rest] = nearby(was, now.only(rest), preferred[rest])
    return found


SAME_COSINE = float(np.cos(np.radians(SAME_DEG)))


def exactly_same(was: Faces, now: Faces, preferred: Ints) -> Ints:
    """(K_new,) as `same_faces`, for faces in the very place. preferred: (K_new,) the old part, where several lie there."""
    found: Ints = in_the_same_place(
        was.middle, was.normal, was.area, was.part, now.middle, now.normal, now.area, preferred, SAME_AREA, SAME_COSINE
    )  # fmt: skip
    return found


def nearby(was: Faces, now: Faces, preferred: Ints) -> Ints:
    """(K_new,) as `same_faces`, for faces that stand near where they stood. preferred: (K_new,) old parts."""
    out = np.full(len(now.ids), -1, np.int64)
    # Faces without area look nowhere, and of many in one place a few do: a tree cannot tell those apart.
    rows = np.flatnonzero(now.normal.any(axis=1))
    if not len(rows):
        return out
    near = NearCells(now.middle[rows], SAME_MM).touch(was.middle, was.middle)
    olds = np.flatnonzero(near & was.normal.any(axis=1))
    olds = olds[~_again(was.only(olds))]
    if not len(olds):
        return out
    was, count = was.only(olds), len(olds)
    tree = cKDTree(was.middle, balanced_tree=False, compact_nodes=False)
    # What is too far stands as the number of all; most have nothing near, and are done with.
    near = tree.query(now.middle[rows], distance_upper_bound=SAME_MM, workers=-1)[1] < count
    rows = rows[near]
    if not len(rows):
        return out
    now, most = now.only(rows), min(6, count)
    near = tree.query(now.middle, k=most, distance_upper_bound=SAME_MM, workers=-1)[1].reshape(-1, most)
    there = near < count
    at = np.where(there, near, 0)
    area = np.abs(was.area[at] - now.area[:, None]) <= SAME_AREA * np.maximum(now.area, 1e-9)[:, None]
    facing = np.einsum("ijk,ik->ij", was.normal[at], now.normal) >= SAME_COSINE
    same = there & area & facing
    rank = np.where(same, 1.0, 0.0) + np.where(same & (was.part[at] == preferred[rows, None]), 1.0, 0.0)
    best, each = np.argmax(rank, axis=1), np.arange(len(at))
    out[rows] = np.where(same[each, best], olds[at[each, best]], -1)
    return out


def _again(faces: Faces) -> Mask:
    """(K,) faces that lie as an earlier one of the same part does."""
    shape = np.column_stack([faces.middle, faces.normal, faces.area, faces.part]).astype(np.float32)
    out = np.ones(len(faces.ids), bool)
    out[same_rows(shape)[1]] = False
    return out
