"""Lay a new coat over a finish."""

from __future__ import annotations

from typing import Literal

from pivrel.project.coat_starts import Ground, Start, begun
from pivrel.project.edits.base import Before, Done, Edit, EditError
from pivrel.project.edits.set_coats import fitted
from pivrel.project.edits.setting_out import with_finish
from pivrel.recipe import changed
from pivrel.recipe.finishes import MOST_COATS
from pivrel.recipe.values import Key


class AddCoat(Edit):
    """Lay a new coat over all others of a finish, as it begins where it is to lie."""

    kind: Literal["add_coat"]
    finish: Key
    start: Start

    def done(self, before: Before) -> Done:
        stated = before.finish(self.finish).body
        if len(stated.coats) >= MOST_COATS:
            raise EditError(f"{stated.name} has {MOST_COATS} coats already; take one off first")
        coat = begun(self.start, stated, Ground.of(before, stated), {coat.name for coat in stated.coats})
        coats = (*stated.coats, fitted(coat, stated, before))
        after = with_finish(before.contents, self.finish, changed(stated, coats=coats))
        return Done(after, f"coat {coat.name} of {stated.name}")
