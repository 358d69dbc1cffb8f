"""Cut flattened finishes open along an edge, or close a cut again."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from pivrel.core.picks import as_faces, resolve
from pivrel.core.solve.cut_picks import Take, picked, with_pick
from pivrel.core.solve.cutting import Chain
from pivrel.project.edits.aims import OnFace
from pivrel.project.edits.base import Before, EditError, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.recipe.projections.flatten import CutEdges, FlattenModel
from pivrel.recipe.values import changed
from pivrel.store.documents import Contents


class CutEdge(FinishEdit):
    """Cut along the edge nearest to a place, all that it runs on to, or the shortest way there from the cut before.

    What is cut already is closed again. Cuts that were found by themselves give way to those that are picked.
    """

    what: ClassVar[str] = "cuts"
    kind: Literal["cut_edge"]
    edge: OnFace
    take: Take = "edge"

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        was = flattening(stated, "cut")
        cuts = was.cuts.edges if isinstance(was.cuts, CutEdges) else ()
        chain = chain_picked(stated, before, self.edge, self.take, cuts)
        return {"projection": changed(was, cuts=CutEdges(edges=with_pick(cuts, chain)))}


def flattening(stated: FinishModel, done: str) -> FlattenModel:
    """How a finish is flattened; EditError where it is laid otherwise. done: what is to be done with it, in a word."""
    if not isinstance(stated.projection, FlattenModel):
        raise EditError(
            f"{stated.name} is laid by {stated.projection.kind}, which is not {done}; flatten it first"
        )
    return stated.projection


def chain_picked(
    stated: FinishModel, before: Before, edge: OnFace, take: Take, there: tuple[Chain, ...]
) -> Chain:
    """The places along the edges of a finish that a click means; there: the chains before, for the way from their end."""
    face = before.known_face(edge.face)
    with before.computing.short:
        # A click beside the finish, as on a panel set into a frame, means the frame's edge there.
        held = as_faces(resolve(stated.core_pick, before.surface))
        faces = np.array([face], np.int32) if face in held else held
        if not len(faces):
            raise EditError(f"{stated.name} lies on no face")
        return picked(before.surface, faces, np.array(edge.place), take, there)
