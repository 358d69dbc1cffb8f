"""The flat view: a finish's sheet and the pieces on it."""

from __future__ import annotations

from pivrel.web.wire.base import Answer


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
    """The pieces of a finish, in the order of their numbers. overlap_m2: what of the sheet is taken more than once."""

    pieces: list[FlatPiece]
    overlap_m2: float
