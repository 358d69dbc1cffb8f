"""Grain lines as a recipe states them."""

from __future__ import annotations

from typing import ClassVar, Literal, Self

from pivrel.core.projection import Lines, Projection
from pivrel.core.revision import Motion
from pivrel.recipe.projections.base import OptionsBase, ProjectionBase
from pivrel.recipe.projections.strokes import Reach, ReachOption, Strokes, strokes_of


class LinesModel(ProjectionBase):
    """The sheet follows strokes; without any the surface is flattened freely.

    reach: how far a stroke turns what lies round it, as a share of the square root of the area.
    """

    core: ClassVar[type[Projection]] = Lines
    kind: Literal["lines"]
    lines: Strokes = ()
    reach: Reach = 0.25

    def to_core(self) -> Lines:
        return Lines(tuple(stroke.points for stroke in self.lines), self.reach)

    @classmethod
    def of(cls, projection: Projection) -> Self:
        assert isinstance(projection, Lines)
        return cls(kind="lines", lines=strokes_of(projection.lines), reach=projection.reach)

    def moved(self, motion: Motion) -> Self:
        return self.model_copy(update={"lines": tuple(stroke.moved(motion) for stroke in self.lines)})


class LinesOptions(OptionsBase):
    """Options of grain lines."""

    kind: Literal["lines"]
    lines: Strokes = ()
    reach: ReachOption = 0.25
