"""Say of a coat where else it lies, or lies not."""

from __future__ import annotations

from typing import Literal

from pivrel.project.coat_starts import MASKS, Ground, MaskStart
from pivrel.project.edits.base import Before
from pivrel.project.edits.coat_edit import CoatEdit
from pivrel.recipe import FinishModel, changed
from pivrel.recipe.coats import CoatModel
from pivrel.recipe.masks import AnyMask, EveryMask, MaskModel


class AddMask(CoatEdit):
    """Put one more mask to where a coat of a finish lies, counted from 0, as it begins on the faces of the finish."""

    kind: Literal["add_mask"]
    start: MaskStart

    def changed_coat(self, coat: CoatModel, stated: FinishModel, before: Before) -> CoatModel:
        mask = MASKS[self.start](Ground.of(before, stated), stated)
        return changed(coat, where=_with(coat.where, mask))

    def label(self, coat: CoatModel, stated: FinishModel) -> str:
        return f"where coat {coat.name} of {stated.name} lies"


def _with(where: MaskModel | None, mask: MaskModel) -> MaskModel:
    if where is None:
        return mask
    if isinstance(where, AnyMask):
        return AnyMask(any=(*where.any, mask))
    return EveryMask(every=(*(where.every if isinstance(where, EveryMask) else (where,)), mask))
