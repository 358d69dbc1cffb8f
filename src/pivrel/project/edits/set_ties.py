"""Tie places of the sheet to places of the model."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from pivrel.core.sheet.tie import TieBy
from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.recipe.finishes import TieModel
from pivrel.store.documents import Contents


class SetTies(FinishEdit):
    """Tie places of the sheet to places of the model, in the place of all ties before; by: what they may do to it."""

    what: ClassVar[str] = "ties"
    kind: Literal["set_ties"]
    tie: Annotated[tuple[TieModel, ...], Field(max_length=100)]
    by: TieBy | None = None

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"tie": self.tie, "tie_by": self.by or stated.tie_by}
