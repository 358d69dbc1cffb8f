"""The recipe: the JSON that states materials and finishes, checked, and as the core's own classes.

The published JSON Schema is generated from these models (`recipe_schema`).
"""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from typing import Annotated, Any, ClassVar, Literal, TypeVar

from pydantic import (
    AfterValidator,
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
from pivrel.core.finish import Adjustment, Finish
from pivrel.core.geometry.frames import Datum, FrameError
from pivrel.core.grain import SHEET, Along, GrainRule
from pivrel.core.projection import Box, Cylindrical, Planar, Projection, Spherical, Triplanar
from pivrel.core.sheet import Joints, Material
from pivrel.core.variation import By, Variation
from pivrel.materials.channels import Channel

T = TypeVar("T")


class RecipeError(ValueError):
    """A recipe that breaks a rule; the message is one sentence: where, and what."""


class Strict(BaseModel):
    """Unknown keys and numbers that are not finite are errors."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True)


Pair = tuple[float, float]
Triple = tuple[float, float, float]
Positive = Annotated[float, Field(gt=0, le=1e7)]


def not_zero(value: float) -> float:
    """The value, or ValueError for zero."""
    if value == 0:
        raise ValueError("must not be zero")
    return value


Factor = Annotated[float, Field(ge=-1e7, le=1e7), AfterValidator(not_zero)]
"""A scale; below zero it also flips the sheet."""


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


class PlanarModel(Strict):
    """The sheet pushed straight onto the model."""

    kind: Literal["planar"]
    backs: Literal["through", "unmirrored"] = "through"

    def to_core(self) -> Projection:
        return Planar(self.backs)


class BoxModel(Strict):
    """Six planar layings; wrapped runs the pattern round the upright sides of a box of size_mm."""

    kind: Literal["box"]
    corners: Literal["separate", "wrapped"] = "separate"
    size_mm: tuple[Positive, Positive, Positive] | None = None

    def to_core(self) -> Projection:
        return Box(self.corners, self.size_mm)


class CylindricalModel(Strict):
    """The sheet rolled round the datum's z axis; without radius_mm it is measured."""

    kind: Literal["cylindrical"]
    radius_mm: Positive | None = None
    caps: bool = True
    cap_angle_deg: Annotated[float, Field(ge=0, le=90)] = 45.0
    whole_repeats: bool = False

    def to_core(self) -> Projection:
        return Cylindrical(self.radius_mm, self.caps, self.cap_angle_deg, self.whole_repeats)


class SphericalModel(Strict):
    """Longitude and latitude about the datum's origin; without radius_mm it is measured."""

    kind: Literal["spherical"]
    radius_mm: Positive | None = None

    def to_core(self) -> Projection:
        return Spherical(self.radius_mm)


class AxisMaterialsModel(Strict):
    """Materials of their own for the datum's axes, by id."""

    x: str | None = None
    y: str | None = None
    z: str | None = None


class TriplanarModel(Strict):
    """Three layings blended by the direction in which the surface looks."""

    kind: Literal["triplanar"]
    blend: Annotated[float, Field(ge=0, le=1)] = 0.3
    backs: Literal["unmirrored", "mirrored"] = "unmirrored"
    materials: AxisMaterialsModel = AxisMaterialsModel()

    @property
    def axis_materials(self) -> tuple[str | None, str | None, str | None]:
        return self.materials.x, self.materials.y, self.materials.z

    def to_core(self) -> Projection:
        return Triplanar(self.blend, self.backs, self.axis_materials)


ProjectionModel = Annotated[
    PlanarModel | BoxModel | CylindricalModel | SphericalModel | TriplanarModel,
    Field(discriminator="kind"),
]


def projection_json(projection: Projection) -> dict[str, Any]:
    """A core projection as recipe JSON, every option stated."""
    match projection:
        case Planar(backs):
            return {"kind": "planar", "backs": backs}
        case Box(corners, size):
            return {"kind": "box", "corners": corners, "size_mm": list(size) if size else None}
        case Cylindrical(radius, caps, cap_angle, whole):
            return {
                "kind": "cylindrical",
                "radius_mm": radius,
                "caps": caps,
                "cap_angle_deg": cap_angle,
                "whole_repeats": whole,
            }
        case Spherical(radius):
            return {"kind": "spherical", "radius_mm": radius}
        case Triplanar(blend, backs, (x, y, z)):
            return {
                "kind": "triplanar",
                "blend": blend,
                "backs": backs,
                "materials": {"x": x, "y": y, "z": z},
            }


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

    name: Annotated[str, Field(min_length=1, max_length=200)]
    repeat_mm: tuple[Positive, Positive]
    grain_deg: float | None = 0.0
    joints: JointsModel | None = None
    half_turns: bool = False
    mirrors: bool = False

    def to_core(self) -> Material:
        return Material(
            self.name,
            self.repeat_mm,
            self.grain_deg or 0.0,
            self.joints.to_core() if self.joints else None,
            self.half_turns,
            self.mirrors,
        )


class MaterialModel(SheetModel):
    """A material of a recipe; images by channel, relative to the recipe.

    normal_y: where the green of the normal map points, "+" up the sheet or "-" down.
    """

    metallic: Annotated[float, Field(ge=0, le=1)] = 0.0
    normal_y: Literal["+", "-"] = "+"
    images: dict[Channel, str] = {}


class GrainModel(Strict):
    """What the grain follows; the finish's turn_deg counts from there."""

    along: Along
    direction: Triple | None = None

    @model_validator(mode="after")
    def _directed(self) -> GrainModel:
        if (self.along == "direction") != (self.direction is not None):
            raise ValueError('a direction belongs to along "direction", and only there')
        if self.direction is not None and not any(self.direction):
            raise ValueError("the direction must not be zero")
        return self

    def to_core(self) -> GrainRule:
        return GrainRule(self.along, self.direction)


class AdjustmentModel(Strict):
    """How some faces of a finish lie otherwise: added to its turn and offset."""

    pick: PickModel
    turn_deg: float = 0.0
    offset_mm: Pair = (0.0, 0.0)
    mirrored: bool = False

    def to_core(self) -> Adjustment:
        return Adjustment(self.pick.to_core(), self.turn_deg, self.offset_mm, self.mirrored)


class VariationModel(Strict):
    """Each part, board, patch or face takes its own piece of the sheet."""

    by: By = "part"
    seed: int = 1
    half_turns: bool = False
    mirrors: bool = False

    def to_core(self) -> Variation:
        return Variation(self.by, self.seed, self.half_turns, self.mirrors)


class FinishModel(Strict):
    """A finish of a recipe, without the checks that need the others."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    material: str
    pick: PickModel
    projection: ProjectionModel
    datum: DatumModel | None = None
    datum_for: Literal["pick", "part", "board"] = "pick"
    turn_deg: float | None = None
    grain_deg: float | None = None
    offset_mm: Pair = (0.0, 0.0)
    scale: tuple[Factor, Factor] = (1.0, 1.0)
    tile: bool = True
    grain: GrainModel | None = None
    adjust: tuple[AdjustmentModel, ...] = ()
    run_on: bool = False
    variation: VariationModel | None = None

    BOTH: ClassVar[str] = "states both turn_deg and grain_deg; give one"

    @model_validator(mode="after")
    def _one_turn(self) -> FinishModel:
        if self.turn_deg is not None and self.grain_deg is not None:
            raise ValueError(self.BOTH)
        if self.grain_deg is not None and self.grain is not None:
            raise ValueError("states both grain_deg and a grain rule; turn_deg counts from the rule")
        if self.datum is not None and self.datum_for != "pick":
            raise ValueError(f"states a datum, but asks for one for each {self.datum_for}; leave one out")
        if isinstance(self.projection, TriplanarModel) and self.by_face:
            raise ValueError(f"triplanar blends one sheet over all faces, so it cannot take {self.by_face}")
        return self

    @property
    def by_face(self) -> str:
        """Which options lay the sheet differently on different faces, in words; empty where none does."""
        asked = {
            "a grain rule": self.grain is not None and self.grain.along != "sheet",
            "adjustments": bool(self.adjust),
            "running on": self.run_on,
            "variation": self.variation is not None,
        }
        return " or ".join(words for words, given in asked.items() if given)

    @property
    def axis_materials(self) -> tuple[str, str, str]:
        """The material along x, y and z; the finish's own where the projection names none."""
        own = self.projection.axis_materials if isinstance(self.projection, TriplanarModel) else (None,) * 3
        x, y, z = (key or self.material for key in own)
        return x, y, z

    def for_axes(self, by_material: Mapping[str, T]) -> tuple[T, T, T]:
        """What belongs to the material along x, y and z."""
        x, y, z = (by_material[key] for key in self.axis_materials)
        return x, y, z

    @property
    def material_ids(self) -> list[str]:
        """Every material that the finish names, each once."""
        return list(dict.fromkeys([self.material, *self.axis_materials]))

    def to_core(self, material: Callable[[str], Material]) -> Finish:
        """The finish, with its materials by their ids."""
        x = y = z = None
        if isinstance(self.projection, TriplanarModel):
            x, y, z = (material(key) if key else None for key in self.projection.axis_materials)
        return Finish(
            name=self.name,
            material=material(self.material),
            pick=self.pick.to_core(),
            projection=self.projection.to_core(),
            datum=self.datum.to_core() if self.datum else None,
            turn_deg=self.turn_deg,
            grain_deg=self.grain_deg,
            offset_mm=self.offset_mm,
            scale=self.scale,
            tile=self.tile,
            datum_for=self.datum_for,
            axis_materials=(x, y, z),
            grain=self.grain.to_core() if self.grain else SHEET,
            adjust=tuple(a.to_core() for a in self.adjust),
            run_on=self.run_on,
            variation=self.variation.to_core() if self.variation else None,
        )


class RecipeModel(Strict):
    """A whole recipe."""

    recipe: Literal[1]
    materials: dict[str, MaterialModel]
    finishes: list[FinishModel]

    @model_validator(mode="after")
    def _materials_exist(self) -> RecipeModel:
        for row, finish in enumerate(self.finishes):
            for material in finish.material_ids:
                if material not in self.materials:
                    raise ValueError(
                        f"finish {row} ({finish.name!r}) names the material {material!r}, "
                        "which the recipe does not have"
                    )
        return self

    def to_core(self) -> list[Finish]:
        """The finishes in their order."""
        return [f.to_core(lambda key: self.materials[key].to_core()) for f in self.finishes]


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
