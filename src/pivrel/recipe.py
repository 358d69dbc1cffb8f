"""The recipe: the JSON that states materials and finishes, checked, and as the core's own classes.

The published JSON Schema is generated from these models (`recipe_schema`).
"""

from __future__ import annotations

import json
from typing import Annotated, Any, ClassVar, Literal

from pydantic import (
    BaseModel,
    ConfigDict,
    Discriminator,
    Field,
    Tag,
    ValidationError,
    field_validator,
    model_validator,
)

from pivrel.core import picks
from pivrel.core.geometry.frames import Datum, FrameError
from pivrel.core.laying import Finish
from pivrel.core.projection import Box, Planar, Projection
from pivrel.core.sheet import Material


class RecipeError(ValueError):
    """A recipe that breaks a rule; the message is one sentence: where, and what."""


class Strict(BaseModel):
    """Unknown keys and numbers that are not finite are errors."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True)


Pair = tuple[float, float]
Triple = tuple[float, float, float]
Positive = Annotated[float, Field(gt=0, le=1e7)]


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


_PICK_KEYS = ("all", "parts", "faces", "patches", "facing", "any", "every", "not")


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
        case picks.AnyOf(inner):
            return {"any": [pick_json(p) for p in inner]}
        case picks.Every(inner):
            return {"every": [pick_json(p) for p in inner]}
        case picks.Not(inner):
            return {"not": pick_json(inner)}


class PlanarModel(Strict):
    """The sheet pushed straight onto the model."""

    kind: Literal["planar"]
    backs: Literal["through", "unmirrored"] = "through"

    def to_core(self) -> Projection:
        return Planar(self.backs)


class BoxModel(Strict):
    """Six planar layings."""

    kind: Literal["box"]
    corners: Literal["separate"] = "separate"

    def to_core(self) -> Projection:
        return Box(self.corners)


ProjectionModel = Annotated[PlanarModel | BoxModel, Field(discriminator="kind")]


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

    def to_core(self) -> Datum:
        return Datum(self.origin_mm, self.x_axis, self.z_axis)

    @classmethod
    def of(cls, datum: Datum) -> DatumModel:
        """The model of a core datum."""
        return cls(origin_mm=datum.origin_mm, x_axis=datum.x_axis, z_axis=datum.z_axis)


Channel = Literal["base_color", "normal", "roughness"]


class MaterialModel(Strict):
    """A material of a recipe; images by channel, relative to the recipe."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    repeat_mm: tuple[Positive, Positive]
    grain_deg: float = 0.0
    images: dict[Channel, str] = {}

    def to_core(self) -> Material:
        return Material(self.name, self.repeat_mm, self.grain_deg)


class FinishModel(Strict):
    """A finish of a recipe, without the checks that need the others."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    material: str
    pick: PickModel
    projection: ProjectionModel
    datum: DatumModel | None = None
    turn_deg: float | None = None
    grain_deg: float | None = None
    offset_mm: Pair = (0.0, 0.0)
    scale: tuple[Positive, Positive] = (1.0, 1.0)
    # Single placement of the sheet is not built yet, so a recipe that asks for it is refused.
    tile: Literal[True] = True

    BOTH: ClassVar[str] = "states both turn_deg and grain_deg; give one"

    @model_validator(mode="after")
    def _one_turn(self) -> FinishModel:
        if self.turn_deg is not None and self.grain_deg is not None:
            raise ValueError(self.BOTH)
        return self

    def to_core(self, material: Material) -> Finish:
        return Finish(
            name=self.name,
            material=material,
            pick=self.pick.to_core(),
            projection=self.projection.to_core(),
            datum=self.datum.to_core() if self.datum else None,
            turn_deg=self.turn_deg,
            grain_deg=self.grain_deg,
            offset_mm=self.offset_mm,
            scale=self.scale,
        )


class RecipeModel(Strict):
    """A whole recipe."""

    recipe: Literal[1]
    materials: dict[str, MaterialModel]
    finishes: list[FinishModel]

    @model_validator(mode="after")
    def _materials_exist(self) -> RecipeModel:
        for row, finish in enumerate(self.finishes):
            if finish.material not in self.materials:
                raise ValueError(
                    f"finish {row} ({finish.name!r}) names the material {finish.material!r}, "
                    "which the recipe does not have"
                )
        return self

    def to_core(self) -> list[Finish]:
        """The finishes in their order."""
        return [f.to_core(self.materials[f.material].to_core()) for f in self.finishes]


def first_error(error: ValidationError) -> str:
    """The first thing that is wrong, as one sentence with its place."""
    first = error.errors()[0]
    # pydantic names the branch of a union too ("pick.patches.patches"); a reader wants the key once.
    loc = [str(place) for place in first["loc"]]
    unions = ("pick", "projection", "not", "edit")
    places = [place for i, place in enumerate(loc) if not (i and loc[i - 1] in unions)]
    where = ".".join(places)
    what = str(first["msg"]).removeprefix("Value error, ")
    if first["type"] == "extra_forbidden":
        what = "this key is not known"
    elif first["type"] == "missing":
        what = "this key is missing"
    return f"{where}: {what}" if where else what


def read_recipe(text: str | bytes) -> RecipeModel:
    """A recipe from its JSON text. RecipeError says what is wrong and where."""
    try:
        data = json.loads(text)
    except (json.JSONDecodeError, UnicodeDecodeError, RecursionError) as broken:
        where = (
            f" at line {broken.lineno}, column {broken.colno}"
            if isinstance(broken, json.JSONDecodeError)
            else ""
        )
        raise RecipeError(f"the JSON is broken{where}") from None
    try:
        return RecipeModel.model_validate(data)
    except ValidationError as error:
        raise RecipeError(first_error(error)) from None


def recipe_schema() -> dict[str, Any]:
    """The recipe's JSON Schema (draft 2020-12)."""
    schema = RecipeModel.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema}
