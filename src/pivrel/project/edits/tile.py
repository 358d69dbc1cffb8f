"""Repeat the sheet of finishes, or show it once."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.store.documents import Contents


class Tile(FinishEdit):
    """Repeat the sheet of finishes, or show it once."""

    what: ClassVar[str] = "tiling"
    kind: Literal["tile"]
    tile: bool

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"tile": self.tile}
