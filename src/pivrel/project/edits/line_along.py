"""Let finishes that follow lines follow an edge as well."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.aims import OnFace
from pivrel.project.edits.base import Before, EditError, Fields, FinishEdit
from pivrel.project.edits.chains import chain_of
from pivrel.recipe import FinishModel
from pivrel.recipe.projections.flatten import FlattenModel
from pivrel.recipe.projections.flow import FlowModel
from pivrel.recipe.projections.lines import LinesModel
from pivrel.recipe.projections.strokes import StrokeModel
from pivrel.recipe.values import changed
from pivrel.store.documents import Contents


class LineAlong(FinishEdit):
    """Add the border or crease that is nearest to a place as a line that the grain follows."""

    what: ClassVar[str] = "lines"
    kind: Literal["line_along"]
    edge: OnFace

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        was = stated.projection
        if not isinstance(was, LinesModel | FlowModel | FlattenModel):
            raise EditError(f"{stated.name} is laid by {was.kind}, which follows no lines")
        stroke = StrokeModel(points=chain_of(before, self.edge))
        return {"projection": changed(was, lines=(*was.lines, stroke))}
