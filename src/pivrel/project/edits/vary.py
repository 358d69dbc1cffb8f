"""Let no two pieces of a finish be alike; without a variation they are."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel, VariationModel
from pivrel.store.documents import Contents


class Vary(FinishEdit):
    """Let no two pieces of a finish be alike; without a variation they are."""

    what: ClassVar[str] = "variation"
    kind: Literal["vary"]
    variation: VariationModel | None

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"variation": self.variation}
