"""Masks as a recipe states them: each an object with one key, which is its kind."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable, Iterator
from typing import Annotated, Any, Literal, Self

import numpy as np
from pydantic import ConfigDict, Discriminator, Field, Tag, model_validator

from pivrel.core.coats.masks import combined, fades, nearness, patterns, sides
from pivrel.core.coats.masks.mask import Mask
from pivrel.core.revision import Motion
from pivrel.core.sheet import Material
from pivrel.materials.channels import Channel
from pivrel.recipe.picks import PickModel
from pivrel.recipe.projections.base import moved_place
from pivrel.recipe.sheets_over import Seed, SheetOverBase
from pivrel.recipe.values import Key, Number, Positive, Strict, Triple

Materials = Callable[[str], Material]

Soft = Annotated[float, Field(ge=0, le=1e7)]
Angle = Annotated[float, Field(ge=0, le=180)]
Share = Annotated[float, Field(ge=-10, le=10)]
Ease = Literal["linear", "smooth"]


class MaskBase(Strict):
    """A kind of mask."""

    @abstractmethod
    def to_core(self, materials: Materials) -> Mask:
        """The mask with its materials by their ids."""

    def moved(self, motion: Motion) -> Self:
        """The same on a model that was moved or is larger: places and lengths in mm go with it."""
        return self

    def with_material_swapped(self, was: str, now: str) -> Self:
        """The same with another material wherever one is named."""
        return self

    def with_picks(self, change: Callable[[PickModel], PickModel]) -> Self:
        """The same with its own picks changed, where it has any."""
        return self

    @property
    def material_ids(self) -> Iterator[str]:
        """Every material that it names."""
        yield from ()


def _turned(direction: Triple, motion: Motion) -> Triple:
    x, y, z = motion.directions(np.array(direction, float)).tolist()
    return x, y, z


def _not_zero(direction: Triple, what: str) -> None:
    if not any(direction):
        raise ValueError(f"the {what} must not be zero")


class Fade(Strict):
    """From 0 at one place to 1 at another, along the line between them."""

    from_mm: Triple
    to_mm: Triple
    ease: Ease = "linear"

    @model_validator(mode="after")
    def _apart(self) -> Fade:
        if self.from_mm == self.to_mm:
            raise ValueError("a fade needs two places")
        return self


class FadeMask(MaskBase):
    """A straight fade."""

    fade: Fade

    def to_core(self, materials: Materials) -> Mask:
        return fades.Fade(self.fade.from_mm, self.fade.to_mm, self.fade.ease)

    def moved(self, motion: Motion) -> Self:
        ends = {key: moved_place(getattr(self.fade, key), motion) for key in ("from_mm", "to_mm")}
        return self.model_copy(update={"fade": self.fade.model_copy(update=ends)})


class _Radii(Strict):
    radii_mm: tuple[Soft, Soft]
    ease: Ease = "linear"

    @model_validator(mode="after")
    def _apart(self) -> Self:
        if self.radii_mm[0] == self.radii_mm[1]:
            raise ValueError("a fade needs two distances")
        return self

    def scaled(self, motion: Motion) -> dict[str, tuple[float, float]]:
        """Its distances on a model that is larger."""
        return {"radii_mm": (self.radii_mm[0] * motion.scale, self.radii_mm[1] * motion.scale)}


class FadeRound(_Radii):
    """From 0 at one distance from a point to 1 at another."""

    centre_mm: Triple


class FadeRoundMask(MaskBase):
    """A fade round a point."""

    fade_round: FadeRound

    def to_core(self, materials: Materials) -> Mask:
        stated = self.fade_round
        return fades.FadeRound(stated.centre_mm, stated.radii_mm, stated.ease)

    def moved(self, motion: Motion) -> Self:
        stated = self.fade_round
        update = {"centre_mm": moved_place(stated.centre_mm, motion), **stated.scaled(motion)}
        return self.model_copy(update={"fade_round": stated.model_copy(update=update)})


class FadeAbout(_Radii):
    """From 0 at one distance from an axis to 1 at another."""

    origin_mm: Triple
    axis: Triple

    @model_validator(mode="after")
    def _directed(self) -> FadeAbout:
        _not_zero(self.axis, "axis")
        return self


class FadeAboutMask(MaskBase):
    """A fade about an axis."""

    fade_about: FadeAbout

    def to_core(self, materials: Materials) -> Mask:
        stated = self.fade_about
        return fades.FadeAbout(stated.origin_mm, stated.axis, stated.radii_mm, stated.ease)

    def moved(self, motion: Motion) -> Self:
        stated = self.fade_about
        update = {
            "origin_mm": moved_place(stated.origin_mm, motion),
            "axis": _turned(stated.axis, motion),
            **stated.scaled(motion),
        }
        return self.model_copy(update={"fade_about": stated.model_copy(update=update)})


class Band(Strict):
    """Between two places along a direction."""

    direction: Triple = (0.0, 0.0, 1.0)
    from_mm: Number
    to_mm: Number
    soft_mm: Soft = 0.0

    @model_validator(mode="after")
    def _ordered(self) -> Band:
        _not_zero(self.direction, "direction")
        if self.from_mm > self.to_mm:
            raise ValueError("a band runs from the lower place to the higher one")
        return self


class BandMask(MaskBase):
    """A band along a direction: heights, mostly."""

    band: Band

    def to_core(self, materials: Materials) -> Mask:
        stated = self.band
        return sides.Band(stated.direction, stated.from_mm, stated.to_mm, stated.soft_mm)

    def moved(self, motion: Motion) -> Self:
        stated = self.band
        along = np.array(stated.direction, float) / np.linalg.norm(stated.direction)
        turned = motion.directions(along)
        shift = float(turned @ motion.shift)
        update = {
            "direction": _turned(stated.direction, motion),
            "from_mm": stated.from_mm * motion.scale + shift,
            "to_mm": stated.to_mm * motion.scale + shift,
            "soft_mm": stated.soft_mm * motion.scale,
        }
        return self.model_copy(update={"band": stated.model_copy(update=update)})


class Facing(Strict):
    """Within an angle of a direction."""

    direction: Triple = (0.0, 0.0, 1.0)
    within_deg: Angle
    soft_deg: Angle = 0.0

    @model_validator(mode="after")
    def _directed(self) -> Facing:
        _not_zero(self.direction, "direction")
        return self


class FacingMask(MaskBase):
    """By where the surface looks."""

    facing: Facing

    def to_core(self, materials: Materials) -> Mask:
        return sides.Facing(self.facing.direction, self.facing.within_deg, self.facing.soft_deg)

    def moved(self, motion: Motion) -> Self:
        turned = {"direction": _turned(self.facing.direction, motion)}
        return self.model_copy(update={"facing": self.facing.model_copy(update=turned)})


class Seams(Strict):
    """Near the open seams of the finish beneath."""

    within_mm: Soft
    soft_mm: Soft = 0.0


class SeamsMask(MaskBase):
    """Along open seams."""

    seams: Seams

    def to_core(self, materials: Materials) -> Mask:
        return nearness.Seams(self.seams.within_mm, self.seams.soft_mm)


class Edges(Strict):
    """Near the edges of the model that turn by more than an angle: convex ones, concave ones, or both."""

    kind: nearness.EdgeKind = "both"
    angle_deg: Angle = 30.0
    within_mm: Soft
    soft_mm: Soft = 0.0


class EdgesMask(MaskBase):
    """Along edges of the model."""

    edges: Edges

    def to_core(self, materials: Materials) -> Mask:
        stated = self.edges
        return nearness.Edges(stated.within_mm, stated.soft_mm, stated.kind, stated.angle_deg)


class BrushStroke(Strict):
    """A line drawn on the model with a brush of a radius."""

    points_mm: Annotated[tuple[Triple, ...], Field(min_length=1, max_length=10_000)]
    radius_mm: Positive

    def moved(self, motion: Motion) -> BrushStroke:
        """The stroke on a model that was moved or is larger."""
        points = tuple(moved_place(place, motion) for place in self.points_mm)
        return BrushStroke(points_mm=points, radius_mm=self.radius_mm * motion.scale)


class Strokes(Strict):
    """Strokes of a brush."""

    lines: Annotated[tuple[BrushStroke, ...], Field(max_length=1000)] = ()
    soft_mm: Soft = 0.0


class StrokesMask(MaskBase):
    """Where strokes were drawn."""

    strokes: Strokes

    def to_core(self, materials: Materials) -> Mask:
        lines = tuple(nearness.Stroke(line.points_mm, line.radius_mm) for line in self.strokes.lines)
        return nearness.Strokes(lines, self.strokes.soft_mm)

    def moved(self, motion: Motion) -> Self:
        lines = tuple(line.moved(motion) for line in self.strokes.lines)
        update = {"lines": lines, "soft_mm": self.strokes.soft_mm * motion.scale}
        return self.model_copy(update={"strokes": self.strokes.model_copy(update=update)})


class ImageOver(SheetOverBase):
    """A channel of a material, laid by a laying of its own or as the finish beneath."""

    material: Key
    channel: Channel = "base_color"
    low: Share = 0.0
    high: Share = 1.0


class ImageMask(MaskBase):
    """By an image."""

    image: ImageOver

    def to_core(self, materials: Materials) -> Mask:
        stated = self.image
        return patterns.ImageMask(
            stated.sheet(stated.material, materials), stated.channel, stated.low, stated.high
        )

    def moved(self, motion: Motion) -> Self:
        return self.model_copy(update={"image": self.image.moved(motion)})

    def with_material_swapped(self, was: str, now: str) -> Self:
        swapped = now if self.image.material == was else self.image.material
        return self.model_copy(update={"image": self.image.model_copy(update={"material": swapped})})

    def with_picks(self, change: Callable[[PickModel], PickModel]) -> Self:
        return self.model_copy(update={"image": self.image.with_picks(change)})

    @property
    def material_ids(self) -> Iterator[str]:
        yield self.image.material
        yield from self.image.axis_materials


class Noise(Strict):
    """Gradient noise of the place: 0 where it is low, 1 where it is high."""

    size_mm: Positive
    seed: Seed = 1
    low: Share = 0.4
    high: Share = 0.6
    octaves: Annotated[int, Field(ge=1, le=8)] = 4


class NoiseMask(MaskBase):
    """By noise."""

    noise: Noise

    def to_core(self, materials: Materials) -> Mask:
        stated = self.noise
        return patterns.Noise(stated.size_mm, stated.seed, stated.low, stated.high, stated.octaves)


MOST_MASKS = 16
"""Masks that one mask is made of."""


class _Combined(MaskBase):
    """A mask of masks."""

    @property
    @abstractmethod
    def masks(self) -> tuple[MaskModel, ...]:
        """What it is made of."""

    @abstractmethod
    def with_masks(self, masks: tuple[MaskModel, ...]) -> Self:
        """The same of other masks."""

    def moved(self, motion: Motion) -> Self:
        return self.with_masks(tuple(mask.moved(motion) for mask in self.masks))

    def with_material_swapped(self, was: str, now: str) -> Self:
        return self.with_masks(tuple(mask.with_material_swapped(was, now) for mask in self.masks))

    def with_picks(self, change: Callable[[PickModel], PickModel]) -> Self:
        return self.with_masks(tuple(mask.with_picks(change) for mask in self.masks))

    @property
    def material_ids(self) -> Iterator[str]:
        for mask in self.masks:
            yield from mask.material_ids


class EveryMask(_Combined):
    """The product of masks."""

    every: Annotated[tuple[MaskModel, ...], Field(max_length=MOST_MASKS)]

    @property
    def masks(self) -> tuple[MaskModel, ...]:
        return self.every

    def with_masks(self, masks: tuple[MaskModel, ...]) -> Self:
        return self.model_copy(update={"every": masks})

    def to_core(self, materials: Materials) -> Mask:
        return combined.Every(tuple(mask.to_core(materials) for mask in self.every))


class AnyMask(_Combined):
    """The largest of masks."""

    any: Annotated[tuple[MaskModel, ...], Field(max_length=MOST_MASKS)]

    @property
    def masks(self) -> tuple[MaskModel, ...]:
        return self.any

    def with_masks(self, masks: tuple[MaskModel, ...]) -> Self:
        return self.model_copy(update={"any": masks})

    def to_core(self, materials: Materials) -> Mask:
        return combined.AnyOf(tuple(mask.to_core(materials) for mask in self.any))


class NotMask(_Combined):
    """What a mask leaves out."""

    not_: Annotated[MaskModel, Field(alias="not")]
    model_config = ConfigDict(**{**Strict.model_config, "populate_by_name": True})

    @property
    def masks(self) -> tuple[MaskModel, ...]:
        return (self.not_,)

    def with_masks(self, masks: tuple[MaskModel, ...]) -> Self:
        return self.model_copy(update={"not_": masks[0]})

    def to_core(self, materials: Materials) -> Mask:
        return combined.Not(self.not_.to_core(materials))


_KINDS: dict[str, type[MaskBase]] = {
    "fade": FadeMask, "fade_round": FadeRoundMask, "fade_about": FadeAboutMask, "band": BandMask,
    "facing": FacingMask, "seams": SeamsMask, "edges": EdgesMask, "strokes": StrokesMask, "image": ImageMask,
    "noise": NoiseMask, "every": EveryMask, "any": AnyMask, "not": NotMask,
}  # fmt: skip


def _key_of(value: Any) -> str | None:
    if isinstance(value, dict):
        return next((key for key in _KINDS if key in value), None)
    return next((key for key, model in _KINDS.items() if isinstance(value, model)), None)


MaskModel = Annotated[
    Annotated[FadeMask, Tag("fade")]
    | Annotated[FadeRoundMask, Tag("fade_round")]
    | Annotated[FadeAboutMask, Tag("fade_about")]
    | Annotated[BandMask, Tag("band")]
    | Annotated[FacingMask, Tag("facing")]
    | Annotated[SeamsMask, Tag("seams")]
    | Annotated[EdgesMask, Tag("edges")]
    | Annotated[StrokesMask, Tag("strokes")]
    | Annotated[ImageMask, Tag("image")]
    | Annotated[NoiseMask, Tag("noise")]
    | Annotated[EveryMask, Tag("every")]
    | Annotated[AnyMask, Tag("any")]
    | Annotated[NotMask, Tag("not")],
    Discriminator(_key_of, custom_error_type="mask", custom_error_message=
        "a mask needs one of the keys " + ", ".join(_KINDS)),
]  # fmt: skip

for _model in (EveryMask, AnyMask, NotMask):
    _model.model_rebuild()
