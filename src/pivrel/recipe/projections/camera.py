"""Camera as a recipe states it."""

from __future__ import annotations

from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import model_validator

from pivrel.core.projection import Camera, Projection
from pivrel.core.revision import Motion
from pivrel.recipe.projections.base import OptionsBase, ProjectionBase, moved_place
from pivrel.recipe.typed import Side
from pivrel.recipe.values import Positive, Triple


class CameraModel(ProjectionBase):
    """The sheet thrown onto the model from eye_mm towards target_mm.

    at_mm: the distance at which it has its size; None takes that of the middle of the picked faces.
    """

    core: ClassVar[type[Projection]] = Camera
    kind: Literal["camera"]
    eye_mm: Triple
    target_mm: Triple
    up: Triple = (0.0, 0.0, 1.0)
    at_mm: Positive | None = None

    @model_validator(mode="after")
    def _looks_somewhere(self) -> Self:
        _ = self.to_core().looking
        return self

    def to_core(self) -> Camera:
        return Camera(self.eye_mm, self.target_mm, self.up, self.at_mm)

    @classmethod
    def of(cls, projection: Projection) -> Self:
        assert isinstance(projection, Camera)
        return cls(
            kind="camera", eye_mm=projection.eye_mm, target_mm=projection.target_mm, up=projection.up, at_mm=projection.at_mm
        )  # fmt: skip

    def moved(self, motion: Motion) -> Self:
        x, y, z = motion.directions(np.array(self.up, float)).tolist()
        return self.model_copy(
            update={
                "eye_mm": moved_place(self.eye_mm, motion),
                "target_mm": moved_place(self.target_mm, motion),
                "up": (x, y, z),
                "at_mm": self.at_mm and self.at_mm * motion.scale,
            }
        )


class CameraOptions(OptionsBase):
    """Options of a camera; a distance of None is measured."""

    kind: Literal["camera"]
    eye_mm: Triple = (0.0, -5000.0, 1600.0)
    target_mm: Triple = (0.0, 0.0, 0.0)
    up: Triple = (0.0, 0.0, 1.0)
    at_mm: Side | None = None
