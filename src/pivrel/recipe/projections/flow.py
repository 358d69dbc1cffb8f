"""Flow as a recipe states it."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from pivrel.core.projection import Flow, Projection
from pivrel.core.revision import Motion
from pivrel.recipe.projections.base import OptionsBase, ProjectionBase, moved_place
from pivrel.recipe.projections.strokes import Reach, ReachOption, Strokes, strokes_of
from pivrel.recipe.typed import Side
from pivrel.recipe.values import Positive, Triple

Hold = Literal["size", "borders"]
Proportion = Literal["free", "along", "across"]
Repeats = Annotated[int, Field(ge=1, le=10_000)]
Shift = Annotated[int, Field(ge=0, le=3)]
Corners = tuple[Triple, Triple, Triple, Triple]


class FlowModel(ProjectionBase):
    """The sheet between two borders of the surface, following it.

    corners: places on the border, in order round it; None finds them. shift: turns the choice of borders.
    hold "size" keeps the material's size, "borders" stretches `repeats` of it (1 x 1 unless stated) onto the four
    borders. limits_mm: of the sheet along and across. start: a place on the border at which the sheet
    begins. lines: strokes that it follows on its way where it keeps its size; reach: how far each turns what lies round
    it, as a share of the square root of the area.
    """

    core: ClassVar[type[Projection]] = Flow
    kind: Literal["flow"]
    corners: Corners | None = None
    shift: Shift = 0
    hold: Hold = "size"
    repeats: tuple[Repeats, Repeats] | None = None
    proportion: Proportion = "free"
    limits_mm: tuple[Positive | None, Positive | None] = (None, None)
    whole_repeats: bool = False
    start: Triple | None = None
    lines: Strokes = ()
    reach: Reach = 0.25

    def to_core(self) -> Flow:
        return Flow(
            self.corners, self.shift, self.hold, self.repeats, self.proportion, self.limits_mm, self.whole_repeats,
            self.start, tuple(stroke.points for stroke in self.lines), self.reach,
        )  # fmt: skip

    @classmethod
    def of(cls, projection: Projection) -> Self:
        assert isinstance(projection, Flow)
        return cls(
            kind="flow",
            corners=projection.corners,
            shift=projection.shift,
            hold=projection.hold,
            repeats=projection.repeats,
            proportion=projection.proportion,
            limits_mm=projection.limits_mm,
            whole_repeats=projection.whole_repeats,
            start=projection.start,
            lines=strokes_of(projection.lines),
            reach=projection.reach,
        )

    def moved(self, motion: Motion) -> Self:
        corners = self.corners and tuple(moved_place(place, motion) for place in self.corners)
        along, across = (limit and limit * motion.scale for limit in self.limits_mm)
        start = self.start and moved_place(self.start, motion)
        lines = tuple(stroke.moved(motion) for stroke in self.lines)
        return self.model_copy(
            update={"corners": corners, "start": start, "limits_mm": (along, across), "lines": lines}
        )


class FlowOptions(OptionsBase):
    """Options of a flow; corners of None are found, limits of None are as much as there is."""

    kind: Literal["flow"]
    corners: Corners | None = None
    shift: Shift = 0
    hold: Hold = "size"
    repeats: tuple[Repeats, Repeats] | None = None
    proportion: Proportion = "free"
    limits_mm: tuple[Side | None, Side | None] = (None, None)
    whole_repeats: bool = False
    start: Triple | None = None
    lines: Strokes = ()
    reach: ReachOption = 0.25
