"""The flat view: a finish's sheet and the pieces on it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from pivrel.core.sheet.material import Box
from pivrel.recipe.typed import Length
from pivrel.web.wire.base import Answer, Request


class FlatPiece(Answer):
    """A piece of a finish on the sheet.

    face: the first of its faces. size: how long it lies for its true length, by its area. box_mm: least s and t,
    greatest s and t.
    """

    face: int
    faces: int
    area_m2: float
    size: float
    box_mm: tuple[float, float, float, float]


class FlatHeader(Answer):
    """The pieces of a finish, in the order of their numbers.

    overlap_m2: what of the sheet is taken more than once. avoid_mm: the areas to avoid within the first repeat, in mm of
    the model; touching: the pieces that lie on one.
    """

    pieces: list[FlatPiece]
    overlap_m2: float
    avoid_mm: tuple[Box, ...]
    touching: list[int]


class FlatPicture(Request):
    """How a picture of the flat view is drawn.

    per_m: pixels per m; without it by the pixels of its longest side. bleed_mm: how far the sheet shows beyond the
    pieces. shows: on the pieces. square_mm: of the checker.
    """

    per_m: Annotated[float, Field(gt=0, le=1e6)] | None = None
    longest: Annotated[int, Field(ge=16, le=32768)] | None = None
    bleed_mm: Annotated[Length, Field(ge=0, le=1e5)] = 10.0
    shows: Literal["material", "checker", "plain"] = "material"
    square_mm: Annotated[float, Field(ge=1e-3, le=1e6)] = 100.0
    outlines: bool = True


class PaintedPicture(Answer):
    """A painted picture that came back: its material, and the place of its lower left corner in mm of the sheet."""

    material: str
    low_mm: tuple[float, float]
    said: str
