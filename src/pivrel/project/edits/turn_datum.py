"""Turn the datum of finishes about one of its axes."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.core.geometry.frames import Datum, turned
from pivrel.project.edits.base import Before, EditError, Fields, FinishEdit
from pivrel.recipe import DatumModel, FinishModel
from pivrel.recipe.typed import Angle
from pivrel.store.documents import Contents


class TurnDatum(FinishEdit):
    """Turn the datum of finishes about one of its axes."""

    what: ClassVar[str] = "datum"
    kind: Literal["turn_datum"]
    axis: Literal["x", "y", "z"]
    turn_by: Angle

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"datum": DatumModel.of(turned(own_datum(stated), self.axis, self.turn_by))}


def own_datum(stated: FinishModel) -> Datum:
    """The datum of a finish; EditError where each part or board has its own."""
    if stated.datum is None:
        raise EditError(
            f"each {stated.datum_for} has a datum of its own; make it one for the whole pick first"
        )
    return stated.datum.to_core()
