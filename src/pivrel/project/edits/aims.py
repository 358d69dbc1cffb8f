"""What a datum is fitted to, and places on the model, as edits state them."""

from __future__ import annotations

from typing import Literal

from pivrel.core.projection import Aim
from pivrel.recipe import DatumModel, Strict, Triple
from pivrel.recipe.typed import Length
from pivrel.recipe.values import FaceId


class AimModel(Strict):
    """What a datum is fitted to, as `core.projection.Aim` has it."""

    to: Literal["pick", "box", "face", "view", "axis"] = "pick"
    face: FaceId | None = None
    axis: Literal["+x", "-x", "+y", "-y", "+z", "-z"] = "+z"
    towards: Triple | None = None
    right: Triple | None = None
    along_edge: bool = False

    def to_core(self) -> Aim:
        """The aim as the core knows it."""
        return Aim(self.to, self.face, self.axis, self.towards, self.right, self.along_edge)


class TypedDatum(Strict):
    """A datum as typed."""

    origin_mm: tuple[Length, Length, Length]
    x_axis: Triple
    z_axis: Triple

    def to_model(self) -> DatumModel:
        """The datum as a recipe states it. ValidationError where its axes span nothing."""
        return DatumModel(origin_mm=self.origin_mm, x_axis=self.x_axis, z_axis=self.z_axis)


class OnFace(Strict):
    """A place on a face; the edge of the face that is nearest to it is meant."""

    face: FaceId
    place: Triple
