"""Planar: the sheet is pushed straight onto the model along the datum's z axis."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from pivrel.core.arrays import Floats, Ints, Precision
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.projection.affine import composed, lay_sides

RULES = np.array(
    [
        [[1, 0, 0, 0], [0, 1, 0, 0]],  # s = px, t = py
        [[-1, 0, 0, 0], [0, 1, 0, 0]],  # the unmirrored back
    ],
    dtype=np.float64,
)


@dataclass(frozen=True)
class Planar:
    """The datum's z axis points out of the surface, towards the viewer.

    backs: how faces that look away are laid: "through" mirrors them, "unmirrored" does not.
    """

    backs: Literal["through", "unmirrored"] = "through"
    kind: ClassVar[str] = "planar"

    def settled(self, surface: Surface, faces: Ints, datum: Datum, repeat_mm: tuple[float, float]) -> Planar:
        """Itself: nothing of it is measured off the model."""
        return self

    def lay(
        self, surface: Surface, faces: Ints, datum: Datum, sheet: Floats, dtype: Precision = np.float64
    ) -> Floats:
        """(K, 2) mm for the corners of `faces`; sheet (2, 3) from raw to final."""
        side = self.sides(surface, faces, datum)
        return lay_sides(surface.mesh, faces, side, composed(RULES, datum, sheet), dtype)

    def sides(self, surface: Surface, faces: Ints, datum: Datum) -> Ints:
        """(len(faces),) int8 row of RULES for each face."""
        side = np.zeros(len(faces), np.int8)
        if self.backs == "unmirrored":
            side[surface.normals[faces] @ datum.axes[2] < 0] = 1
        return side
