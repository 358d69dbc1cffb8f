"""Cylindrical as a recipe states it."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from pivrel.core.projection import Cylindrical, Projection
from pivrel.core.revision import Motion
from pivrel.recipe.projections.base import OptionsBase, ProjectionBase
from pivrel.recipe.typed import Angle, Side
from pivrel.recipe.values import Positive


class CylindricalModel(ProjectionBase):
    """The sheet rolled round the datum's z axis; without radius_mm it is measured."""

    core: ClassVar[type[Projection]] = Cylindrical
    kind: Literal["cylindrical"]
    radius_mm: Positive | None = None
    caps: bool = True
    cap_angle_deg: Annotated[float, Field(ge=0, le=90)] = 45.0
    whole_repeats: bool = False

    def to_core(self) -> Cylindrical:
        return Cylindrical(self.radius_mm, self.caps, self.cap_angle_deg, self.whole_repeats)

    @classmethod
    def of(cls, projection: Projection) -> Self:
        assert isinstance(projection, Cylindrical)
        return cls(
            kind="cylindrical",
            radius_mm=projection.radius_mm,
            caps=projection.caps,
            cap_angle_deg=projection.cap_angle_deg,
            whole_repeats=projection.whole_repeats,
        )

    def moved(self, motion: Motion) -> Self:
        if self.radius_mm is None:
            return self
        return self.model_copy(update={"radius_mm": self.radius_mm * motion.scale})


class CylindricalOptions(OptionsBase):
    """Options of a cylinder; a radius of None is measured."""

    kind: Literal["cylindrical"]
    radius_mm: Side | None = None
    caps: bool = True
    cap_angle_deg: Angle = 45.0
    whole_repeats: bool = False
