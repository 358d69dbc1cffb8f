"""Lines: the sheet follows strokes drawn on the surface, and lies as evenly as it can elsewhere."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from pivrel.core.projection.base import Solved
from pivrel.core.projection.fitting import Fit
from pivrel.core.solve.flattening import flattened, free
from pivrel.core.solve.graining import grained
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.opening import opened_where_round
from pivrel.core.solve.region import Region
from pivrel.core.solve.solution import Frame, Laid, Solution, solve_regions
from pivrel.core.solve.strokes import REACH, Stroke, felt


@dataclass(frozen=True)
class Lines(Solved):
    """Without a line the surface is flattened freely, level across.

    lines: strokes, places on the surface in mm. reach: how far each turns what lies round it, as a share of the square
    root of the area.
    """

    lines: tuple[Stroke, ...] = ()
    reach: float = REACH
    kind: ClassVar[str] = "lines"
    # Without lines it has no direction of its own, which what flows between borders has.
    cost: ClassVar[float] = 0.3

    def solve(self, ground: Ground, repeat_mm: tuple[float, float], hasty: bool = False) -> Solution:
        def lay(region: Region, nearest: bool) -> tuple[Laid, ...]:
            flat, cut = opened_where_round(region)
            ties = free(flat)
            st = grained(flat, (ties, ties), flattened(flat), felt(flat, self.lines), self.reach, hasty=hasty)
            return (Laid(flat, st, cut, Frame("lines", (), np.empty((0, 3)))),)

        return solve_regions(ground, lay)

    def caveat(self, found: Fit) -> str | None:
        return None if self.lines else "flattened freely; its grain follows the lines that you draw"
