"""Cylindrical: the sheet is rolled round the datum's z axis."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar

import numpy as np

from pivrel.core.arrays import Floats, Ints, Precision
from pivrel.core.geometry.fits.exact import exact_radius
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.projection.turned import CYLINDRICAL, cap_sides, lay_turned, mean_radius


@dataclass(frozen=True)
class Cylindrical:
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
    def _caps(self) -> float | None:
        return self.cap_angle_deg if self.caps else None
