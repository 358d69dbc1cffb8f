"""Shift the sheet of finishes."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit, merged
from pivrel.recipe import FinishModel
from pivrel.recipe.typed import Length
from pivrel.store.documents import Contents


class Offset(FinishEdit):
    """Shift the sheet of finishes."""

    what: ClassVar[str] = "offset"
    kind: Literal["offset"]
    offset_mm: tuple[Length | None, Length | None]

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"offset_mm": merged(stated.offset_mm, self.offset_mm)}
