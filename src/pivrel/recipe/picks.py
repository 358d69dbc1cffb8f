"""Picks as a recipe states them."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Discriminator, Field, Tag, field_validator

from pivrel.core import picks
from pivrel.recipe.values import Strict, Triple


class AllPick(Strict):
    """Every face."""

    all: Literal[True]

    def to_core(self) -> picks.Pick:
        return picks.All()


class PartsPick(Strict):
    """Parts by globs of their names."""

    parts: tuple[str, ...]

    def to_core(self) -> picks.Pick:
        return picks.Parts(self.parts)


class FacesPick(Strict):
    """Faces by id."""

    faces: tuple[int, ...]

    def to_core(self) -> picks.Pick:
        return picks.Faces(self.faces)


class PatchesPick(Strict):
    """Patches by id, at the crease angle of 30 degrees."""

    patches: tuple[int, ...]

    def to_core(self) -> picks.Pick:
        return picks.Patches(self.patches)


class FacingPick(Strict):
    """Faces that look within an angle of a direction in model axes."""

    facing: Triple
    within_deg: Annotated[float, Field(ge=0, le=180)]

    @field_validator("facing")
    @classmethod
    def _not_zero(cls, value: Triple) -> Triple:
        if not any(value):
            raise ValueError("must not be zero")
        return value

    def to_core(self) -> picks.Pick:
        return picks.Facing(self.facing, self.within_deg)


class ElementsPick(Strict):
    """Parts by globs of their type of building element."""

    elements: tuple[str, ...]

    def to_core(self) -> picks.Pick:
        return picks.Elements(self.elements)


class StoreysPick(Strict):
    """Parts by globs of their storey."""

    storeys: tuple[str, ...]

    def to_core(self) -> picks.Pick:
        return picks.Storeys(self.storeys)


class SourcesPick(Strict):
    """Faces by globs of the material that the model file gives them."""

    sources: tuple[str, ...]

    def to_core(self) -> picks.Pick:
        return picks.Sources(self.sources)


class AnyPick(Strict):
    """Faces that one of the picks holds."""

    any: tuple[PickModel, ...]

    def to_core(self) -> picks.Pick:
        return picks.AnyOf(tuple(p.to_core() for p in self.any))


class EveryPick(Strict):
    """Faces that each of the picks holds."""

    every: tuple[PickModel, ...]

    def to_core(self) -> picks.Pick:
        return picks.Every(tuple(p.to_core() for p in self.every))


class NotPick(Strict):
    """Faces that the pick does not hold."""

    not_: Annotated[PickModel, Field(alias="not")]
    model_config = ConfigDict(extra="forbid", populate_by_name=True, frozen=True)

    def to_core(self) -> picks.Pick:
        return picks.Not(self.not_.to_core())


_PICK_KEYS = (
    "all", "parts", "faces", "patches", "facing", "elements", "storeys", "sources", "any", "every", "not",
)  # fmt: skip


def _pick_key(value: Any) -> str | None:
    if isinstance(value, dict):
        return next((key for key in _PICK_KEYS if key in value), None)
    name = type(value).__name__.removesuffix("Pick").lower()
    return name if name in _PICK_KEYS else None


PickModel = Annotated[
    Annotated[AllPick, Tag("all")]
    | Annotated[PartsPick, Tag("parts")]
    | Annotated[FacesPick, Tag("faces")]
    | Annotated[PatchesPick, Tag("patches")]
    | Annotated[FacingPick, Tag("facing")]
    | Annotated[ElementsPick, Tag("elements")]
    | Annotated[StoreysPick, Tag("storeys")]
    | Annotated[SourcesPick, Tag("sources")]
    | Annotated[AnyPick, Tag("any")]
    | Annotated[EveryPick, Tag("every")]
    | Annotated[NotPick, Tag("not")],
    Discriminator(_pick_key, custom_error_type="pick", custom_error_message=
        "a pick needs one of the keys " + ", ".join(_PICK_KEYS)),
]  # fmt: skip

for _model in (AnyPick, EveryPick, NotPick):
    _model.model_rebuild()


def pick_json(pick: picks.Pick) -> dict[str, Any]:
    """A core pick as recipe JSON."""
    match pick:
        case picks.All():
            return {"all": True}
        case picks.Parts(globs):
            return {"parts": list(globs)}
        case picks.Faces(ids):
            return {"faces": list(ids)}
        case picks.Patches(ids):
            return {"patches": list(ids)}
        case picks.Facing(direction, within):
            return {"facing": list(direction), "within_deg": within}
        case picks.Elements(globs):
            return {"elements": list(globs)}
        case picks.Storeys(globs):
            return {"storeys": list(globs)}
        case picks.Sources(globs):
            return {"sources": list(globs)}
        case picks.AnyOf(inner):
            return {"any": [pick_json(p) for p in inner]}
        case picks.Every(inner):
            return {"every": [pick_json(p) for p in inner]}
        case picks.Not(inner):
            return {"not": pick_json(inner)}
