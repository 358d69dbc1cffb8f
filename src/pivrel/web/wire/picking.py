"""Picking: the pick in hand, changed by a click, an outline, a figure or a word; and the tape."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from pivrel.core.geometry.patches import CREASE_DEG
from pivrel.project.edits.aims import OnFace
from pivrel.recipe import Pair, PickModel, Triple
from pivrel.recipe.typed import Typed
from pivrel.recipe.values import MOST_LISTED, FaceId, Key
from pivrel.store.documents import ClipBody
from pivrel.web.wire.base import Answer, Request

Level = Literal[
    "face", "patch", "part", "plane", "facing", "surface", "ring", "shape", "element", "storey", "source"
]
"""What of the model a click stands for."""

Way = Literal["replace", "add", "remove", "keep", "all", "none", "invert", "grow", "shrink", "largest"]
"""How the pick in hand changes; "keep" leaves what is in both, "largest" takes the largest patches of the model."""

Figure = Literal["bare", "covered", "untrue", "smeared", "mirrored", "seams", "adjusted"]
"""A figure that stands for the faces behind it."""


class Clicked(Request):
    """The face under the pointer, and what of the model it stands for.

    place: of the click, in mm; a ring goes over the edge nearest to it. angle_deg: for "facing".
    """

    face: FaceId
    level: Level
    place: Triple | None = None
    crease_deg: Annotated[float, Field(gt=0, le=180)] = CREASE_DEG
    angle_deg: Annotated[float, Field(ge=0, le=180)] = 20.0


Entry = Annotated[float, Field(ge=-1e15, le=1e15)]
"""Of the eye's matrix. A view of the whole reach of a model stays below."""


class EyeModel(Request):
    """Where the view's eye stands; matrix: column by column, from the view's coordinates to clip space."""

    matrix: Annotated[list[Entry], Field(min_length=16, max_length=16)]
    size: tuple[Annotated[int, Field(ge=1, le=4096)], Annotated[int, Field(ge=1, le=4096)]]
    clip: ClipBody | None = None
    hidden: PickModel | None = None


class Region(Request):
    """An outline over the view in pixels. through: behind other faces too; whole: faces wholly within."""

    outline: Annotated[list[Pair], Field(min_length=3, max_length=4000)]
    eye: EyeModel
    through: bool = False
    whole: bool = False
    level: Literal["face", "patch", "part"] = "face"
    crease_deg: Annotated[float, Field(gt=0, le=180)] = CREASE_DEG


class FigurePicked(Request):
    """The faces behind a figure: of one finish, of all of them, or the bare ones. row: of which adjustment."""

    figure: Figure
    finish: Key | None = None
    row: Annotated[int, Field(ge=0, le=MOST_LISTED)] | None = None


class PickRequest(Request):
    """How the pick in hand changes. Some ways need nothing beside them."""

    base: PickModel | None = None
    how: Way
    clicked: Clicked | None = None
    region: Region | None = None
    figure: FigurePicked | None = None
    pick: PickModel | None = None


class LiesThere(Answer):
    """What lies on some faces. finish: its code, None where they are bare."""

    finish: str | None
    faces: int
    area_m2: float


class Picked(Answer):
    """The pick after a change: as a rule, in words, with its figures.

    mask: base64 of one bit a face, lowest first. lies: the finishes that a click on it meets, the largest first.
    """

    pick: PickModel
    words: str
    faces: int
    parts: int
    area_m2: float
    mask: str
    lies: list[LiesThere]


class UnseenRequest(Request):
    """A pick, and from where it is looked at."""

    pick: PickModel
    eye: EyeModel


class UnseenFaces(Answer):
    """How much of a pick does not show."""

    faces: int
    area_m2: float


class TapeRequest(Request):
    """The two ends of a tape."""

    a: OnFace
    b: OnFace


class TapeRead(Answer):
    """A tape laid over the model, and what of a pattern lies under it; None where nothing is laid there.

    repeats: of the material, along and up. units: the same in bricks, tiles or boards, where it has them.
    """

    length_mm: float
    straight_mm: float
    over_surface: bool
    points_mm: list[Triple]
    finish: str | None = None
    name: str | None = None
    along_mm: float | None = None
    up_mm: float | None = None
    repeats: Pair | None = None
    units: tuple[float | None, float | None] | None = None


class TypedNumber(Request):
    """A number as typed, and what it stands for."""

    text: Typed
    kind: Literal["length", "angle", "share"]


class NumberRead(Answer):
    """The number in mm, degrees or as a factor."""

    value: float
