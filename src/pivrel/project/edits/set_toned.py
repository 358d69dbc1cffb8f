"""Tone some faces of a finish otherwise than the rest."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.recipe.coats import TonedModel
from pivrel.store.documents import Contents


class SetToned(FinishEdit):
    """Tone these faces otherwise than the rest, in the place of all that were toned before."""

    what: ClassVar[str] = "tone of some faces"
    kind: Literal["set_toned"]
    toned: Annotated[tuple[TonedModel, ...], Field(max_length=1000)]

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"toned": self.toned}
