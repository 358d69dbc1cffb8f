"""Flatten as a recipe states it."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from pivrel.core.projection import Flatten, Projection
from pivrel.core.revision import Motion
from pivrel.core.solve.layout import By, Layout
from pivrel.core.solve.straightening import Straight
from pivrel.recipe.projections.base import OptionsBase, ProjectionBase, moved_place
from pivrel.recipe.projections.strokes import Reach, ReachOption, Strokes, strokes_of
from pivrel.recipe.typed import Length, Share
from pivrel.recipe.values import Strict, Triple

Chain = Annotated[tuple[Triple, ...], Field(min_length=2, max_length=10_000)]


Chains = Annotated[tuple[Chain, ...], Field(max_length=1000)]


def _moved_chains(chains: tuple[Chain, ...], motion: Motion) -> tuple[Chain, ...]:
    return tuple(tuple(moved_place(place, motion) for place in chain) for chain in chains)


class CutEdges(Strict):
    """Cuts along edges: each a chain of places in mm, from corner to corner."""

    edges: Chains = ()

    def moved(self, motion: Motion) -> Self:
        """The cuts on a model that was moved or is larger."""
        return self.model_copy(update={"edges": _moved_chains(self.edges, motion)})


class StraightModel(Strict):
    """A run of edges that becomes a straight line along the sheet. on: a place on the piece of which it is a border."""

    along: Chain
    on: Triple

    def to_core(self) -> Straight:
        return Straight(self.along, self.on)

    def moved(self, motion: Motion) -> Self:
        """The run on a model that was moved or is larger."""
        (along,) = _moved_chains((self.along,), motion)
        return self.model_copy(update={"along": along, "on": moved_place(self.on, motion)})


Straights = Annotated[tuple[StraightModel, ...], Field(max_length=1000)]


class LayoutModel(Strict):
    """Where the pieces lie on the sheet, and the gap between them."""

    by: By = "place"
    gap_mm: Annotated[float, Field(ge=0, le=1e5)] = 20.0

    def to_core(self) -> Layout:
        return Layout(self.by, self.gap_mm)

    @classmethod
    def of(cls, layout: Layout) -> Self:
        return cls(by=layout.by, gap_mm=layout.gap_mm)


class LayoutOptions(Strict):
    """A layout as it is typed."""

    by: By = "place"
    gap_mm: Annotated[Length, Field(ge=0, le=1e5)] = 20.0


Cuts = CutEdges | Literal["creases", "auto"]
Upright = Literal["grain", "place"] | Triple
MaxStretch = Annotated[float, Field(ge=1.001, le=2)]
Wanted = Annotated[float, Field(ge=0.01, le=1)]


class FlattenModel(ProjectionBase):
    """The surface cut open and laid flat.

    cuts: along edges, at every crease, or found by itself until the share `wanted` of the area is stretched by no more than
    max_stretch. aim: as much of it true as can be, or the stretch shared out. upright: what runs along the sheet: the
    length of the piece, the piece as it stands on the model, or a direction. lines: strokes that the sheet follows.
    straight: runs of edges that become parallel lines along the sheet.
    apart: divided further until no piece lies over itself.
    """

    core: ClassVar[type[Projection]] = Flatten
    kind: Literal["flatten"]
    cuts: Cuts = "auto"
    aim: Literal["true", "even"] = "true"
    upright: Upright = "place"
    max_stretch: MaxStretch = 1.05
    wanted: Wanted = 0.99
    layout: LayoutModel = LayoutModel()
    lines: Strokes = ()
    reach: Reach = 0.25
    straight: Straights = ()
    apart: bool = False

    @model_validator(mode="after")
    def _directed(self) -> Self:
        if isinstance(self.upright, tuple) and not any(self.upright):
            raise ValueError("the direction must not be zero")
        return self

    def to_core(self) -> Flatten:
        return Flatten(
            cuts=self.cuts.edges if isinstance(self.cuts, CutEdges) else self.cuts,
            aim=self.aim,
            upright=self.upright,
            max_stretch=self.max_stretch,
            wanted=self.wanted,
            layout=self.layout.to_core(),
            lines=tuple(stroke.points for stroke in self.lines),
            reach=self.reach,
            straight=tuple(one.to_core() for one in self.straight),
            apart=self.apart,
        )

    @classmethod
    def of(cls, projection: Projection) -> Self:
        assert isinstance(projection, Flatten)
        cuts = projection.cuts
        return cls(
            kind="flatten",
            cuts=CutEdges(edges=cuts) if isinstance(cuts, tuple) else cuts,
            aim=projection.aim,
            upright=projection.upright,
            max_stretch=projection.max_stretch,
            wanted=projection.wanted,
            layout=LayoutModel.of(projection.layout),
            lines=strokes_of(projection.lines),
            reach=projection.reach,
            straight=tuple(StraightModel(along=one.along, on=one.on) for one in projection.straight),
            apart=projection.apart,
        )

    def moved(self, motion: Motion) -> Self:
        update: dict[str, object] = {
            "lines": tuple(stroke.moved(motion) for stroke in self.lines),
            "straight": tuple(one.moved(motion) for one in self.straight),
        }
        if isinstance(self.cuts, CutEdges):
            update["cuts"] = self.cuts.moved(motion)
        return self.model_copy(update=update)


class FlattenOptions(OptionsBase):
    """Options of a flattening."""

    kind: Literal["flatten"]
    cuts: Cuts = "auto"
    aim: Literal["true", "even"] = "true"
    upright: Upright = "place"
    max_stretch: Annotated[Share, Field(ge=1.001, le=2)] = 1.05
    wanted: Annotated[Share, Field(ge=0.01, le=1)] = 0.99
    layout: LayoutOptions = LayoutOptions()
    lines: Strokes = ()
    reach: ReachOption = 0.25
    straight: Straights = ()
    apart: bool = False
