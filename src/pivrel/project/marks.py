"""A material sized by a known distance on its image."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from pivrel.materials.bringing import calibrated
from pivrel.recipe import Strict
from pivrel.recipe.typed import Length

OnImage = Annotated[float, Field(ge=-100, le=100)]
"""A share of an image; its neighbours may be meant too."""


class Marks(Strict):
    """Two marks on a material's image, as shares from its lower left corner, and the true distance between."""

    a: tuple[OnImage, OnImage]
    b: tuple[OnImage, OnImage]
    distance: Length
    way: Literal["free", "along", "up"] = "free"

    def size(self, repeat_mm: tuple[float, float]) -> tuple[float, float]:
        """The real size of one repeat that follows, in mm."""
        return calibrated(repeat_mm, self.a, self.b, self.distance, self.way)
