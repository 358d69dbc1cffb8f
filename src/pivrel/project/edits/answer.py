"""Settle a question of the list of what a newer model changed."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from pivrel.project.edits.base import Before, Done, Edit, EditError, NewModel
from pivrel.recipe import changed


class Answer(Edit):
    """Settle a question of the list of what a newer model changed, counted from 0."""

    kind: Literal["answer"]
    item: Annotated[int, Field(ge=0, le=1_000_000)]

    def done(self, before: Before) -> Done:
        facts = before.project.model
        if not facts.revision:
            raise EditError("this model has not taken the place of another, so nothing is asked")
        answered = sorted({*facts.answered, self.item})
        model = NewModel(None, changed(facts, answered=answered))
        return Done(before.contents, "answer to the newer model", model=model)
