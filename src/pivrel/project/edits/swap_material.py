"""Put another material in the place of one, on all its uses."""

from __future__ import annotations

from typing import Literal

from pivrel.project.edits.base import Before, Done, Edit, regrained, with_material
from pivrel.recipe import changed
from pivrel.recipe.values import Key


class SwapMaterial(Edit):
    """Put another material in the place of one, on all its uses; mm and grain hold."""

    kind: Literal["swap_material"]
    material: Key
    to: Key

    def done(self, before: Before) -> Done:
        was = before.material(self.material).body
        out = with_material(before.contents, before, self.to).copied()
        for key, document in out.finishes.items():
            stated, fields = document.body, dict[str, object]()
            if self.material in stated.projection.axis_materials:
                fields["projection"] = stated.projection.with_material_swapped(self.material, self.to)
            if any(self.material in coat.material_ids for coat in stated.coats):
                fields["coats"] = tuple(
                    coat.with_material_swapped(self.material, self.to) for coat in stated.coats
                )
            if stated.material == self.material:
                fields |= regrained(stated, out, self.to)
            if fields:
                out.finishes[key] = document.with_body(changed(stated, **fields))
        return Done(out, f"{out.materials[self.to].body.name} in place of {was.name}")
