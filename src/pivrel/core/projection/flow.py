"""Flow: the sheet runs between two borders of the surface, and follows it wherever it bends."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar, Literal

from pivrel.core.projection.base import Solved
from pivrel.core.projection.charts import Triple
from pivrel.core.projection.fitting import Fit
from pivrel.core.solve.flowing import FlowAsked, flow
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.region import Region
from pivrel.core.solve.solution import Laid, Solution, solve_regions
from pivrel.core.solve.strokes import REACH, Stroke


@dataclass(frozen=True)
class Flow(Solved):
    """s runs along the first border, t from there to the far one, both from the first corner.

    corners: places on the border, in order round it, None to find them; of several regions those that stand nearest
    take them. shift: turns the choice of the borders by so many, counter-clockwise. hold: "size" keeps the material's
    size and runs straight from border to border, "borders" stretches `repeats` of it onto all four. proportion:
    "free", or the direction in which the repeats fill the borders while the other follows the material's own
    proportion. limits_mm: how much of the sheet lies along and across, None for as much as there is.
    whole_repeats: what goes once round is a whole number of repeats. start: a place on the border at which the sheet
    begins. lines: strokes that the sheet follows on its way, where the material keeps its size; reach: how far each turns
    what lies round it, as a share of the square root of the area.
    """

    corners: tuple[Triple, Triple, Triple, Triple] | None = None
    shift: int = 0
    hold: Literal["size", "borders"] = "size"
    repeats: tuple[int, int] | None = None
    proportion: Literal["free", "along", "across"] = "free"
    limits_mm: tuple[float | None, float | None] = (None, None)
    whole_repeats: bool = False
    start: Triple | None = None
    lines: tuple[Stroke, ...] = ()
    reach: float = REACH
    kind: ClassVar[str] = "flow"

    @property
    def closes(self) -> bool:
        return self.hold == "borders" or self.whole_repeats

    def solve(self, ground: Ground, repeat_mm: tuple[float, float], hasty: bool = False) -> Solution:
        along, across = self.repeats or (1, 1)
        asked = FlowAsked(
            corners=self.corners,
            shift=self.shift,
            hold=self.hold,
            extent_mm=(along * repeat_mm[0], across * repeat_mm[1]),
            proportion=self.proportion,
            limits_mm=self.limits_mm,
            closing_mm=repeat_mm if self.whole_repeats else None,
            start=self.start,
            lines=self.lines,
            reach=self.reach,
            hasty=hasty,
        )
        free = replace(asked, corners=None, start=None)

        def lay(region: Region, nearest: bool) -> tuple[Laid, ...]:
            return (flow(region, asked if nearest else free),)

        return solve_regions(ground, lay, self.corners[0] if self.corners else self.start)

    def caveat(self, found: Fit) -> str | None:
        return "its courses follow the border" + (" and lines" if self.lines else "")
