"""Roll: the sheet lies on one face and is folded over its edges to all others."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from pivrel.core.projection.base import Solved
from pivrel.core.projection.charts import Triple
from pivrel.core.projection.fitting import Fit
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.nearest import face_at
from pivrel.core.solve.region import Region
from pivrel.core.solve.rolling import roll
from pivrel.core.solve.solution import Laid, Solution, solve_regions


@dataclass(frozen=True)
class Roll(Solved):
    """Every face is exactly true; where two ways round do not meet, the pattern breaks.

    start: the face that it starts from, by its id or by a place on it, None for each region's largest. together: the
    faces hang together instead, true near the start and softer the farther away.
    """

    start: int | Triple | None = None
    together: bool = False
    kind: ClassVar[str] = "roll"

    def solve(self, ground: Ground, repeat_mm: tuple[float, float], hasty: bool = False) -> Solution:
        start = (
            face_at(ground.surface, ground.faces, self.start) if isinstance(self.start, tuple) else self.start
        )

        def lay(region: Region, nearest: bool) -> tuple[Laid, ...]:
            return (roll(region, start if start in region.faces else None, self.together),)

        return solve_regions(ground, lay)

    def caveat(self, found: Fit) -> str | None:
        return f"rolled over from {'its largest face' if self.start is None else 'the face chosen'}"
