"""Give each part, board or side a datum of its own, or all of a finish one."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.core.laying.finish import DatumFor
from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.store.documents import Contents


class SetDatumFor(FinishEdit):
    """Give each part, board or side a datum of its own, or all of a finish one."""

    what: ClassVar[str] = "datum"
    kind: Literal["set_datum_for"]
    datum_for: DatumFor

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"datum_for": self.datum_for, "datum": stated.datum if self.datum_for == "pick" else None}
