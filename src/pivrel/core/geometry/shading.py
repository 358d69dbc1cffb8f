"""Shading normals for models whose files give none."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Floats32, Ints
from pivrel.core.geometry.mesh import Mesh


def smooth_normals(mesh: Mesh, normals: Floats, place: Ints, patches: Ints) -> Floats32:
    """(C, 3) float32 unit normals, averaged by area over the faces of a patch that meet at a place.

    normals: (F, 3) area vectors. A corner of a face without area takes straight up.
    """
    corners_per_face = np.diff(mesh.face_start)
    face = np.repeat(np.arange(mesh.face_count), corners_per_face)
    key = place[mesh.corners].astype(np.int64) * (int(patches.max()) + 1) + patches[face]
    _, group = np.unique(key, return_inverse=True)
    total = np.stack([np.bincount(group, weights=normals[face, axis]) for axis in range(3)], axis=1)
    length = np.linalg.norm(total, axis=1, keepdims=True)
    unit = np.where(length > 0, total / np.where(length > 0, length, 1), (0.0, 0.0, 1.0))
    return unit[group].astype(np.float32)
