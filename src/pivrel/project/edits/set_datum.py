"""Put the datum of finishes where it is stated."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.aims import TypedDatum
from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.store.documents import Contents


class SetDatum(FinishEdit):
    """Put the datum of finishes where it is stated."""

    what: ClassVar[str] = "datum"
    kind: Literal["set_datum"]
    datum: TypedDatum

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"datum": self.datum.to_model(), "datum_for": "pick"}
