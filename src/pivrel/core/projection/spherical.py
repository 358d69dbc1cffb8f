"""Spherical: longitude and latitude about the datum's origin."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar

import numpy as np

from pivrel.core.arrays import Floats, Ints, Precision
from pivrel.core.geometry.fits.exact import exact_radius, exact_sphere
from pivrel.core.geometry.fits.frame import UP, datum_at
from pivrel.core.geometry.fits.round_shape import fit_sphere
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.projection.base import ClosedForm
from pivrel.core.projection.charts import Chart
from pivrel.core.projection.fitting import Aim, Fit, away_from_seam, direction_of
from pivrel.core.projection.turned import SPHERICAL, lay_turned, mean_radius


@dataclass(frozen=True)
class Spherical(ClosedForm):
    """s = R atan2(py, px), t = R asin(pz / r); the seam is on the datum's -x side.

    radius_mm: R, or None to take the exact surface's where the file states one, and else to measure it:
    the mean distance of the faces from the centre.
    """

    radius_mm: float | None = None
    kind: ClassVar[str] = "spherical"
    is_round: ClassVar[bool] = True

    def fit(self, surface: Surface, faces: Ints, aim: Aim) -> Fit:
        found = exact_sphere(surface, faces) or fit_sphere(surface, faces)
        z = UP if aim.to in ("pick", "box") else direction_of(surface, faces, aim)
        x = away_from_seam(surface, faces, found.centre, z, aim)
        return Fit(datum_at(found.centre, x, z), found.share, found.residual_mm, found.radius_mm)

    def settled(
        self, surface: Surface, faces: Ints, datum: Datum, repeat_mm: tuple[float, float]
    ) -> Spherical:
        """With the radius measured off the faces."""
        if self.radius_mm is not None:
            return self
        radius = exact_radius(surface, faces, datum, "sphere")
        radius = radius or mean_radius(surface, faces, datum, None, from_centre=True)
        return replace(self, radius_mm=radius)

    def lay(
        self, surface: Surface, faces: Ints, datum: Datum, sheet: Floats, dtype: Precision = np.float64
    ) -> Floats:
        """(K, 2) mm for the corners of `faces`; sheet (2, 3) from raw to final."""
        assert self.radius_mm is not None, "settled first"
        radius = self.radius_mm
        return lay_turned(surface, faces, datum, sheet, SPHERICAL, radius, radius, None, dtype)

    def charts(self, bounds: Floats) -> list[Chart]:
        assert self.radius_mm is not None, "settled first"
        return [Chart("sphere", radius_mm=self.radius_mm, along_mm=self.radius_mm)]
