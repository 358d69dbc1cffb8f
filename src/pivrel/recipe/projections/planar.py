"""Planar as a recipe states it."""

from __future__ import annotations

from typing import ClassVar, Literal, Self

from pivrel.core.projection import Planar, Projection
from pivrel.recipe.projections.base import OptionsBase, ProjectionBase

Backs = Literal["through", "unmirrored"]


class PlanarModel(ProjectionBase):
    """The sheet pushed straight onto the model."""

    core: ClassVar[type[Projection]] = Planar
    kind: Literal["planar"]
    backs: Backs = "through"

    def to_core(self) -> Planar:
        return Planar(self.backs)

    @classmethod
    def of(cls, projection: Projection) -> Self:
        assert isinstance(projection, Planar)
        return cls(kind="planar", backs=projection.backs)


class PlanarOptions(OptionsBase):
    """Options of a planar projection."""

    kind: Literal["planar"]
    backs: Backs = "through"
