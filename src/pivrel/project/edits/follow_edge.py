"""Let the grain of finishes run along an edge."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from pivrel.core.set_out.moves import edge_direction
from pivrel.project.edits.aims import OnFace
from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.project.edits.follow_grain import following
from pivrel.recipe import FinishModel, GrainModel
from pivrel.store.documents import Contents


class FollowEdge(FinishEdit):
    """Let the grain of finishes run along the edge of a face that is nearest to a place."""

    what: ClassVar[str] = "grain"
    kind: Literal["follow_edge"]
    edge: OnFace

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        face = before.known_face(self.edge.face)
        direction = edge_direction(before.surface, face, np.array(self.edge.place))
        return following(stated, GrainModel(along="direction", direction=direction))
