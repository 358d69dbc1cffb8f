"""Turn where the seam of a round projection falls."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import model_validator

from pivrel.core.projection import seam_turned
from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.project.edits.turn_datum import own_datum
from pivrel.recipe import DatumModel, FinishModel, Triple
from pivrel.store.documents import Contents


class TurnSeam(FinishEdit):
    """Turn where a seam falls: away from a direction, or through a place."""

    what: ClassVar[str] = "seam"
    kind: Literal["turn_seam"]
    away_from: Triple | None = None
    to_point: Triple | None = None

    @model_validator(mode="after")
    def _one(self) -> TurnSeam:
        if (self.away_from is None) == (self.to_point is None):
            raise ValueError("a seam is turned away from a direction or to a point: give one of them")
        return self

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        turned = seam_turned(own_datum(stated), self.away_from, self.to_point)
        return {"datum": DatumModel.of(turned)}
