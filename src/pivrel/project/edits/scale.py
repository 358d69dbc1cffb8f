"""Enlarge the sheet of finishes."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit, merged
from pivrel.recipe import FinishModel
from pivrel.recipe.typed import Share
from pivrel.store.documents import Contents


class Scale(FinishEdit):
    """Enlarge the sheet of finishes."""

    what: ClassVar[str] = "scale"
    kind: Literal["scale"]
    scale: tuple[Share | None, Share | None]

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"scale": merged(stated.scale, self.scale)}
