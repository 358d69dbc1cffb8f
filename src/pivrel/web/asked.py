"""What may be asked of a project, checked: every edit, and what they are made of."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field, model_validator

from pivrel.core.fitting import Aim
from pivrel.core.geometry.mesh import REACH_MM
from pivrel.core.quantity import parse_angle, parse_length, parse_share
from pivrel.materials.bringing import calibrated
from pivrel.recipe import GrainModel, Number, PickModel, ProjectionModel, Triple, VariationModel, not_zero
from pivrel.store.bodies import ClipBody, Name


def _typed(parse: Any) -> BeforeValidator:
    """Text is read as a person types it; numbers are taken as they are."""
    return BeforeValidator(lambda value: parse(value) if isinstance(value, str) else value)


Length = Annotated[float, Field(ge=-REACH_MM, le=REACH_MM), _typed(parse_length)]
Angle = Annotated[float, Field(ge=-36000, le=36000), _typed(parse_angle)]
Share = Annotated[float, Field(ge=-1e6, le=1e6), AfterValidator(not_zero), _typed(parse_share)]
Side = Annotated[float, Field(gt=0, le=1e7), _typed(parse_length)]


MOST = (1 << 53) - 1
"""The largest whole number that JSON and SQLite both hold."""

RevisionNumber = Annotated[int, Field(ge=0, le=MOST)]


class Asked(BaseModel):
    """A request; unknown keys are errors."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class TypedDatum(Asked):
    """A datum as typed."""

    origin_mm: tuple[Length, Length, Length]
    x_axis: Triple
    z_axis: Triple


class AimModel(Asked):
    """What a datum is fitted to, as `core.fitting.Aim` has it."""

    to: Literal["pick", "box", "face", "view", "axis"] = "pick"
    face: int | None = None
    axis: Literal["+x", "-x", "+y", "-y", "+z", "-z"] = "+z"
    towards: Triple | None = None
    right: Triple | None = None
    along_edge: bool = False

    def to_core(self) -> Aim:
        return Aim(**self.model_dump())


class SeamModel(Asked):
    """Where a seam shall fall: away from a direction, or through a place."""

    away_from: Triple | None = None
    to_point: Triple | None = None

    @model_validator(mode="after")
    def _one(self) -> SeamModel:
        if (self.away_from is None) == (self.to_point is None):
            raise ValueError("a seam is turned away from a direction or to a point: give one of them")
        return self


class Lay(Asked):
    """Lay a material on a pick."""

    kind: Literal["lay"]
    material: str
    pick: PickModel
    projection: ProjectionModel
    aim: AimModel = AimModel()
    datum: TypedDatum | None = None
    like: str | None = None


class Split(Asked):
    """Give a pick within a finish a projection of its own."""

    kind: Literal["split"]
    finish: str
    pick: PickModel
    projection: ProjectionModel
    aim: AimModel = AimModel()


class OnFace(Asked):
    """A place on a face; the edge of the face that is nearest to it is meant."""

    face: int
    place: Triple


class Change(Asked):
    """Change one or several finishes alike; what is left out stays."""

    kind: Literal["change"]
    finishes: list[str] = Field(min_length=1)
    name: str | None = Field(default=None, min_length=1, max_length=200)
    material: str | None = None
    pick: PickModel | None = None
    projection: ProjectionModel | None = None
    options: dict[str, Any] | None = None
    datum: TypedDatum | None = None
    datum_for: Literal["pick", "part", "board"] | None = None
    fit: AimModel | None = None
    seam: SeamModel | None = None
    datum_turn: tuple[Literal["x", "y", "z"], Angle] | None = None
    turn_deg: Angle | None = None
    turn_by: Angle | None = None
    grain_deg: Angle | None = None
    offset_mm: tuple[Length | None, Length | None] | None = None
    scale: tuple[Share | None, Share | None] | None = None
    repeat_mm: tuple[Side | None, Side | None] | None = None
    linked: bool = True
    flip: Literal["along", "up"] | None = None
    tile: bool | None = None
    like: str | None = None
    grain: GrainModel | None = None
    grain_edge: OnFace | None = None
    run_on: bool | None = None
    variation: VariationModel | Literal[False] | None = None


class SetOut(Asked):
    """Put a joint, or the middle of a unit, on the corner, edge or middle of a face nearest to a place."""

    kind: Literal["set_out"]
    face: int
    place: Triple
    at: Literal["corner", "edge", "middle"]
    what: Literal["joint", "centre"] = "joint"


