"""Give finishes a name."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.store.documents import Contents


class Rename(FinishEdit):
    """Give finishes a name."""

    what: ClassVar[str] = "name"
    kind: Literal["rename"]
    name: Annotated[str, Field(min_length=1, max_length=200)]

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"name": self.name}
