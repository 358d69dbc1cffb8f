"""By where a point lies along a direction, and by where the surface looks there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.coats.masks.fades import Place
from pivrel.core.coats.masks.mask import Given, Mask, Places, falling


@dataclass(frozen=True)
class Band(Mask):
    """1 between two places along a direction, falling linearly to 0 over soft_mm outside them."""

    direction: Place
    from_mm: float
    to_mm: float
    soft_mm: float = 0.0
    kind: ClassVar[str] = "band"

    def weight(self, at: Places, given: Given) -> Floats:
        along = at.points @ (np.array(self.direction) / np.linalg.norm(self.direction))
        return falling(np.maximum(self.from_mm - along, along - self.to_mm), self.soft_mm)


@dataclass(frozen=True)
class Facing(Mask):
    """1 where the surface looks within an angle of a direction, falling linearly to 0 over soft_deg beyond it."""

    direction: Place
    within_deg: float
    soft_deg: float = 0.0
    kind: ClassVar[str] = "facing"

    def weight(self, at: Places, given: Given) -> Floats:
        towards = np.array(self.direction) / np.linalg.norm(self.direction)
        angle = np.degrees(np.arccos(np.clip(at.normals @ towards, -1, 1)))
        return falling(angle - self.within_deg, self.soft_deg)
