"""Grain lines as a recipe states them."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from pivrel.core.projection import Lines, Projection
from pivrel.core.revision import Motion
from pivrel.recipe.projections.base import OptionsBase, ProjectionBase, moved_place
from pivrel.recipe.typed import Share
from pivrel.recipe.values import Strict, Triple

Reach = Annotated[float, Field(gt=0, le=10)]


class StrokeModel(Strict):
    """A stroke on the surface, place by place, in mm."""

    points: Annotated[tuple[Triple, ...], Field(min_length=2, max_length=10_000)]

    def moved(self, motion: Motion) -> Self:
        """The stroke on a model that was moved or is larger."""
        return self.model_copy(update={"points": tuple(moved_place(place, motion) for place in self.points)})


Strokes = Annotated[tuple[StrokeModel, ...], Field(max_length=200)]


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
        strokes = tuple(StrokeModel(points=points) for points in projection.lines)
        return cls(kind="lines", lines=strokes, reach=projection.reach)

    def moved(self, motion: Motion) -> Self:
        return self.model_copy(update={"lines": tuple(stroke.moved(motion) for stroke in self.lines)})


class LinesOptions(OptionsBase):
    """Options of grain lines."""

    kind: Literal["lines"]
    lines: Strokes = ()
    reach: Annotated[Share, Field(gt=0, le=10)] = 0.25
