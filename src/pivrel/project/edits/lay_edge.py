"""Turn a piece on the sheet by one of its edges: level, plumb, or against the piece beyond the edge."""

from __future__ import annotations

from typing import Literal

import numpy as np

from pivrel.core.geometry.edge_chains import nearest_edge
from pivrel.core.phrases import counted
from pivrel.core.set_out.moves import edge_between
from pivrel.core.set_out.piece_moves import joined_along, laid_level
from pivrel.project.edits.aims import OnFace
from pivrel.project.edits.base import Before, Done, Edit
from pivrel.project.edits.setting_out import covering, laid_on_its_faces, with_moves

To = Literal["level", "plumb", "joined"]


class LayEdge(Edit):
    """Lay the edge of a piece that is nearest to a place along the sheet or across it, or join two pieces along it.

    Of two pieces that are joined the smaller one moves.
    """

    kind: Literal["lay_edge"]
    edge: OnFace
    to: To

    def done(self, before: Before) -> Done:
        face, place = before.known_face(self.edge.face), np.array(self.edge.place)
        key = covering(before, face, "the face that you clicked")
        stated = before.finish(key).body
        with before.computing.short:
            laid = laid_on_its_faces(before.laid, key)
            if self.to == "joined":
                moves = joined_along(laid, *edge_between(before.surface, face, place))
            else:
                moves = laid_level(laid, nearest_edge(before.surface, face, place), self.to == "plumb")
            after = with_moves(before, key, moves)
        faces = counted(sum(len(move.faces) for move in moves), "face")
        said = f"the piece of {faces} moved against the other" if self.to == "joined" else None
        return Done(after, f"edge {self.to} in {stated.name}", said)
