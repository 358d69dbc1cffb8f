"""A coat: a material, or a change of color, roughness or metalness, over a finish."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from pivrel.core.coats.joining import Joins
from pivrel.core.coats.masks.mask import EVERYWHERE, Mask
from pivrel.core.coats.sheet_over import SheetOver
from pivrel.core.coats.tones import Color


@dataclass(frozen=True)
class Coat:
    """What lies over a finish. Its weight at a point is strength * where * alpha of its base color.

    sheet: its material; None where it only changes what it states. tint: multiplies the base color of its material, or is
    its base color. roughness, metallic: in the place of its material's.
    """

    name: str
    sheet: SheetOver | None = None
    where: Mask = EVERYWHERE
    strength: float = 1.0
    joins: Joins = Joins()
    tint: Color | None = None
    roughness: float | None = None
    metallic: float | None = None
    on: bool = True

    @property
    def sheets(self) -> Iterator[SheetOver]:
        """Every sheet that it samples: its own, and those of its masks, in the order in which they are stated."""
        if self.sheet is not None:
            yield self.sheet
        for mask in self.where.all:
            if mask.sheet is not None:
                yield mask.sheet
