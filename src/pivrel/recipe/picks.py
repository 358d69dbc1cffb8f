"""Picks as a recipe states them."""

from __future__ import annotations

import base64
import binascii
import zlib
from collections.abc import Sequence
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import ConfigDict, Discriminator, Field, Tag, field_validator

from pivrel.core import picks
from pivrel.core.arrays import distinct
from pivrel.recipe.values import MOST_FACES, MOST_LISTED, FaceId, Strict, Text, Triple

Packed = Annotated[str, Field(max_length=32 << 20)]
"""Faces packed: deflated bits in base64."""


class AllPick(Strict):
    """Every face."""

    all: Literal[True]

    def to_core(self) -> picks.Pick:
        return picks.All()


class PartsPick(Strict):
    """Parts by globs of their names."""

    parts: Annotated[tuple[Text, ...], Field(max_length=MOST_LISTED)]

    def to_core(self) -> picks.Pick:
        return picks.Parts(self.parts)


class FacesPick(Strict):
    """Faces by id, or packed: one bit a face, the lowest bit of the first byte for face 0, deflated (zlib,
    RFC 1950), in base64. Long lists are packed as they come in."""

    faces: Annotated[tuple[FaceId, ...], Field(max_length=MOST_FACES)] | Packed

    @field_validator("faces")
    @classmethod
    def _short(cls, value: tuple[int, ...] | str) -> tuple[int, ...] | str:
        if isinstance(value, str):
            packed_bits(value)
            return value
        if len(value) <= picks.LONG or min(value) < 0:
            return value
        return packed(picks.by_ids(distinct(np.array(value))))

    def to_core(self) -> picks.Pick:
        if isinstance(self.faces, str):
            return picks.FaceBits(packed_bits(self.faces))
        return picks.Faces(self.faces)


def packed(pick: picks.ById) -> tuple[int, ...] | str:
    """The faces as a recipe's pick holds them: few as ids, many as deflated bits in base64."""
    if isinstance(pick, picks.Faces):
        return pick.ids
    return base64.b64encode(zlib.compress(pick.bits)).decode()


def packed_bits(text: str) -> bytes:
    """The bits of packed faces. ValueError where the text is none, or stands for more than `MOST_FACES`."""
    try:
        reader = zlib.decompressobj()
        bits = reader.decompress(base64.b64decode(text.encode("ascii"), validate=True), MOST_FACES // 8)
    except (UnicodeEncodeError, binascii.Error, zlib.error):
        raise ValueError("packed faces must be deflated bits in base64") from None
    if not reader.eof:
        raise ValueError("the packed faces are cut off, or more than any model has")
    return bits


def face_count(faces: Sequence[int] | str) -> int:
    """How many faces a pick by faces names."""
    if isinstance(faces, str):
        return int(np.bitwise_count(np.frombuffer(packed_bits(faces), np.uint8)).sum())
    return len(faces)


def with_ids(pick: Any) -> Any:
    """A pick, or anything that holds picks, with packed faces as a list of ids, as people and other programs
    read it."""
    if isinstance(pick, list):
        return [with_ids(p) for p in pick]
    if not isinstance(pick, dict):
        return pick
    if isinstance(pick.get("faces"), str):
        return {"faces": picks.ids_of(picks.FaceBits(packed_bits(pick["faces"]))).tolist()}
    return {key: with_ids(value) for key, value in pick.items()}


class PatchesPick(Strict):
    """Patches by id, at the crease angle of 30 degrees."""

    patches: Annotated[tuple[FaceId, ...], Field(max_length=MOST_FACES)]

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

    elements: Annotated[tuple[Text, ...], Field(max_length=MOST_LISTED)]

    def to_core(self) -> picks.Pick:
        return picks.Elements(self.elements)


class StoreysPick(Strict):
    """Parts by globs of their storey."""

    storeys: Annotated[tuple[Text, ...], Field(max_length=MOST_LISTED)]

    def to_core(self) -> picks.Pick:
        return picks.Storeys(self.storeys)


class SourcesPick(Strict):
    """Faces by globs of the material that the model file gives them."""

    sources: Annotated[tuple[Text, ...], Field(max_length=MOST_LISTED)]

    def to_core(self) -> picks.Pick:
        return picks.Sources(self.sources)


class AnyPick(Strict):
    """Faces that one of the picks holds."""

    any: Annotated[tuple[PickModel, ...], Field(max_length=10_000)]

    def to_core(self) -> picks.Pick:
        return picks.AnyOf(tuple(p.to_core() for p in self.any))


class EveryPick(Strict):
    """Faces that each of the picks holds."""

    every: Annotated[tuple[PickModel, ...], Field(max_length=10_000)]

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


def pick_model(pick: picks.Pick) -> PickModel:
    """The model of a core pick."""
    match pick:
        case picks.All():
            return AllPick(all=True)
        case picks.Parts(globs):
            return PartsPick(parts=globs)
        case picks.Faces() | picks.FaceBits():
            return FacesPick(faces=packed(pick))
        case picks.Patches(ids):
            return PatchesPick(patches=ids)
        case picks.Facing(direction, within):
            return FacingPick(facing=direction, within_deg=within)
        case picks.Elements(globs):
            return ElementsPick(elements=globs)
        case picks.Storeys(globs):
            return StoreysPick(storeys=globs)
        case picks.Sources(globs):
            return SourcesPick(sources=globs)
        case picks.AnyOf(inner):
            return AnyPick(any=tuple(pick_model(p) for p in inner))
        case picks.Every(inner):
            return EveryPick(every=tuple(pick_model(p) for p in inner))
        case picks.Not(inner):
            return NotPick(not_=pick_model(inner))
