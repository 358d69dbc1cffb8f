"""Fades: from 0 to 1 between two places, or two distances from a point or an axis."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.coats.masks.mask import Given, Mask, Places

Place = tuple[float, float, float]
Ease = Literal["linear", "smooth"]


def eased(x: Floats, ease: Ease) -> Floats:
    """x within 0 to 1; smooth is x*x*(3 - 2x)."""
    x = np.clip(x, 0, 1)
    return x * x * (3 - 2 * x) if ease == "smooth" else x


@dataclass(frozen=True)
class Fade(Mask):
    """0 at from_mm and before it, 1 at to_mm and beyond, along the straight line between them."""

    from_mm: Place
    to_mm: Place
    ease: Ease = "linear"
    kind: ClassVar[str] = "fade"

    def weight(self, at: Places, given: Given) -> Floats:
        way = np.subtract(self.to_mm, self.from_mm)
        return eased((at.points - self.from_mm) @ way / max(float(way @ way), 1e-30), self.ease)


@dataclass(frozen=True)
class FadeRound(Mask):
    """0 at the first distance from a point, 1 at the second; either may be the larger."""

    centre_mm: Place
    radii_mm: tuple[float, float]
    ease: Ease = "linear"
    kind: ClassVar[str] = "fade_round"

    def weight(self, at: Places, given: Given) -> Floats:
        return _between(np.linalg.norm(at.points - self.centre_mm, axis=1), self.radii_mm, self.ease)


@dataclass(frozen=True)
class FadeAbout(Mask):
    """0 at the first distance from an axis, 1 at the second; either may be the larger."""

    origin_mm: Place
    axis: Place
    radii_mm: tuple[float, float]
    ease: Ease = "linear"
    kind: ClassVar[str] = "fade_about"

    def weight(self, at: Places, given: Given) -> Floats:
        along = np.array(self.axis) / np.linalg.norm(self.axis)
        away = at.points - self.origin_mm
        away = away - (away @ along)[:, None] * along
        return _between(np.linalg.norm(away, axis=1), self.radii_mm, self.ease)


def _between(distance: Floats, radii: tuple[float, float], ease: Ease) -> Floats:
    start, end = radii
    return eased((distance - start) / (end - start), ease)
