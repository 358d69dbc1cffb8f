"""Take adjustments off a finish."""

from __future__ import annotations

from typing import Literal

from pivrel.project.edits.base import Before, Done, Edit, EditError
from pivrel.project.edits.setting_out import with_finish
from pivrel.recipe import changed
from pivrel.recipe.finishes import AdjustmentModel
from pivrel.recipe.values import Key, RowNumber


class DropAdjustment(Edit):
    """Take one adjustment off a finish, counted from 0, or all of them where none is named."""

    kind: Literal["drop_adjustment"]
    finish: Key
    row: RowNumber | None = None

    def done(self, before: Before) -> Done:
        stated = before.finish(self.finish).body
        if self.row is None:
            left: tuple[AdjustmentModel, ...] = ()
        elif not 0 <= self.row < len(stated.adjust):
            raise EditError(f"{stated.name} has no adjustment {self.row + 1}")
        else:
            left = stated.adjust[: self.row] + stated.adjust[self.row + 1 :]
        after = with_finish(before.contents, self.finish, changed(stated, adjust=left))
        what = "adjustment" if self.row is not None else "adjustments"
        return Done(after, f"{what} of {stated.name}")
