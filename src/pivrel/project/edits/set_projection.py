"""Lay finishes by another projection."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.aims import AimModel, TypedDatum
from pivrel.project.edits.base import Before, Fields, FinishEdit, unfitted, with_axis_materials
from pivrel.recipe import FinishModel, ProjectionModel
from pivrel.store.documents import Contents


class SetProjection(FinishEdit):
    """Lay finishes by another projection. datum: taken as it is in place of a fit. aim: what is fitted to, anew."""

    what: ClassVar[str] = "projection"
    kind: Literal["set_projection"]
    projection: ProjectionModel
    datum: TypedDatum | None = None
    aim: AimModel | None = None

    def prepared(self, before: Before) -> Contents:
        return with_axis_materials(before.contents, before, self.projection)

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        if not self.projection.core.has_datum:
            return reprojected(stated, self.projection)
        if self.datum is not None:
            return {"projection": self.projection, "datum": self.datum.to_model(), "datum_for": "pick"}
        if self.aim is not None:
            datum = before.fitted(unfitted(stated, projection=self.projection), self.aim.to_core())
            return {"projection": self.projection, "datum": datum, "datum_for": "pick"}
        return reprojected(stated, self.projection)


def reprojected(stated: FinishModel, projection: ProjectionModel) -> Fields:
    """The fields of a finish by another projection; without its datum, where that would be fitted otherwise."""
    if not projection.core.has_datum:
        plain = {"projection": projection, "datum": None, "datum_for": "pick"}
        # What is cut open is laid out piece by piece; running on would lay the pieces over each other again.
        return {**plain, "run_on": False} if projection.kind == "flatten" else plain
    keeps = stated.projection.to_core().fits_like(projection.to_core())
    return {"projection": projection, "datum": stated.datum if keeps else None}
