"""Lay another material; the grain on the face stays as it was."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit, regrained, with_material
from pivrel.recipe import FinishModel
from pivrel.recipe.values import Key
from pivrel.store.documents import Contents


class SetMaterial(FinishEdit):
    """Lay another material; the grain on the face stays as it was."""

    what: ClassVar[str] = "material"
    kind: Literal["set_material"]
    material: Key

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return regrained(stated, contents, self.material)

    def prepared(self, before: Before) -> Contents:
        return with_material(before.contents, before, self.material)
