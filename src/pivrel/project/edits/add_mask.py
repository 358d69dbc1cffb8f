"""Say of a coat where else it lies, or lies not."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from pivrel.project.coat_starts import MASKS, Ground, MaskStart
from pivrel.project.edits.base import Before, Done, Edit, EditError
from pivrel.project.edits.setting_out import with_finish
from pivrel.recipe import changed
from pivrel.recipe.finishes import MOST_COATS
from pivrel.recipe.masks import AnyMask, EveryMask, MaskModel


class AddMask(Edit):
    """Put one more mask to where a coat of a finish lies, counted from 0, as it begins on the faces of the finish."""

    kind: Literal["add_mask"]
    finish: str
    row: Annotated[int, Field(ge=0, lt=MOST_COATS)]
    start: MaskStart

    def done(self, before: Before) -> Done:
        stated = before.finish(self.finish).body
        if self.row >= len(stated.coats):
            raise EditError(f"{stated.name} has no coat {self.row + 1}")
        coats = list(stated.coats)
        coat = coats[self.row]
        mask = MASKS[self.start](Ground.of(before, stated), stated)
        coats[self.row] = changed(coat, where=_with(coat.where, mask))
        after = with_finish(before.contents, self.finish, changed(stated, coats=tuple(coats)))
        return Done(after, f"where coat {coat.name} of {stated.name} lies")


def _with(where: MaskModel | None, mask: MaskModel) -> MaskModel:
    if where is None:
        return mask
    if isinstance(where, AnyMask):
        return AnyMask(any=(*where.any, mask))
    return EveryMask(every=(*(where.every if isinstance(where, EveryMask) else (where,)), mask))
