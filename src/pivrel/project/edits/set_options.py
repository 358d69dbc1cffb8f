"""Change some options of the projection that finishes have."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, EditError, Fields, FinishEdit, with_axis_materials
from pivrel.project.edits.set_projection import reprojected
from pivrel.recipe import FinishModel
from pivrel.recipe.projections import OptionsModel, ProjectionModel, with_options
from pivrel.store.documents import Contents


class SetOptions(FinishEdit):
    """Change some options of the projection that finishes have; those left out stay as they are."""

    what: ClassVar[str] = "projection"
    kind: Literal["set_options"]
    options: OptionsModel

    def prepared(self, before: Before) -> Contents:
        contents = before.contents
        for key in self.finishes:
            contents = with_axis_materials(contents, before, self._applied(before.finish(key).body))
        return contents

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return reprojected(stated, self._applied(stated))

    def _applied(self, stated: FinishModel) -> ProjectionModel:
        if self.options.kind != stated.projection.kind:
            raise EditError(
                f"{stated.name} is laid by {stated.projection.kind}, which has no options of {self.options.kind}"
            )
        return with_options(stated.projection, self.options)
