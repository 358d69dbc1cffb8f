"""Box as a recipe states it."""

from __future__ import annotations

from typing import ClassVar, Literal, Self

from pivrel.core.projection import Box, Projection
from pivrel.core.revision import Motion
from pivrel.recipe.projections.base import OptionsBase, ProjectionBase
from pivrel.recipe.typed import Side
from pivrel.recipe.values import Positive

Corners = Literal["separate", "wrapped"]


class BoxModel(ProjectionBase):
    """Six planar layings; wrapped runs the pattern round the upright sides of a box of size_mm."""

    core: ClassVar[type[Projection]] = Box
    kind: Literal["box"]
    corners: Corners = "separate"
    size_mm: tuple[Positive, Positive, Positive] | None = None

    def to_core(self) -> Box:
        return Box(self.corners, self.size_mm)

    @classmethod
    def of(cls, projection: Projection) -> Self:
        assert isinstance(projection, Box)
        return cls(kind="box", corners=projection.corners, size_mm=projection.size_mm)

    def moved(self, motion: Motion) -> Self:
        if self.size_mm is None:
            return self
        return self.model_copy(update={"size_mm": tuple(side * motion.scale for side in self.size_mm)})


class BoxOptions(OptionsBase):
    """Options of a box; a size of None is measured."""

    kind: Literal["box"]
    corners: Corners = "separate"
    size_mm: tuple[Side, Side, Side] | None = None
