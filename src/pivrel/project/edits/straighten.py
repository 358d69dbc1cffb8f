"""Straighten borders of flattened finishes: they become parallel lines on the sheet."""

from __future__ import annotations

from typing import Literal

import numpy as np

from pivrel.core.measure.pieces import Pieces
from pivrel.core.picks import resolve
from pivrel.core.set_out.piece_moves import touched
from pivrel.core.set_out.strips import long_borders
from pivrel.core.solve.cut_picks import Take, as_chain, with_pick
from pivrel.core.solve.cutting import Chain
from pivrel.core.solve.nearest import nearest_triangle
from pivrel.project.edits.aims import OnFace
from pivrel.project.edits.base import Before, Done, Edit, EditError
from pivrel.project.edits.cut_edge import chain_picked, flattening
from pivrel.project.edits.setting_out import with_finish
from pivrel.recipe import FinishModel, PickModel, Triple, changed
from pivrel.recipe.projections.flatten import StraightModel
from pivrel.recipe.values import Key


class Straighten(Edit):
    """Lay the edge nearest to a place, and all that it runs on to, as a straight line along the sheet; or let it be again.

    It is a border of the piece that the face belongs to. strips: instead the two long borders of every piece that this
    pick touches.
    """

    kind: Literal["straighten"]
    finish: Key
    edge: OnFace | None = None
    take: Take = "run"
    strips: PickModel | None = None

    def done(self, before: Before) -> Done:
        stated = before.finish(self.finish).body
        was = flattening(stated, "straightened")
        with before.computing.short:
            pieces = before.laid.schedule.pieces(self.finish)
            straight = list(was.straight)
            for piece, chain in self._chains(stated, before, pieces):
                straight = _toggled(pieces, straight, piece, chain, again=self.edge is not None)
        projection = changed(was, straight=tuple(straight))
        after = with_finish(before.contents, self.finish, changed(stated, projection=projection))
        return Done(after, f"straight borders of {stated.name}")

    def _chains(self, stated: FinishModel, before: Before, pieces: Pieces) -> list[tuple[int, Chain]]:
        """What is to be straight, by piece."""
        if self.edge is not None:
            face = before.known_face(self.edge.face)
            chain = chain_picked(stated, before, self.edge, self.take, ())
            piece = pieces.piece_at(face)
            if piece is None:
                raise EditError(
                    f"{stated.name} does not lie on this face; click beside the border on one of its pieces"
                )
            return [(piece, chain)]
        if self.strips is None:
            raise EditError("say which border, or the pieces that are strips")
        own = touched(pieces, resolve(self.strips.to_core(), before.surface))
        return [(piece, as_chain(run)) for piece in own.tolist() for run in long_borders(pieces, piece)]


def _toggled(
    pieces: Pieces, straight: list[StraightModel], piece: int, chain: Chain, again: bool
) -> list[StraightModel]:
    """The straight borders with a further one; what is straight already is let be where it was asked for again."""
    here = [one for one in straight if _piece_at(pieces, one.on) == piece]
    there = tuple(one.along for one in here)
    after = with_pick(there, chain)
    if len(after) <= len(there) and not again:
        return straight
    on = _place_on(pieces, piece)
    elsewhere = [one for one in straight if one not in here]
    return [*elsewhere, *(StraightModel(along=along, on=on) for along in after)]


def _piece_at(pieces: Pieces, place: Triple) -> int:
    """The piece that lies nearest to a place on the model."""
    mesh = pieces.surface.mesh
    row, _ = nearest_triangle(np.array(place, float), mesh.points, mesh.corners[pieces.triangle_corners])
    return int(pieces.triangles[1][row])


def _place_on(pieces: Pieces, piece: int) -> Triple:
    """The middle of the largest triangle of a piece."""
    mesh = pieces.surface.mesh
    points = mesh.points[mesh.corners[pieces.triangle_corners[pieces.triangles[1] == piece]]]
    areas = np.linalg.norm(np.cross(points[:, 1] - points[:, 0], points[:, 2] - points[:, 0]), axis=1)
    x, y, z = np.round(points[int(np.argmax(areas))].mean(axis=0), 6) + 0.0
    return float(x), float(y), float(z)
