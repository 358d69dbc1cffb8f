"""Drape finishes over a guide that is stretched between two edges."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.aims import OnFace
from pivrel.project.edits.base import Before, EditError, Fields, FinishEdit
from pivrel.project.edits.chains import chain_of
from pivrel.project.edits.set_projection import reprojected
from pivrel.recipe import FinishModel
from pivrel.recipe.projections.drape import DrapeModel
from pivrel.store.documents import Contents


class DrapeBetween(FinishEdit):
    """Drape finishes over a guide between the two borders or creases that are nearest to two places."""

    what: ClassVar[str] = "guide"
    kind: Literal["drape_between"]
    edges: tuple[OnFace, OnFace]

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        one, other = (chain_of(before, edge) for edge in self.edges)
        if one == other:
            raise EditError("both clicks are at the same edge: a guide needs two")
        was = stated.projection if isinstance(stated.projection, DrapeModel) else DrapeModel(kind="drape")
        return reprojected(stated, was.model_copy(update={"lines": (one, other), "over": None}))
