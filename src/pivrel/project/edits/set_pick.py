"""Lay finishes on other faces."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel, PickModel
from pivrel.store.documents import Contents


class SetPick(FinishEdit):
    """Lay finishes on other faces."""

    what: ClassVar[str] = "pick"
    kind: Literal["set_pick"]
    pick: PickModel

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"pick": self.pick}
