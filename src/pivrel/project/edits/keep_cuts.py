"""Make the cuts that were found the picked ones, to change them by hand."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.core.solve.cut_picks import chains_along
from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.project.edits.cut_edge import flattening
from pivrel.recipe import FinishModel, changed
from pivrel.recipe.projections.flatten import CutEdges
from pivrel.store.documents import Contents


class KeepCuts(FinishEdit):
    """Take the cuts of flattened finishes, however they were found, as cuts that are picked."""

    what: ClassVar[str] = "cuts"
    kind: Literal["keep_cuts"]

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        was = flattening(stated, "cut")
        if isinstance(was.cuts, CutEdges):
            return {}
        key = next(key for key, document in before.contents.finishes.items() if document.body is stated)
        with before.computing.short:
            solution = before.laid.schedule.solution(key)
            chains = () if solution is None else chains_along(before.surface, solution.cuts)
        return {"projection": changed(was, cuts=CutEdges(edges=chains))}
