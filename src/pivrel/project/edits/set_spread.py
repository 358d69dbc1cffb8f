"""Let the pieces of finishes differ a little in lightness."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.recipe.coats import SpreadModel
from pivrel.store.documents import Contents


class SetSpread(FinishEdit):
    """Let each piece of finishes be a little lighter or darker; none makes them alike."""

    what: ClassVar[str] = "spread of lightness"
    kind: Literal["set_spread"]
    spread: SpreadModel | None

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"spread": self.spread}
