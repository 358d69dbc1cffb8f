"""Strokes as a recipe states them, for whatever follows them."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Self

from pydantic import Field

from pivrel.core.revision import Motion
from pivrel.core.solve.strokes import Stroke
from pivrel.recipe.projections.base import moved_place
from pivrel.recipe.typed import Share
from pivrel.recipe.values import Strict, Triple

Reach = Annotated[float, Field(gt=0, le=10)]
ReachOption = Annotated[Share, Field(gt=0, le=10)]


class StrokeModel(Strict):
    """A stroke on the surface, place by place, in mm."""

    points: Annotated[tuple[Triple, ...], Field(min_length=2, max_length=10_000)]

    def moved(self, motion: Motion) -> Self:
        """The stroke on a model that was moved or is larger."""
        return self.model_copy(update={"points": tuple(moved_place(place, motion) for place in self.points)})


Strokes = Annotated[tuple[StrokeModel, ...], Field(max_length=200)]


def strokes_of(lines: Iterable[Stroke]) -> tuple[StrokeModel, ...]:
    """Strokes of the core, as a recipe states them."""
    return tuple(StrokeModel(points=points) for points in lines)
