"""Where each face's corners lie in an array of the corners of some faces alone."""

from __future__ import annotations

from typing import Any

import numpy as np

from pivrel.core.arrays import Ints
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.kernels import kernel


@kernel
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


@kernel
def gathered(values: Any, start: Ints, faces: Ints, rows: Ints) -> Any:
    """The values of some faces alone, face after face.

    start: where each face's values begin among all; rows: where they begin among those of these faces.
    """
    out = np.empty(rows[-1], values.dtype)
    for k in range(len(faces)):
        shift = start[faces[k]] - rows[k]
        for at in range(rows[k], rows[k + 1]):
            out[at] = values[at + shift]
    return out


@kernel
def scatter(values: Any, rows: Ints, own: Ints, out: Any) -> None:
    """Writes values (N, K) of some faces, face after face, to their places in those of all.

    own: the faces, as rows of `rows`, where each face's values begin among all.
    """
    at = 0
    for k in own:
        for row in range(rows[k], rows[k + 1]):
            out[row] = values[at]
            at += 1
