"""Turn or flip the sheet on some faces of a finish."""

from __future__ import annotations

from typing import Literal

from pivrel.core.phrases import counted
from pivrel.core.picks import resolve
from pivrel.core.set_out.moves import SetOutMove
from pivrel.project.edits.base import Before, Done, Edit, EditError
from pivrel.project.edits.setting_out import with_moves
from pivrel.project.edits.turn_by import TurnBy
from pivrel.recipe import PickModel
from pivrel.recipe.typed import Angle
from pivrel.recipe.values import Key


class TurnPick(Edit):
    """Turn or flip the sheet on those faces of a finish that a pick holds; on all where it holds none."""

    kind: Literal["turn_pick"]
    finish: Key
    pick: PickModel
    turn_by: Angle = 0.0
    mirrored: bool = False

    def done(self, before: Before) -> Done:
        stated = before.finish(self.finish).body
        held = before.laid.schedule.held(self.finish)
        with before.computing.short:
            faces = held[resolve(self.pick.to_core(), before.surface)[held]]
        if len(faces) in (0, len(held)) and not self.mirrored:
            # The pick is elsewhere, or all of it: the finish itself is meant.
            return TurnBy(kind="turn_by", finishes=[self.finish], turn_by=self.turn_by).done(before)
        if not len(faces):
            raise EditError(f"none of the picked faces belongs to {stated.name}; pick some of its faces")
        if stated.projection.core.blends:
            raise EditError(
                f"{stated.projection.kind} blends one sheet over all faces; split the pick off first with "
                "Own projection"
            )
        after = with_moves(before, self.finish, [SetOutMove(faces, (0.0, 0.0), self.turn_by, self.mirrored)])
        return Done(after, f"turn of {counted(len(faces), 'face')} of {stated.name}")
