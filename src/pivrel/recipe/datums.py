"""Datums as a recipe states them."""

from __future__ import annotations

import numpy as np
from pydantic import model_validator

from pivrel.core.geometry.frames import Datum, FrameError
from pivrel.core.revision import Motion
from pivrel.recipe.values import Strict, Triple


class DatumModel(Strict):
    """Origin and axes in the model's own coordinates."""

    origin_mm: Triple = (0.0, 0.0, 0.0)
    x_axis: Triple = (1.0, 0.0, 0.0)
    z_axis: Triple = (0.0, 0.0, 1.0)

    @model_validator(mode="after")
    def _spans(self) -> DatumModel:
        try:
            _ = self.to_core().axes
        except FrameError as error:
            raise ValueError(str(error)) from None
        return self

    def moved(self, motion: Motion) -> DatumModel:
        """The same on a model that was moved or is larger."""
        x, z = motion.directions(np.array([self.x_axis, self.z_axis], float)).tolist()
        origin = motion.places(np.array(self.origin_mm, float)).tolist()
        return DatumModel(origin_mm=tuple(origin), x_axis=tuple(x), z_axis=tuple(z))

    def to_core(self) -> Datum:
        return Datum(self.origin_mm, self.x_axis, self.z_axis)

    @classmethod
    def of(cls, datum: Datum) -> DatumModel:
        """The model of a core datum."""
        return cls(origin_mm=datum.origin_mm, x_axis=datum.x_axis, z_axis=datum.z_axis)
