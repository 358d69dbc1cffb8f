"""Tint finishes."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.recipe.coats import HexColor
from pivrel.store.documents import Contents


class SetTint(FinishEdit):
    """Tint finishes: their base color is multiplied by a color; none leaves it as it is."""

    what: ClassVar[str] = "tint"
    kind: Literal["set_tint"]
    tint: HexColor | None

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"tint": self.tint}
