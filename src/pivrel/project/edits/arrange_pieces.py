"""Arrange pieces of a finish on the sheet: set apart, packed, or those of one shape stacked."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from pivrel.core.arrays import Mask
from pivrel.core.geometry.nesting import Turns
from pivrel.core.picks import resolve
from pivrel.core.set_out.moves import LaidFinish, SetOutMove
from pivrel.core.set_out.piece_moves import packed_together, set_apart, split_off, stacked
from pivrel.project.edits.base import Before, Done, Edit
from pivrel.project.edits.setting_out import laid_on_its_faces, with_moves
from pivrel.recipe import PickModel
from pivrel.recipe.typed import Length
from pivrel.recipe.values import Key

How = Literal["apart", "packed", "stacked", "split"]

WORDS: dict[How, str] = {
    "apart": "setting apart",
    "packed": "packing",
    "stacked": "stacking",
    "split": "splitting off",
}


class ArrangePieces(Edit):
    """Arrange the pieces of a finish that a pick touches, or split the picked faces off.

    gap_mm: between pieces at least, where they do not lie stacked. turns: how they may be turned to be packed.
    """

    kind: Literal["arrange_pieces"]
    finish: Key
    pick: PickModel
    how: How
    gap_mm: Annotated[Length, Field(ge=0, le=1e5)] = 20.0
    turns: Turns = "none"

    def done(self, before: Before) -> Done:
        stated = before.finish(self.finish).body
        computing = before.computing
        # Packing by shape takes seconds, for which no page should wait.
        with computing.long_work() if self.how == "packed" else computing.short:
            picked = resolve(self.pick.to_core(), before.surface)
            laid = laid_on_its_faces(before.laid, self.finish)
            moves = self._moves(laid, picked)
            after = with_moves(before, self.finish, moves)
        said = None if moves else "nothing had to move"
        return Done(after, f"{WORDS[self.how]} of pieces of {stated.name}", said)

    def _moves(self, laid: LaidFinish, picked: Mask) -> list[SetOutMove]:
        match self.how:
            case "apart":
                return set_apart(laid, picked, self.gap_mm)
            case "packed":
                return packed_together(laid, picked, self.gap_mm, self.turns)
            case "stacked":
                return stacked(laid, picked)
            case "split":
                return split_off(laid, picked, self.gap_mm)
