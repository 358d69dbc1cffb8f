"""Change some options of the projection that a coat has."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from pivrel.project.edits.base import Before, Done, Edit, EditError
from pivrel.project.edits.set_coats import fitted
from pivrel.project.edits.setting_out import with_finish
from pivrel.recipe import changed
from pivrel.recipe.finishes import MOST_COATS
from pivrel.recipe.projections import OptionsModel, with_options


class SetCoatOptions(Edit):
    """Change some options of the projection that one coat of a finish has, counted from 0; others stay as they are."""

    kind: Literal["set_coat_options"]
    finish: str
    row: Annotated[int, Field(ge=0, lt=MOST_COATS)]
    options: OptionsModel

    def done(self, before: Before) -> Done:
        stated = before.finish(self.finish).body
        if self.row >= len(stated.coats):
            raise EditError(f"{stated.name} has no coat {self.row + 1}")
        coat = stated.coats[self.row]
        if coat.projection is None or coat.projection.kind != self.options.kind:
            raise EditError(f"the coat {coat.name} is not laid by {self.options.kind}")
        changed_coat = changed(coat, projection=with_options(coat.projection, self.options))
        coats = list(stated.coats)
        coats[self.row] = fitted(changed_coat, stated, before)
        after = with_finish(before.contents, self.finish, changed(stated, coats=tuple(coats)))
        return Done(after, f"projection of coat {coat.name} of {stated.name}")
