"""Turn, shift and size the sheet of finishes in one go."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit, merged
from pivrel.recipe import FinishModel
from pivrel.recipe.typed import Angle, Length, Share
from pivrel.store.documents import Contents


class PlaceSheet(FinishEdit):
    """Turn, shift and size the sheet of finishes in one go, as one drag does; what is left out stays."""

    what: ClassVar[str] = "sheet"
    kind: Literal["place_sheet"]
    offset_mm: tuple[Length, Length]
    turn_deg: Angle | None = None
    scale: tuple[Share, Share] | None = None

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        turn = {} if self.turn_deg is None else {"turn_deg": self.turn_deg, "grain_deg": None}
        return {
            "offset_mm": self.offset_mm,
            **turn,
            "scale": merged(stated.scale, self.scale or (None, None)),
        }
