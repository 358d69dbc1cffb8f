"""Spherical as a recipe states it."""

from __future__ import annotations

from typing import ClassVar, Literal, Self

from pivrel.core.projection import Projection, Spherical
from pivrel.core.revision import Motion
from pivrel.recipe.projections.base import OptionsBase, ProjectionBase
from pivrel.recipe.typed import Side
from pivrel.recipe.values import Positive


class SphericalModel(ProjectionBase):
    """Longitude and latitude about the datum's origin; without radius_mm it is measured."""

    core: ClassVar[type[Projection]] = Spherical
    kind: Literal["spherical"]
    radius_mm: Positive | None = None

    def to_core(self) -> Spherical:
        return Spherical(self.radius_mm)

    @classmethod
    def of(cls, projection: Projection) -> Self:
        assert isinstance(projection, Spherical)
        return cls(kind="spherical", radius_mm=projection.radius_mm)

    def moved(self, motion: Motion) -> Self:
        if self.radius_mm is None:
            return self
        return self.model_copy(update={"radius_mm": self.radius_mm * motion.scale})


class SphericalOptions(OptionsBase):
    """Options of a sphere; a radius of None is measured."""

    kind: Literal["spherical"]
    radius_mm: Side | None = None
