"""Place finishes like another one: projection, datum, and how the sheet lies."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit, placement_of
from pivrel.recipe import FinishModel
from pivrel.recipe.values import Key
from pivrel.store.documents import Contents


class PlaceLike(FinishEdit):
    """Place finishes like another one: projection, datum, and how the sheet lies."""

    what: ClassVar[str] = "placement"
    kind: Literal["place_like"]
    like: Key

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return placement_of(before.finish(self.like).body)
