"""Cylindrical: the sheet is rolled round the datum's z axis."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar

import numpy as np

from pivrel.core.arrays import Floats, Ints, Precision
from pivrel.core.geometry.fits.exact import exact_radius, exact_round
from pivrel.core.geometry.fits.frame import datum_at, made_upright
from pivrel.core.geometry.fits.round_shape import fit_round
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.phrases import percent
from pivrel.core.projection.base import ClosedForm
from pivrel.core.projection.charts import Chart
from pivrel.core.projection.fitting import Aim, Fit, FitError, away_from_seam, direction_of
from pivrel.core.projection.turned import CYLINDRICAL, cap_sides, lay_turned, mean_radius


@dataclass(frozen=True)
class Cylindrical(ClosedForm):
    """s = R a, t = pz, with a the angle round the axis; the seam is on the datum's -x side.

    radius_mm: R, or None to take the exact surface's where the file states one, and else to measure it.
    caps: faces within cap_angle_deg of looking along the axis are laid flat, as a box's top and bottom.
    whole_repeats: s is multiplied by the `closing` that makes the circumference a whole number of
    repeats; `settled` sets it.
    """

    radius_mm: float | None = None
    caps: bool = True
    cap_angle_deg: float = 45.0
    whole_repeats: bool = False
    closing: float = 1.0
    kind: ClassVar[str] = "cylindrical"
    is_round: ClassVar[bool] = True

    def fit(self, surface: Surface, faces: Ints, aim: Aim) -> Fit:
        if aim.to == "box":
            raise FitError("a cylinder has no tightest box; fit it to the pick")
        given = None if aim.to == "pick" else direction_of(surface, faces, aim)
        found = (None if given is not None else exact_round(surface, faces)) or fit_round(
            surface, faces, given
        )
        z = made_upright(found.axis) if aim.to == "pick" else found.axis
        low = float((surface.points_of(faces) @ z).min())
        origin = found.point + (low - found.point @ z) * z
        x = away_from_seam(surface, faces, origin, z, aim)
        return Fit(
            datum_at(origin, x, z), found.share, found.residual_mm, found.radius_mm, abs(found.half_angle_deg)
        )

    def settled(
        self, surface: Surface, faces: Ints, datum: Datum, repeat_mm: tuple[float, float]
    ) -> Cylindrical:
        """With the radius and the closing factor measured off the faces."""
        radius = self.radius_mm or exact_radius(surface, faces, datum, "cylinder")
        radius = radius or mean_radius(surface, faces, datum, self._caps, from_centre=False)
        around = 2 * np.pi * radius
        closing = max(1, round(around / repeat_mm[0])) * repeat_mm[0] / around if self.whole_repeats else 1.0
        return replace(self, radius_mm=radius, closing=float(closing))

    def lay(
        self, surface: Surface, faces: Ints, datum: Datum, sheet: Floats, dtype: Precision = np.float64
    ) -> Floats:
        """(K, 2) mm for the corners of `faces`; sheet (2, 3) from raw to final."""
        assert self.radius_mm is not None, "settled first"
        along = self.radius_mm * self.closing
        return lay_turned(surface, faces, datum, sheet, CYLINDRICAL, along, 1.0, self._caps, dtype)

    def sides(self, surface: Surface, faces: Ints, datum: Datum) -> Ints:
        """(len(faces),) int8: 1 and 2 for the caps that look along the axis and against it, else 0."""
        return cap_sides(surface.normals[faces], datum, self._caps)

    @property
    def closes(self) -> bool:
        return self.whole_repeats

    def closings(self) -> tuple[float, ...]:
        return (self.closing,)

    def charts(self, bounds: Floats) -> list[Chart]:
        assert self.radius_mm is not None, "settled first"
        return [Chart("cylinder", radius_mm=self.radius_mm, along_mm=self.radius_mm * self.closing)]

    def serves(self, found: Fit) -> tuple[float, str] | None:
        if found.share <= 0.3 or found.radius_mm is None:
            return None
        return found.share, f"{percent(found.share)} lies on one {_shape(found)}"

    def caveat(self, found: Fit) -> str | None:
        if not 0.3 < found.share < 0.995:
            return None
        return f"rolled round the {percent(found.share)} that lie on one {_shape(found)}"

    @property
    def _caps(self) -> float | None:
        return self.cap_angle_deg if self.caps else None


def _shape(found: Fit) -> str:
    return "cone" if found.half_angle_deg > 1 else "cylinder"
