"""Box: six planar layings, each face by the side it looks to most."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np
from numba import njit, prange

from pivrel.core.arrays import Floats, Ints, Precision
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.projection.affine import composed, lay_sides

RULES = np.array(
    [
        [[0, 1, 0], [0, 0, 1]],  # +x
        [[0, -1, 0], [0, 0, 1]],  # -x
        [[-1, 0, 0], [0, 0, 1]],  # +y
        [[1, 0, 0], [0, 0, 1]],  # -y
        [[1, 0, 0], [0, 1, 0]],  # +z
        [[1, 0, 0], [0, -1, 0]],  # -z
    ],
    dtype=np.float64,
)

TIE = 1e-6
"""Components of the unit normal this close to the largest tie; x goes before y before z."""


@njit(cache=True, parallel=True)
def box_sides(normals: Floats, faces: Ints, axes: Floats) -> Ints:
    """(len(faces),) int8 row of RULES for each face; normals (F, 3) of any length."""
    side = np.empty(len(faces), np.int8)
    for k in prange(len(faces)):
        f = faces[k]
        u, v, w = normals[f, 0], normals[f, 1], normals[f, 2]
        x = axes[0, 0] * u + axes[0, 1] * v + axes[0, 2] * w
        y = axes[1, 0] * u + axes[1, 1] * v + axes[1, 2] * w
        z = axes[2, 0] * u + axes[2, 1] * v + axes[2, 2] * w
        largest = max(abs(x), abs(y), abs(z))
        least = largest
        if min(largest - abs(x), largest - abs(y)) <= 2 * TIE * largest:
            # Only near a tie does the exact length matter; far from one its root is not worth taking.
            least -= TIE * np.sqrt(x * x + y * y + z * z)
        if abs(x) >= least:
            side[k] = 0 if x >= 0 else 1
        elif abs(y) >= least:
            side[k] = 2 if y >= 0 else 3
        else:
            side[k] = 4 if z >= 0 else 5
    return side


@dataclass(frozen=True)
class Box:
    """corners "separate": every side measures from the datum's origin on its own."""

    corners: Literal["separate"] = "separate"
    kind: ClassVar[str] = "box"

    def lay(
        self,
        mesh: Mesh,
        normals: Floats,
        faces: Ints,
        datum: Datum,
        sheet: Floats,
        dtype: Precision = np.float64,
    ) -> Floats:
        """(K, 2) mm for the corners of `faces`; normals (F, 3) in model axes, sheet (2, 3)."""
        side = box_sides(normals, faces, datum.axes)
        return lay_sides(mesh, faces, side, composed(RULES, datum, sheet), dtype)
