"""What every kind of projection is in a recipe."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable
from typing import ClassVar, Self

import numpy as np

from pivrel.core.projection import Projection
from pivrel.core.revision import Motion
from pivrel.recipe.picks import PickModel
from pivrel.recipe.values import Strict, Triple

AxisMaterials = tuple[str | None, str | None, str | None]


class ProjectionBase(Strict):
    """A projection as a recipe states it.

    core: the class of the core that it stands for.
    """

    core: ClassVar[type[Projection]]

    @abstractmethod
    def to_core(self) -> Projection:
        """The projection with its rules."""

    @classmethod
    @abstractmethod
    def of(cls, projection: Projection) -> Self:
        """The model of a projection of this kind, every option stated."""

    @property
    def axis_materials(self) -> AxisMaterials:
        """The ids of materials of their own for the datum's axes; None for the finish's."""
        return None, None, None

    def with_material_swapped(self, was: str, now: str) -> Self:
        """The same with another material wherever one is named."""
        return self

    def with_picks(self, change: Callable[[PickModel], PickModel]) -> Self:
        """The same with its own picks changed, where it has any."""
        return self

    def moved(self, motion: Motion) -> Self:
        """The same for a model that was moved or is larger: places and lengths in mm go with it."""
        return self


def moved_place(place: Triple, motion: Motion) -> Triple:
    """A place on a model that was moved or is larger, in mm."""
    x, y, z = (float(v) for v in np.round(motion.places(np.array(place, float)), 9) + 0.0)
    return x, y, z


class OptionsBase(Strict):
    """Some options of a projection, as a person types them; those left out stay as they are."""
