"""Cut the sheets of finishes into random cells."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.recipe.sheets_over import CellsModel
from pivrel.store.documents import Contents


class SetCells(FinishEdit):
    """Cut the sheets of finishes into random cells, each turned and shifted; none leaves them whole."""

    what: ClassVar[str] = "random cells"
    kind: Literal["set_cells"]
    cells: CellsModel | None

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"cells": self.cells}
