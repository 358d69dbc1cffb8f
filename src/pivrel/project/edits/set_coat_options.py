"""Change some options of the projection that a coat has."""

from __future__ import annotations

from typing import Literal

from pivrel.project.edits.base import Before, EditError
from pivrel.project.edits.coat_edit import CoatEdit
from pivrel.project.edits.set_coats import fitted
from pivrel.recipe import FinishModel, changed
from pivrel.recipe.coats import CoatModel
from pivrel.recipe.projections import OptionsModel, with_options


class SetCoatOptions(CoatEdit):
    """Change some options of the projection that one coat of a finish has, counted from 0; others stay as they are."""

    kind: Literal["set_coat_options"]
    options: OptionsModel

    def changed_coat(self, coat: CoatModel, stated: FinishModel, before: Before) -> CoatModel:
        if coat.projection is None or coat.projection.kind != self.options.kind:
            raise EditError(f"the coat {coat.name} is not laid by {self.options.kind}")
        other = changed(coat, projection=with_options(coat.projection, self.options))
        return fitted(other, stated, before)

    def label(self, coat: CoatModel, stated: FinishModel) -> str:
        return f"projection of coat {coat.name} of {stated.name}"
