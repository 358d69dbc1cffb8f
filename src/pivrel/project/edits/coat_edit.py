"""What edits of one coat of a finish have in common."""

from __future__ import annotations

from abc import abstractmethod
from typing import Annotated

from pydantic import Field

from pivrel.project.edits.base import Before, Done, Edit, EditError
from pivrel.project.edits.setting_out import with_finish
from pivrel.recipe import FinishModel, changed
from pivrel.recipe.coats import CoatModel
from pivrel.recipe.finishes import MOST_COATS
from pivrel.recipe.values import Key


class CoatEdit(Edit):
    """An edit of one coat of a finish, counted from 0."""

    finish: Key
    row: Annotated[int, Field(ge=0, lt=MOST_COATS)]

    @abstractmethod
    def changed_coat(self, coat: CoatModel, stated: FinishModel, before: Before) -> CoatModel:
        """The coat as it shall be. EditError where that cannot be. stated: the finish that it lies on."""

    @abstractmethod
    def label(self, coat: CoatModel, stated: FinishModel) -> str:
        """What undo shows."""

    def done(self, before: Before) -> Done:
        stated = before.finish(self.finish).body
        if self.row >= len(stated.coats):
            raise EditError(f"{stated.name} has no coat {self.row + 1}")
        coats = list(stated.coats)
        coat = coats[self.row]
        coats[self.row] = self.changed_coat(coat, stated, before)
        after = with_finish(before.contents, self.finish, changed(stated, coats=tuple(coats)))
        return Done(after, self.label(coat, stated))
