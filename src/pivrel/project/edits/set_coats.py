"""Lay coats over finishes."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from pivrel.project.edits.base import Before, Done, Fields, FinishEdit, with_material
from pivrel.recipe import FinishModel, changed
from pivrel.recipe.coats import CoatModel
from pivrel.recipe.finishes import MOST_COATS
from pivrel.store.documents import Contents


class SetCoats(FinishEdit):
    """Lay these coats over finishes, in the place of all coats before.

    A coat with a projection of its own and no datum is fitted to the faces of the finish.
    """

    what: ClassVar[str] = "coats"
    kind: Literal["set_coats"]
    coats: Annotated[tuple[CoatModel, ...], Field(max_length=MOST_COATS)]

    def prepared(self, before: Before) -> Contents:
        contents = before.contents
        for coat in self.coats:
            for key in coat.material_ids:
                contents = with_material(contents, before, key)
        return contents

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"coats": tuple(fitted(coat, stated, before) for coat in self.coats)}

    def done(self, before: Before) -> Done:
        done = super().done(before)
        name = self._only_changed(before)
        return done if name is None else replace(done, label=done.label.replace("coats", f"coat {name}", 1))

    def _only_changed(self, before: Before) -> str | None:
        """The name of the coat that changes, where it is one alone."""
        was = {coat.name: coat for coat in before.finish(self.finishes[0]).body.coats}
        now = {coat.name: coat for coat in self.coats}
        names = [name for name in {**was, **now} if was.get(name) != now.get(name)]
        return names[0] if len(names) == 1 else None


def fitted(coat: CoatModel, stated: FinishModel, before: Before) -> CoatModel:
    """The coat, its datum fitted to the faces of the finish where it measures from one and states none."""
    if coat.projection is None or coat.datum is not None or not coat.projection.core.has_datum:
        return coat
    as_finish = FinishModel(
        name=coat.name, material=stated.material, pick=stated.pick, projection=coat.projection
    )
    return changed(coat, datum=before.fitted(as_finish))
