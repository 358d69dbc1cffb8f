"""Give a pick within a finish a projection of its own."""

from __future__ import annotations

from typing import Literal

from pivrel.core.picks import resolve
from pivrel.project.edits.aims import AimModel
from pivrel.project.edits.base import Before, Done, Edit, EditError, appended, free_name, with_axis_materials
from pivrel.project.edits.move import moved
from pivrel.recipe import PickModel, ProjectionModel, changed
from pivrel.recipe.picks import EveryPick
from pivrel.recipe.values import Key


class Split(Edit):
    """Give a pick within a finish a projection of its own: a row below it, with the same material."""

    kind: Literal["split"]
    finish: Key
    pick: PickModel
    projection: ProjectionModel
    aim: AimModel = AimModel()

    def done(self, before: Before) -> Done:
        source = before.finish(self.finish).body
        with before.computing.short:
            picked = resolve(self.pick.to_core(), before.surface)
        if not picked[before.laid.schedule.held(self.finish)].any():
            raise EditError("none of the picked faces belongs to this finish; pick some of its faces")
        out = with_axis_materials(before.contents, before, self.projection).copied()
        stated = changed(
            source,
            name=free_name(out, source.name),
            pick=EveryPick(every=(source.pick, self.pick)),
            projection=self.projection,
            datum=None,
            datum_for="pick",
        )
        datum = before.fitted(stated, self.aim.to_core())
        added = appended(out, changed(stated, datum=datum))
        row = list(out.finishes).index(self.finish)
        return Done(moved(out, added, row + 1), f"own projection for a part of {source.name}")
