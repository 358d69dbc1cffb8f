"""Faces as a revision compares them: by place, direction and area."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial import cKDTree

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface
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
    length = np.linalg.norm(surface.normals, axis=1, keepdims=True)
    off = mesh.points[mesh.corners] - np.repeat(surface.centroids, np.diff(mesh.face_start), axis=0)
    reach = np.maximum.reduceat(np.linalg.norm(off, axis=1), mesh.face_start[:-1])
    normal = surface.normals / np.where(length > 0, length, 1)
    ids = np.arange(mesh.face_count, dtype=np.int32)
    return Faces(ids, surface.centroids, normal, surface.face_areas, reach, mesh.face_part)


def same_faces(was: Faces, now: Faces, likely: Ints | None = None) -> Ints:
    """(K_new,) the row of the old face in the place of each new one, or -1 where none is the same.

    likely: (P_new,) old parts that are preferred for faces of each new part, where several lie there.
    """
    if not len(was.ids) or not len(now.ids):
        return np.full(len(now.ids), -1, np.int64)
    off, at = cKDTree(was.middle).query(now.middle, k=min(6, len(was.ids)))
    off, at = off.reshape(len(now.ids), -1), at.reshape(len(now.ids), -1)
    area = np.abs(was.area[at] - now.area[:, None]) <= SAME_AREA * np.maximum(now.area, 1e-9)[:, None]
    facing = np.einsum("ijk,ik->ij", was.normal[at], now.normal) >= np.cos(np.radians(SAME_DEG))
    same = (off <= SAME_MM) & area & facing
    rank = np.where(same, 1.0, 0.0)
    if likely is not None:
        rank += np.where(same & (was.part[at] == likely[now.part][:, None]), 1.0, 0.0)
    best = np.argmax(rank, axis=1)
    rows = np.arange(len(at))
    return np.where(same[rows, best], at[rows, best], -1)
