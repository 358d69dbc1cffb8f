"""Read the model's numbers in another unit, with another axis up, or put it elsewhere."""

from __future__ import annotations

from typing import Literal

from pivrel.formats.units import Unit, Upward
from pivrel.project.edits.base import Before, Done, Edit, NewModel
from pivrel.project.placing import Reading, move_between, moved_contents, moved_mesh, said
from pivrel.recipe import changed
from pivrel.recipe.typed import Length
from pivrel.store.blobs import Blob
from pivrel.store.meshes import mesh_data


class PlaceModel(Edit):
    """Read the model's numbers in another unit, with another axis up, or put it elsewhere."""

    kind: Literal["place_model"]
    unit: Unit
    up: Upward
    shift_mm: tuple[Length, Length, Length] = (0.0, 0.0, 0.0)

    def done(self, before: Before) -> Done:
        facts = before.project.model
        was, wanted = Reading.of(facts), Reading(self.unit, self.up, self.shift_mm)
        motion = move_between(was, wanted)
        placed = changed(facts, unit=self.unit, up=self.up, placed=True, shift_mm=self.shift_mm)
        model = NewModel(Blob.of(mesh_data(moved_mesh(before.surface.mesh, motion))), placed)
        label = "unit, axes and place of the model"
        return Done(moved_contents(before.contents, motion), label, said(was, wanted), model)
