"""Move pieces of a finish on the sheet by hand."""

from __future__ import annotations

from typing import Literal

from pivrel.core.phrases import counted
from pivrel.core.picks import resolve
from pivrel.core.set_out.piece_moves import PieceMotion, moved_together
from pivrel.project.edits.base import Before, Done, Edit
from pivrel.project.edits.setting_out import laid_on_its_faces, with_moves
from pivrel.recipe import PickModel
from pivrel.recipe.typed import Angle, Length


class MovePieces(Edit):
    """Turn, flip and shift the pieces of a finish that a pick touches, as one, about their middle."""

    kind: Literal["move_pieces"]
    finish: str
    pick: PickModel
    shift_mm: tuple[Length, Length] = (0.0, 0.0)
    turn_by: Angle = 0.0
    flipped: bool = False

    def done(self, before: Before) -> Done:
        stated = before.finish(self.finish).body
        with before.computing.short:
            picked = resolve(self.pick.to_core(), before.surface)
            motion = PieceMotion(self.shift_mm, self.turn_by, self.flipped)
            moves = moved_together(laid_on_its_faces(before.laid, self.finish), picked, motion)
            after = with_moves(before, self.finish, moves)
        what = "flip" if self.flipped else "turn" if self.turn_by else "move"
        faces = sum(len(move.faces) for move in moves)
        return Done(after, f"{what} of pieces of {stated.name}, {counted(faces, 'face')}")
