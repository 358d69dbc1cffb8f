"""Drape as a recipe states it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, ClassVar, Literal, Self, get_args

import numpy as np
from pydantic import Field

from pivrel.core.picks import NOTHING
from pivrel.core.projection import Drape, Projection
from pivrel.core.revision import Motion
from pivrel.recipe.picks import PickModel, pick_model
from pivrel.recipe.projections.base import OptionsBase, ProjectionBase, moved_place
from pivrel.recipe.projections.box import BoxModel
from pivrel.recipe.projections.cylindrical import CylindricalModel
from pivrel.recipe.projections.flow import FlowModel
from pivrel.recipe.projections.lines import LinesModel
from pivrel.recipe.projections.planar import PlanarModel
from pivrel.recipe.projections.roll import RollModel
from pivrel.recipe.projections.spherical import SphericalModel
from pivrel.recipe.typed import Length
from pivrel.recipe.values import Triple

By = Literal["smooth", "closest"]
GuideLine = Annotated[tuple[Triple, ...], Field(min_length=2, max_length=10_000)]

GuideModel = Annotated[
    PlanarModel | BoxModel | CylindricalModel | SphericalModel | FlowModel | RollModel | LinesModel,
    Field(discriminator="kind"),
]
"""How a guide itself is laid."""

GUIDES = {model.core.kind: model for model in get_args(get_args(GuideModel)[0])}


class DrapeModel(ProjectionBase):
    """The laying of a guide, taken over by faces that lie over it or under it.

    over: the faces of the guide; or lines: two lines of places that it is stretched between. shift_mm: how far it is
    moved from there. by: along its averaged normals, or from what is closest. laid: how the guide is laid.
    """

    core: ClassVar[type[Projection]] = Drape
    kind: Literal["drape"]
    over: PickModel | None = None
    lines: tuple[GuideLine, GuideLine] | None = None
    shift_mm: Triple = (0.0, 0.0, 0.0)
    by: By = "smooth"
    laid: GuideModel = FlowModel(kind="flow")

    def to_core(self) -> Drape:
        over = NOTHING if self.over is None else self.over.to_core()
        return Drape(over, self.lines, self.shift_mm, self.by, self.laid.to_core())

    @classmethod
    def of(cls, projection: Projection) -> Self:
        assert isinstance(projection, Drape)
        return cls(
            kind="drape",
            over=None if projection.over == NOTHING else pick_model(projection.over),
            lines=projection.lines,
            shift_mm=projection.shift_mm,
            by=projection.by,
            laid=GUIDES[projection.laid.kind].of(projection.laid),
        )

    def with_picks(self, change: Callable[[PickModel], PickModel]) -> Self:
        over = None if self.over is None else change(self.over)
        return self.model_copy(update={"over": over, "laid": self.laid.with_picks(change)})

    def moved(self, motion: Motion) -> Self:
        lines = self.lines and tuple(
            tuple(moved_place(place, motion) for place in line) for line in self.lines
        )
        x, y, z = (motion.scale * motion.directions(np.array(self.shift_mm, float))).tolist()
        return self.model_copy(
            update={"lines": lines, "shift_mm": (x, y, z), "laid": self.laid.moved(motion)}
        )


class DrapeOptions(OptionsBase):
    """Options of a drape."""

    kind: Literal["drape"]
    over: PickModel | None = None
    lines: tuple[GuideLine, GuideLine] | None = None
    shift_mm: tuple[Length, Length, Length] = (0.0, 0.0, 0.0)
    by: By = "smooth"
    laid: GuideModel = FlowModel(kind="flow")
