"""Planar: the sheet is pushed straight onto the model along the datum's z axis."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from pivrel.core.arrays import Floats, Ints, Precision
from pivrel.core.geometry.fits.frame import at_lowest_corner
from pivrel.core.geometry.fits.plane import served_share
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.phrases import percent
from pivrel.core.projection.affine import composed, lay_alike, lay_sides
from pivrel.core.projection.base import ClosedForm
from pivrel.core.projection.charts import Chart
from pivrel.core.projection.fitting import Aim, Fit, direction_of, x_axis_across

RULES = np.array(
    [
        [[1, 0, 0, 0], [0, 1, 0, 0]],  # s = px, t = py
        [[-1, 0, 0, 0], [0, 1, 0, 0]],  # the unmirrored back
    ],
    dtype=np.float64,
)


@dataclass(frozen=True)
class Planar(ClosedForm):
    """The datum's z axis points out of the surface, towards the viewer.

    backs: how faces that look away are laid: "through" mirrors them, "unmirrored" does not.
    """

    backs: Literal["through", "unmirrored"] = "through"
    kind: ClassVar[str] = "planar"

    def fit(self, surface: Surface, faces: Ints, aim: Aim) -> Fit:
        z = direction_of(surface, faces, aim)
        datum = at_lowest_corner(
            surface.points_of(faces), x_axis_across(surface, faces, aim, z), z, outermost=True
        )
        return Fit(datum, served_share(surface, faces, z))

    def lay(
        self, surface: Surface, faces: Ints, datum: Datum, sheet: Floats, dtype: Precision = np.float64
    ) -> Floats:
        """(K, 2) mm for the corners of `faces`; sheet (2, 3) from raw to final."""
        maps = composed(RULES, datum, sheet)
        if self.backs == "through":
            return lay_alike(surface.mesh, faces, maps[0], dtype)
        return lay_sides(surface.mesh, faces, self.sides(surface, faces, datum), maps, dtype)

    def sides(self, surface: Surface, faces: Ints, datum: Datum) -> Ints:
        """(len(faces),) int8 row of RULES for each face."""
        side = np.zeros(len(faces), np.int8)
        if self.backs == "unmirrored":
            side[surface.normals[faces] @ datum.axes[2] < 0] = 1
        return side

    def charts(self, bounds: Floats) -> list[Chart]:
        # On the datum's own plane: what is in front of it or behind is met straight through.
        return [Chart("flat")]

    def serves(self, found: Fit) -> tuple[float, str]:
        return found.share, f"its largest flat side is {percent(found.share)} of it"
