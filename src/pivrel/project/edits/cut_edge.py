"""Cut flattened finishes open along an edge, or close a cut again."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from pivrel.core.picks import as_faces, resolve
from pivrel.core.solve.cut_picks import Take, picked, with_pick
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
        was = stated.projection
        if not isinstance(was, FlattenModel):
            raise EditError(f"{stated.name} is laid by {was.kind}, which is not cut; flatten it first")
        cuts = was.cuts.edges if isinstance(was.cuts, CutEdges) else ()
        face = before.known_face(self.edge.face)
        with before.computing.short:
            # A click beside the finish, as on a panel set into a frame, means the frame's edge there.
            held = as_faces(resolve(stated.core_pick, before.surface))
            faces = np.array([face], np.int32) if face in held else held
            if not len(faces):
                raise EditError(f"{stated.name} lies on no face")
            chain = picked(before.surface, faces, np.array(self.edge.place), self.take, cuts)
        return {"projection": changed(was, cuts=CutEdges(edges=with_pick(cuts, chain)))}
