"""Laying by one affine rule a side: the kernel that planar and box share."""

from __future__ import annotations

import numpy as np
from numba import prange, uintp

from pivrel.core.arrays import Floats, Ints, Precision
from pivrel.core.geometry.corner_rows import corner_rows
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.kernels import kernel


def composed(rules: Floats, datum: Datum, sheet: Floats) -> Floats:
    """(S, 2, 4) maps from model coordinates straight to final (s', t').

    rules: (S, 2, 4), raw (s, t) from datum coordinates (px, py, pz, 1), a rule a side. sheet: (2, 3).
    """
    raw = rules[:, :, :3] @ datum.to_datum
    raw[:, :, 3] += rules[:, :, 3]
    maps: Floats = sheet[:, :2] @ raw
    maps[:, :, 3] += sheet[:, 2]
    return maps


@kernel(parallel=True)
def _lay(
    points: Floats,
    corners: Ints,
    face_start: Ints,
    faces: Ints,
    row: Ints,
    side: Ints,
    maps: Floats,
    out: Floats,
) -> None:
    for k in prange(len(faces)):
        # Named one by one, the coefficients stay in registers over the face's corners. Indices without
        # a sign spare numba the question whether they count from the end; that halves the time.
        m = uintp(side[k])
        a, b, c, d = maps[m, 0, 0], maps[m, 0, 1], maps[m, 0, 2], maps[m, 0, 3]
        e, f, g, h = maps[m, 1, 0], maps[m, 1, 1], maps[m, 1, 2], maps[m, 1, 3]
        face = uintp(faces[k])
        at, first, last = uintp(row[k]), uintp(face_start[face]), uintp(face_start[face + uintp(1)])
        for i in range(last - first):
            p, to = uintp(corners[first + uintp(i)]), at + uintp(i)
            x, y, z = points[p, 0], points[p, 1], points[p, 2]
            out[to, 0] = a * x + b * y + c * z + d
            out[to, 1] = e * x + f * y + g * z + h


@kernel(parallel=True)
def _lay_every_corner(points: Floats, corners: Ints, m: Floats, out: Floats) -> None:
    a, b, c, d = m[0, 0], m[0, 1], m[0, 2], m[0, 3]
    e, f, g, h = m[1, 0], m[1, 1], m[1, 2], m[1, 3]
    for corner in prange(len(corners)):
        p, to = uintp(corners[corner]), uintp(corner)
        x, y, z = points[p, 0], points[p, 1], points[p, 2]
        out[to, 0] = a * x + b * y + c * z + d
        out[to, 1] = e * x + f * y + g * z + h


def lay_alike(mesh: Mesh, faces: Ints, one_map: Floats, dtype: Precision) -> Floats:
    """As `lay_sides`, by one map (2, 4) for all of the faces."""
    if len(faces) < mesh.face_count:
        return lay_sides(mesh, faces, np.zeros(len(faces), np.int8), one_map[None], dtype)
    out = np.empty((mesh.corner_count, 2), dtype)
    _lay_every_corner(mesh.points, mesh.corners, one_map, out)
    return out


def lay_sides(mesh: Mesh, faces: Ints, side: Ints, maps: Floats, dtype: Precision) -> Floats:
    """(K, 2) mm for the corners of `faces` (int32, ascending), face after face.

    side: (len(faces),) int8 into maps (S, 2, 4). dtype: float32 rounds the float64 results.
    """
    rows = corner_rows(mesh, faces)
    # Allocated by numpy, which asks for huge pages: page faults would cost more than the laying.
    out = np.empty((int(rows[-1]), 2), dtype)
    _lay(mesh.points, mesh.corners, mesh.face_start, faces, rows, side, maps, out)
    return out
