"""Put a joint, or the middle of a unit, on a corner, an edge or the middle of a side."""

from __future__ import annotations

from typing import Literal, assert_never

import numpy as np

from pivrel.core.set_out.moves import at_corner, at_edge, at_middle
from pivrel.project.edits.base import Before, Done, Edit
from pivrel.project.edits.setting_out import covering, laid_on_its_faces, with_moves
from pivrel.recipe import Triple
from pivrel.recipe.values import FaceId


class SetOut(Edit):
    """Put a joint, or the middle of a unit, on the corner, edge or middle of a face nearest to a place."""

    kind: Literal["set_out"]
    face: FaceId
    place: Triple
    at: Literal["corner", "edge", "middle"]
    what: Literal["joint", "centre"] = "joint"

    def done(self, before: Before) -> Done:
        face, place = before.known_face(self.face), np.array(self.place)
        key = covering(before, face, "what you clicked")
        with before.computing.short:
            laid = laid_on_its_faces(before.laid, key)
            match self.at:
                case "corner":
                    moves = at_corner(laid, face, place, self.what)
                case "edge":
                    moves = at_edge(laid, face, place, self.what)
                case "middle":
                    moves = at_middle(laid, face, self.what)
                case _:
                    assert_never(self.at)
            after = with_moves(before, key, moves)
        words = {"joint": "joint", "centre": "middle of a unit"}[self.what]
        return Done(after, f"{words} on the {self.at} in {after.finishes[key].body.name}")
