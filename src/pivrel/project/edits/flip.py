"""Flip the sheet of finishes."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.store.documents import Contents


class Flip(FinishEdit):
    """Flip the sheet of finishes."""

    what: ClassVar[str] = "flip"
    kind: Literal["flip"]
    way: Literal["along", "up"]

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"scale": flipped(stated.scale, self.way)}


def flipped(scale: tuple[float, float], way: Literal["along", "up"]) -> tuple[float, float]:
    """The scale of a sheet turned over one way."""
    along, up = scale
    return (-along, up) if way == "along" else (along, -up)