class Balance(Asked):
    """Make the cuts at opposite borders equal on the sides of a finish that a pick holds, or on all."""

    kind: Literal["balance"]
    finish: str
    pick: PickModel | None = None


class RunAcross(Asked):
    """Let the pattern run on across the edge of a face nearest to a place; the face's own side stays."""

    kind: Literal["run_across"]
    face: int
    place: Triple


class TurnPick(Asked):
    """Turn or flip the sheet on those faces of a finish that a pick holds."""

    kind: Literal["turn_pick"]
    finish: str
    pick: PickModel
    turn_by: Angle = 0.0
    mirrored: bool = False


class DropAdjustment(Asked):
    """Take one adjustment off a finish, counted from 0."""

    kind: Literal["drop_adjustment"]
    finish: str
    row: int


class Swap(Asked):
    """Put another material in the place of one, on all its uses."""

    kind: Literal["swap"]
    material: str
    to: str


class Remove(Asked):
    """Take finishes off the schedule."""

    kind: Literal["remove"]
    finishes: list[str] = Field(min_length=1)


class Move(Asked):
    """Move a finish to another row."""

    kind: Literal["move"]
    finish: str
    to: int


OnImage = Annotated[float, Field(ge=-100, le=100)]
"""A share of an image; its neighbours may be meant too."""


class Marks(Asked):
    """Two marks on a material's image, as shares from its lower left corner, and the true distance between."""

    a: tuple[OnImage, OnImage]
    b: tuple[OnImage, OnImage]
    distance: Length
    way: Literal["free", "along", "up"] = "free"

    def size(self, repeat_mm: tuple[float, float]) -> tuple[float, float]:
        """The real size of one repeat that follows."""
        return calibrated(repeat_mm, self.a, self.b, self.distance, self.way)


class ChangeMaterial(Asked):
    """Change a material of the project."""

    kind: Literal["material"]
    material: str
    repeat_mm: tuple[Side | None, Side | None] | None = None
    linked: bool = True
    grain_deg: Angle | None = None
    name: str | None = Field(default=None, min_length=1, max_length=200)
    normal_y: Literal["+", "-"] | None = None
    marks: Marks | None = None


class Accept(Asked):
    """Lay a finish on faces that a revision left in doubt."""

    kind: Literal["accept"]
    finish: str
    faces: list[int] = Field(min_length=1)


class KeepPick(Asked):
    """Keep a pick under a name."""

    kind: Literal["keep_pick"]
    name: Name
    pick: PickModel


class KeepView(Asked):
    """Keep where the eye stands under a name. picture: a small JPEG in base64, of what it sees."""

    kind: Literal["keep_view"]
    name: Name
    position_mm: Triple
    target_mm: Triple
    up: Triple
    height_mm: Annotated[Number, Field(gt=0)] | None
    clip: ClipBody | None = None
    picture: Annotated[str, Field(max_length=200_000)] | None = None


class Forget(Asked):
    """Forget a pick or a view."""

    kind: Literal["forget"]
    what: Literal["pick_set", "view"]
    key: str


class TakeBack(Asked):
    """Bring back a view or a pick that was forgotten."""

    kind: Literal["take_back"]
    what: Literal["pick_set", "view"]
    key: str


class TakeSource(Asked):
    """Take a material that the model brought, counted from 0, as a material of the project."""

    kind: Literal["take_source"]
    source: Annotated[int, Field(ge=0, le=1_000_000)]


class PlaceModel(Asked):
    """Read the model's numbers in another unit, with another axis up, or put it elsewhere."""

    kind: Literal["place_model"]
    unit: Literal["mm", "cm", "m", "in", "ft"]
    up: Literal["y", "z"]
    shift_mm: tuple[Length, Length, Length] = (0.0, 0.0, 0.0)


class Answer(Asked):
    """Settle a question of the list of what a newer model changed."""

    kind: Literal["answer"]
    item: Annotated[int, Field(ge=0, le=1_000_000)]


class EditRequest(Asked):
    """An edit and the revision that it is based on."""

    revision: RevisionNumber
    edit: Annotated[
        Lay
        | Split
        | Change
        | SetOut
        | Balance
        | RunAcross
        | TurnPick
        | DropAdjustment
        | Swap
        | Remove
        | Move
        | ChangeMaterial
        | Accept
        | KeepPick
        | KeepView
        | Forget
        | TakeBack
        | TakeSource
        | PlaceModel
        | Answer,
        Field(discriminator="kind"),
    ]


class Based(Asked):
    """The revision that undo or redo is based on."""

    revision: RevisionNumber
