"""Turn the sheet of finishes further."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.recipe.typed import Angle
from pivrel.store.documents import Contents


class TurnBy(FinishEdit):
    """Turn the sheet of finishes further."""

    what: ClassVar[str] = "turn"
    kind: Literal["turn_by"]
    turn_by: Angle

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        if stated.grain_deg is not None:
            return {"grain_deg": (stated.grain_deg + self.turn_by) % 180}
        return {"turn_deg": ((stated.turn_deg or 0.0) + self.turn_by) % 360}
