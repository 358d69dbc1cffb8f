"""Let the pattern of finishes run on across as many edges as can be, or not."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.store.documents import Contents


class RunOn(FinishEdit):
    """Let the pattern of finishes run on across as many edges as can be, or not."""

    what: ClassVar[str] = "running on"
    kind: Literal["run_on"]
    run_on: bool

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"run_on": self.run_on}
