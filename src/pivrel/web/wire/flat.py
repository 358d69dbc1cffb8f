"""The flat view: a finish's sheet and the pieces on it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from pivrel.core.geometry.nesting import Board, Turns
from pivrel.core.sheet.material import Box
from pivrel.recipe.typed import Length, Side
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
    the model; touching: the pieces that lie on one. bare_faces, bare_m2: what is bare of the parts that the finish lies on.
    """

    pieces: list[FlatPiece]
    overlap_m2: float
    avoid_mm: tuple[Box, ...]
    touching: list[int]
    bare_faces: int
    bare_m2: float


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


class PatternAsked(Request):
    """How pieces are cut out.

    width_mm, height_mm: of the boards that they are nested on; without both they are drawn as they lie. turns: how pieces
    may be turned there. each: a file for each board.
    """

    width_mm: Side | None = None
    height_mm: Side | None = None
    gap_mm: Annotated[Length, Field(ge=0, le=1e4)] = 5.0
    margin_mm: Annotated[Length, Field(ge=0, le=1e4)] = 5.0
    turns: Turns = "none"
    each: bool = False

    @property
    def board(self) -> Board | None:
        """The boards that are asked for."""
        if self.width_mm is None or self.height_mm is None:
            return None
        return Board(self.width_mm, self.height_mm, self.gap_mm, self.margin_mm)


class TooLarge(Answer):
    """A piece that no board holds, by its number in the pattern."""

    number: int
    size_mm: tuple[float, float]


class BoardsTold(Answer):
    """How much of each board is used, as a share, and the pieces that no board holds."""

    used: list[float]
    too_large: list[TooLarge]
