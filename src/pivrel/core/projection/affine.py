"""Laying by one affine rule a side: the kernel that planar and box share."""

from __future__ import annotations

import numpy as np
from numba import njit, prange

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.mesh import Mesh


def composed(rules: Floats, datum: Datum, sheet: Floats) -> Floats:
    """(S, 2, 4) maps from model coordinates straight to final (s', t').

    rules: (S, 2, 3), raw (s, t) from datum coordinates, a rule a side. sheet: (2, 3).
    """
    raw = rules @ datum.to_datum
    maps: Floats = sheet[:, :2] @ raw
    maps[:, :, 3] += sheet[:, 2]
    return maps


@njit(cache=True, parallel=True)
def _lay(
    points: Floats, corners: Ints, face_start: Ints, faces: Ints, row: Ints, side: Ints, maps: Floats
) -> Floats:
    out = np.empty((row[-1], 2))
    for k in prange(len(faces)):
        f = faces[k]
        m = maps[side[k]]
        first = face_start[f]
        for i in range(face_start[f + 1] - first):
            p = corners[first + i]
            x, y, z = points[p, 0], points[p, 1], points[p, 2]
            at = row[k] + i
            out[at, 0] = m[0, 0] * x + m[0, 1] * y + m[0, 2] * z + m[0, 3]
            out[at, 1] = m[1, 0] * x + m[1, 1] * y + m[1, 2] * z + m[1, 3]
    return out


def corner_rows(mesh: Mesh, faces: Ints) -> Ints:
    """(len(faces) + 1,) where each face's corners begin when only these faces are laid."""
    row = np.zeros(len(faces) + 1, np.int64)
    np.cumsum(mesh.face_start[faces + 1] - mesh.face_start[faces], out=row[1:])
    return row


def lay_sides(mesh: Mesh, faces: Ints, side: Ints, maps: Floats) -> Floats:
    """(K, 2) mm for the corners of `faces`, face after face.

    side: (len(faces),) int8 into maps (S, 2, 4).
    """
    return _lay(mesh.points, mesh.corners, mesh.face_start, faces, corner_rows(mesh, faces), side, maps)
