"""Move pieces of a finish on the sheet by hand."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from pivrel.core.phrases import counted
from pivrel.core.picks import resolve
from pivrel.core.set_out.piece_moves import PieceMotion, moved_together
from pivrel.project.edits.base import Before, Done, Edit
from pivrel.project.edits.setting_out import laid_on_its_faces, with_moves
from pivrel.recipe import PickModel
from pivrel.recipe.typed import Angle, Length, Share
from pivrel.recipe.values import Key


class MovePieces(Edit):
    """Turn, flip, size and shift the pieces of a finish that a pick touches, as one, about their middle.

    size: what they are to lie at for their true size; None leaves it.
    """

    kind: Literal["move_pieces"]
    finish: Key
    pick: PickModel
    shift_mm: tuple[Length, Length] = (0.0, 0.0)
    turn_by: Angle = 0.0
    flipped: bool = False
    size: Annotated[Share, Field(ge=0.01, le=100)] | None = None

    def done(self, before: Before) -> Done:
        stated = before.finish(self.finish).body
        with before.computing.short:
            picked = resolve(self.pick.to_core(), before.surface)
            laid = laid_on_its_faces(before.laid, self.finish)
            motion = PieceMotion(self.shift_mm, self.turn_by, self.flipped, self.size)
            moves = moved_together(laid, picked, motion)
            after = with_moves(before, self.finish, moves)
        what = "size" if self.size else "flip" if self.flipped else "turn" if self.turn_by else "move"
        faces = sum(len(move.faces) for move in moves)
        return Done(after, f"{what} of pieces of {stated.name}, {counted(faces, 'face')}")
