"""Where each face's corners lie in an array of the corners of some faces alone."""

from __future__ import annotations

import numpy as np
from numba import njit

from pivrel.core.arrays import Ints
from pivrel.core.geometry.mesh import Mesh


@njit(cache=True)
def _rows(face_start: Ints, faces: Ints) -> Ints:
    row = np.empty(len(faces) + 1, np.int32)
    row[0] = 0
    for k in range(len(faces)):
        row[k + 1] = row[k] + face_start[faces[k] + 1] - face_start[faces[k]]
    return row


def corner_rows(mesh: Mesh, faces: Ints) -> Ints:
    """(len(faces) + 1,) where each face's corners begin when only these faces (ascending) are laid."""
    rows: Ints = mesh.face_start if len(faces) == mesh.face_count else _rows(mesh.face_start, faces)
    return rows
