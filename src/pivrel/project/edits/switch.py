"""Switch finishes on or off."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.store.documents import Contents


class Switch(FinishEdit):
    """Switch finishes on or off; where one is off, what lies beneath shows."""

    what: ClassVar[str] = "switching"
    kind: Literal["switch"]
    on: bool

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"on": self.on}
