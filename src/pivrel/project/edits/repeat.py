"""Give the repeat of finishes a size."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit, resized
from pivrel.recipe import FinishModel
from pivrel.recipe.typed import Side
from pivrel.store.documents import Contents


class Repeat(FinishEdit):
    """Give the repeat of finishes a size."""

    what: ClassVar[str] = "repeat"
    kind: Literal["repeat"]
    repeat_mm: tuple[Side | None, Side | None]
    linked: bool = True

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        own = contents.materials[stated.material].body.repeat_mm
        along, up = stated.scale
        old = own[0] * abs(along), own[1] * abs(up)
        width, height = resized(old, self.repeat_mm, self.linked)
        # A flip stays a flip.
        scale = (width if along > 0 else -width) / own[0], (height if up > 0 else -height) / own[1]
        return {"scale": scale}
