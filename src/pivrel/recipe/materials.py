"""Materials as a recipe, a project and the library state them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from pivrel.core.sheet import Joints, Material
from pivrel.materials.channels import Channel
from pivrel.recipe.values import Degrees, Name, Number, Pair, Positive, Strict, Text

Area = tuple[Number, Number, Number, Number]
"""A box on the sheet: least s and t, greatest s and t, in mm."""


class JointsModel(Strict):
    """Where a material's units meet: from joint to joint, how wide, where they cross, and the bond."""

    unit_mm: tuple[Positive | None, Positive | None]
    width_mm: Annotated[float, Field(ge=0, le=1e5)] = 0.0
    at_mm: Pair = (0.0, 0.0)
    bond: Annotated[float, Field(ge=0, lt=1)] = 0.0

    def to_core(self) -> Joints:
        return Joints(self.unit_mm, self.width_mm, self.at_mm, self.bond)


class SheetModel(Strict):
    """What of a material says how it may be laid; the same in a recipe, a project and the library."""

    name: Name
    repeat_mm: tuple[Positive, Positive]
    grain_deg: Degrees | None = 0.0
    joints: JointsModel | None = None
    half_turns: bool = False
    mirrors: bool = False
    avoid_mm: Annotated[tuple[Area, ...], Field(max_length=200)] = ()

    def to_core(self) -> Material:
        return Material(
            self.name,
            self.repeat_mm,
            self.grain_deg or 0.0,
            self.joints.to_core() if self.joints else None,
            self.half_turns,
            self.mirrors,
            self.avoid_mm,
        )


class MaterialModel(SheetModel):
    """A material of a recipe; images by channel, relative to the recipe.

    normal_y: where the green of the normal map points, "+" up the sheet or "-" down.
    """

    metallic: Annotated[float, Field(ge=0, le=1)] = 0.0
    normal_y: Literal["+", "-"] = "+"
    images: dict[Channel, Text] = Field(default={}, max_length=20)
