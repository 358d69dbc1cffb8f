"""Fit the datum of finishes anew."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.aims import AimModel
from pivrel.project.edits.base import Before, Fields, FinishEdit, unfitted
from pivrel.recipe import FinishModel
from pivrel.store.documents import Contents


class FitDatum(FinishEdit):
    """Fit the datum of finishes anew."""

    what: ClassVar[str] = "datum"
    kind: Literal["fit_datum"]
    aim: AimModel = AimModel()

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"datum": before.fitted(unfitted(stated), self.aim.to_core()), "datum_for": "pick"}
