"""Lay a material on a pick."""

from __future__ import annotations

from typing import Literal

from pivrel.core.picks import resolve
from pivrel.project.edits.aims import AimModel, TypedDatum
from pivrel.project.edits.base import (
    Before,
    Done,
    Edit,
    EditError,
    Fields,
    appended,
    free_name,
    placement_of,
    with_axis_materials,
    with_material,
)
from pivrel.recipe import FinishModel, PickModel, ProjectionModel, changed
from pivrel.recipe.values import Key


class Lay(Edit):
    """Lay a material on a pick: a finish at the end of the schedule.

    datum: taken as it is in place of a fit. like: a finish whose whole placement is taken over.
    """

    kind: Literal["lay"]
    material: Key
    pick: PickModel
    projection: ProjectionModel
    aim: AimModel = AimModel()
    datum: TypedDatum | None = None
    like: Key | None = None

    def done(self, before: Before) -> Done:
        with before.computing.short:
            if not resolve(self.pick.to_core(), before.surface).any():
                raise EditError("the pick is empty: pick faces first, then lay a material on them")
        contents = with_material(before.contents, before, self.material)
        out = with_axis_materials(contents, before, self.projection).copied()
        name = free_name(out, out.materials[self.material].body.name.split(",")[0])
        stated = FinishModel(
            name=name, material=self.material, pick=self.pick, projection=self.projection, turn_deg=0.0
        )
        placed: Fields
        if self.like is not None:
            placed = placement_of(before.finish(self.like).body)
        elif self.datum is not None:
            placed = {"datum": self.datum.to_model()}
        else:
            placed = {"datum": before.fitted(stated, self.aim.to_core())}
        stated = changed(stated, **placed)
        appended(out, stated)
        return Done(out, f"lay {name}")
