"""Change a material of the project, and so every finish that uses it."""

from __future__ import annotations

from typing import Literal

from pivrel.project.edits.base import Before, Done, Edit, EditError, resized
from pivrel.project.marks import Marks
from pivrel.recipe import changed
from pivrel.recipe.typed import Angle, Side
from pivrel.recipe.values import Key, Name


class ChangeMaterial(Edit):
    """Change a material of the project, and so every finish that uses it; what is left out stays."""

    kind: Literal["change_material"]
    material: Key
    repeat_mm: tuple[Side | None, Side | None] | None = None
    linked: bool = True
    grain_deg: Angle | None = None
    name: Name | None = None
    normal_y: Literal["+", "-"] | None = None
    marks: Marks | None = None

    def done(self, before: Before) -> Done:
        document = before.material(self.material)
        # By the names of the fields of `MaterialBody`.
        fields: dict[str, object] = {}
        size = self._size(document.body.repeat_mm)
        if size is not None:
            fields |= {"repeat_mm": size, "estimated": False}
        if self.grain_deg is not None:
            fields["grain_deg"] = self.grain_deg % 180
        fields |= {k: v for k in ("name", "normal_y") if (v := getattr(self, k)) is not None}
        out = before.contents.copied()
        body = changed(document.body, **fields)
        out.materials[self.material] = document.with_body(body)
        words = {"repeat_mm": "repeat", "grain_deg": "grain", "name": "name", "normal_y": "normal map"}
        what = next((words[key] for key in fields if key in words), "nothing")
        return Done(out, f"{what} of {body.name}")

    def _size(self, was: tuple[float, float]) -> tuple[float, float] | None:
        """The real size of one repeat that is asked for, in mm."""
        if self.marks is not None:
            size = self.marks.size(was)
        elif self.repeat_mm is not None:
            size = resized(was, self.repeat_mm, self.linked)
        else:
            return None
        if not all(1e-3 <= side <= 1e7 for side in size):
            raise EditError("a repeat must be above zero and at most 10 km")
        return size
