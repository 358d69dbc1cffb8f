"""Turn the sheet of finishes to an angle."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.recipe.typed import Angle
from pivrel.store.documents import Contents


class TurnTo(FinishEdit):
    """Turn the sheet of finishes to an angle."""

    what: ClassVar[str] = "turn"
    kind: Literal["turn_to"]
    turn_deg: Angle

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"turn_deg": self.turn_deg, "grain_deg": None}
