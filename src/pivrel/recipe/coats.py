"""Coats as a recipe states them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from pivrel.core.coats.coat import Coat
from pivrel.core.coats.joining import Joins
from pivrel.core.coats.masks.mask import EVERYWHERE
from pivrel.core.coats.tones import Color, Spread, SpreadBy, Tone, TonedFaces
from pivrel.core.revision import Motion
from pivrel.core.sheet import Material
from pivrel.materials import srgb
from pivrel.recipe.masks import MaskModel
from pivrel.recipe.picks import PickModel
from pivrel.recipe.sheets_over import Seed, SheetOverBase
from pivrel.recipe.values import Key, Name, Strict

Unit = Annotated[float, Field(ge=0, le=1)]

HexColor = Annotated[str, Field(max_length=7, pattern=r"^#[0-9a-fA-F]{6}$")]
"""Red, green and blue as images hold them: #rrggbb."""


def linear_color(color: str) -> Color:
    """The light of a color as images hold it."""
    coded = np.array([int(color[k : k + 2], 16) / 255 for k in (1, 3, 5)])
    red, green, blue = srgb.decoded(coded).tolist()
    return red, green, blue


Times = Annotated[float, Field(ge=0, le=10)]


class ToneBase(Strict):
    """How something looks beside its images: a tint, and by how much it is lighter, rougher, and its bumps stronger."""

    tint: HexColor | None = None
    lightness: Times = 1.0
    roughness: Times = 1.0
    bump: Times = 1.0

    @property
    def core_tone(self) -> Tone:
        """The tone as the core knows it."""
        return Tone(linear_color(self.tint) if self.tint else None, self.lightness, self.roughness, self.bump)


class TonedModel(ToneBase):
    """Faces of a finish that look otherwise than the rest."""

    pick: PickModel

    def to_core(self) -> TonedFaces:
        return TonedFaces(self.pick.to_core(), self.core_tone)


class SpreadModel(Strict):
    """How much lighter or darker each part, board, unit of the material or random cell may be, as a share."""

    by: SpreadBy = "part"
    lightness: Unit = 0.06
    seed: Seed = 1

    def to_core(self) -> Spread:
        return Spread(self.by, self.lightness, self.seed)


class JoinsModel(Strict):
    """How each channel of a coat joins what lies beneath; None for the default of the channel.

    Everything mixes, but for normal and height where the base color multiplies: those are added.
    """

    base_color: Literal["mix", "multiply", "none"] = "mix"
    normal: Literal["mix", "add", "none"] | None = None
    roughness: Literal["mix", "multiply", "none"] = "mix"
    metallic: Literal["mix", "multiply", "none"] = "mix"
    height: Literal["mix", "add", "none"] | None = None
    occlusion: Literal["mix", "multiply", "none"] = "mix"

    def to_core(self) -> Joins:
        usual: Literal["mix", "add"] = "add" if self.base_color == "multiply" else "mix"
        return Joins(
            base_color=self.base_color,
            normal=self.normal or usual,
            roughness=self.roughness,
            metallic=self.metallic,
            height=self.height or usual,
            occlusion=self.occlusion,
        )


class CoatModel(SheetOverBase):
    """A coat over a finish. material: None where it changes only what it states: tint, roughness, metalness."""

    name: Name
    on: bool = True
    material: Key | None = None
    where: MaskModel | None = None
    strength: Unit = 1.0
    channels: JoinsModel = JoinsModel()
    tint: HexColor | None = None
    roughness: Unit | None = None
    metallic: Unit | None = None

    @model_validator(mode="after")
    def _shows(self) -> CoatModel:
        if self.material is None and self.projection is not None:
            raise ValueError("a coat without a material has nothing to lay; leave the projection out")
        return self

    def to_core(self, materials: Callable[[str], Material]) -> Coat:
        return Coat(
            name=self.name,
            sheet=self.sheet(self.material, materials) if self.material else None,
            where=self.where.to_core(materials) if self.where else EVERYWHERE,
            strength=self.strength,
            joins=self.channels.to_core(),
            tint=linear_color(self.tint) if self.tint else None,
            roughness=self.roughness,
            metallic=self.metallic,
            on=self.on,
        )

    def moved(self, motion: Motion) -> Self:
        return super().moved(motion).model_copy(update={"where": self.where and self.where.moved(motion)})

    def with_picks(self, change: Callable[[PickModel], PickModel]) -> Self:
        own = super().with_picks(change)
        return own.model_copy(update={"where": self.where and self.where.with_picks(change)})

    def with_material_swapped(self, was: str, now: str) -> Self:
        """The same with another material wherever one is named."""
        return self.model_copy(
            update={
                "material": now if self.material == was else self.material,
                "projection": self.projection and self.projection.with_material_swapped(was, now),
                "where": self.where and self.where.with_material_swapped(was, now),
            }
        )

    @property
    def material_ids(self) -> Iterator[str]:
        """Every material that it names."""
        if self.material is not None:
            yield self.material
        yield from self.axis_materials
        if self.where is not None:
            yield from self.where.material_ids
