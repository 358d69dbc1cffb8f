"""Give finishes a name."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.recipe.values import Name
from pivrel.store.documents import Contents


class Rename(FinishEdit):
    """Give finishes a name."""

    what: ClassVar[str] = "name"
    kind: Literal["rename"]
    name: Name

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"name": self.name}
