"""By a pattern: a channel of a material, or noise."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.coats.masks.mask import Given, Mask, Places
from pivrel.core.coats.noise import octaves_at
from pivrel.core.coats.sheet_over import SheetOver


def between(value: Floats, low: float, high: float) -> Floats:
    """0 at low, 1 at high; high may be below low. A step where they are alike."""
    if high == low:
        return (value >= low).astype(np.float64)
    return np.clip((value - low) / (high - low), 0, 1)


@dataclass(frozen=True)
class ImageMask(Mask):
    """A channel of a material, by a laying of its own: 0 where it is `low`, 1 where it is `high`."""

    of: SheetOver
    channel: str = "base_color"
    low: float = 0.0
    high: float = 1.0
    kind: ClassVar[str] = "image"

    @property
    def sheet(self) -> SheetOver:
        return self.of

    def weight(self, at: Places, given: Given) -> Floats:
        return between(given.channel(self.of, self.channel, at), self.low, self.high)


@dataclass(frozen=True)
class Noise(Mask):
    """Gradient noise of the place itself: 0 where it is `low`, 1 where it is `high`."""

    size_mm: float
    seed: int = 1
    low: float = 0.4
    high: float = 0.6
    octaves: int = 4
    kind: ClassVar[str] = "noise"

    def weight(self, at: Places, given: Given) -> Floats:
        return between(octaves_at(at.points, self.size_mm, self.seed, self.octaves), self.low, self.high)
