"""A material laid over a finish: by the finish's own laying, or by one of its own."""

from __future__ import annotations

from dataclasses import dataclass

from pivrel.core.coats.cells import Cells
from pivrel.core.geometry.frames import Datum
from pivrel.core.projection import Projection
from pivrel.core.sheet import Material, Placement


@dataclass(frozen=True)
class SheetOver:
    """key: what its images are known by. projection: None for the laying of the finish beneath, datum included.

    turn_deg, offset_mm, scale: as a finish's; without a projection they come on top of the finish's own. tile False shows
    the sheet once. cells: None for a sheet that is one.
    """

    key: str
    material: Material
    projection: Projection | None = None
    datum: Datum | None = None
    turn_deg: float = 0.0
    offset_mm: tuple[float, float] = (0.0, 0.0)
    scale: tuple[float, float] = (1.0, 1.0)
    tile: bool = True
    cells: Cells | None = None

    @property
    def placement(self) -> Placement:
        """How it lies on its raw laying, or on the finish's own sheet."""
        return Placement(self.turn_deg, self.offset_mm, self.scale)
