"""Flatten: the surface is cut open and laid flat, piece by piece."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from typing import ClassVar, Literal, Self, TypeVar

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.projection.base import Solved
from pivrel.core.projection.charts import Triple
from pivrel.core.solve.cut_lines import cut_lines
from pivrel.core.solve.cutting import Chain, at_creases, by_region, cut_along, pieces_of
from pivrel.core.solve.flattening import along_length, flattened, free, level_directions, truly_flat, turn_to
from pivrel.core.solve.graining import grained
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.layout import Layout
from pivrel.core.solve.opening import opened_where_round
from pivrel.core.solve.region import Region
from pivrel.core.solve.self_cutting import self_cut
from pivrel.core.solve.solution import Frame, Laid, Line, Solution, SolveError, solve_regions
from pivrel.core.solve.straightening import Straight, nearest_of, straight_runs, straightened
from pivrel.core.solve.strokes import REACH, Stroke, felt
from pivrel.core.solve.unlapping import apart

T = TypeVar("T")

Upright = Literal["grain", "place"] | Triple
"""What stands upright on the sheet: the piece's length along s, the piece as it stands, or a direction along s."""


@dataclass(frozen=True)
class Flatten(Solved):
    """Every piece is laid flat by itself, and beside the others on the sheet.

    cuts: chains of places along edges; "creases" cuts wherever the model has one; "auto" cuts until the share `wanted` of
    the area is true. aim: "true" brings as much as can be within max_stretch of its size, "even" shares out what has to
    be stretched. upright: what runs along s, unless lines say it. max_stretch: what is stretched or squeezed by no more
    counts as true. layout: where the pieces lie. lines, reach: as for grain lines.
    straight: runs of edges that become parallel lines along s, whatever stands upright else.
    apart: divided further until no piece lies over itself, so that each can be cut out of a sheet or painted.
    """

    cuts: tuple[Chain, ...] | Literal["creases", "auto"] = "auto"
    aim: Literal["true", "even"] = "true"
    upright: Upright = "place"
    max_stretch: float = 1.05
    wanted: float = 0.99
    layout: Layout = Layout()
    lines: tuple[Stroke, ...] = ()
    reach: float = REACH
    straight: tuple[Straight, ...] = ()
    apart: bool = False
    kind: ClassVar[str] = "flatten"

    @classmethod
    def tried(cls) -> Sequence[Self]:
        # Where to cut is a choice of its own, and finding it takes longer than a trial may.
        return ()

    def solve(self, ground: Ground, repeat_mm: tuple[float, float], hasty: bool = False) -> Solution:
        def lay(region: Region, nearest: bool) -> list[Laid]:
            asked = (self.cuts, self.wanted, self.max_stretch) if self.cuts == "auto" else self.cuts
            pieces = region.kept.get(("pieces", asked), lambda: self._pieces(ground, region))
            if self.apart:
                pieces = region.kept.get(("apart", asked, self.max_stretch), lambda: self._parted(pieces))
            straight = nearest_of(pieces, self._straight(ground, region))
            return [self._laid(region, *one, hasty) for one in zip(pieces, straight, strict=True)]

        # Where a person picks the cuts, what they do not open yet is told, and not cut behind their back.
        picked = isinstance(self.cuts, tuple)
        return solve_regions(ground, lay, arrange=self.layout.arranged, apart=not picked)

    def _pieces(self, ground: Ground, region: Region) -> list[Region]:
        if self.cuts == "auto":
            return pieces_of(self_cut(region, self.wanted, self.max_stretch)[0])
        if isinstance(self.cuts, tuple):
            halves = cut_along(region, self._chains(ground, region, self.cuts))
        else:
            halves = at_creases(region, ground.surface.patches())
        pieces = pieces_of(region.opened(halves)[0] if len(halves) else region)
        if any(not piece.one_sided and not len(piece.border) for piece in pieces):
            raise SolveError("this region closes on itself: cut it, or let it be cut by itself")
        return [opened_where_round(piece)[0] for piece in pieces]

    def _chains(self, ground: Ground, region: Region, cuts: tuple[Chain, ...]) -> tuple[Chain, ...]:
        """The cuts that are this region's."""
        if not cuts:
            return ()
        found = ground.kept.get(("chains", cuts), lambda: by_region(ground.regions, cuts))
        return _own(ground, region, found, cuts)

    def _straight(self, ground: Ground, region: Region) -> tuple[Straight, ...]:
        """The straight borders that are this region's."""
        if not self.straight:
            return ()
        found = ground.kept.get(
            ("straight", self.straight), lambda: nearest_of(ground.regions, self.straight)
        )
        return _own(ground, region, found, self.straight)

    def _parted(self, pieces: list[Region]) -> list[Region]:
        """The pieces divided until none lies over itself."""
        lay = partial(truly_flat, allowed=self.max_stretch)
        return [part for piece in pieces for part in apart(piece, lay)]

    def _laid(self, whole: Region, piece: Region, straight: tuple[Straight, ...], hasty: bool) -> Laid:
        st = self._flat(piece, straight, hasty)
        cut = _cut_slots(whole, piece)
        lines = tuple(Line("cut", points) for points in cut_lines(piece, cut))
        return Laid(piece, st, cut, Frame("flatten", lines, np.empty((0, 3))))

    def _flat(self, piece: Region, straight: tuple[Straight, ...], hasty: bool) -> Floats:
        """(V, 2) mm where a piece lies, turned as it is asked for."""
        true = self.aim == "true" and not self.lines
        if runs := straight_runs(piece, [one.along for one in straight]):
            allowed = self.max_stretch if true else None
            key = ("straight", straight, allowed)
            return piece.kept.get(key, lambda: straightened(piece, runs, allowed))
        st = truly_flat(piece, self.max_stretch) if true else flattened(piece)
        strokes = felt(piece, self.lines)
        if strokes.any:
            ties = free(piece)
            return grained(piece, (ties, ties), st, strokes, self.reach, hasty=hasty)
        return st @ self._turn(piece, st)

    def _turn(self, region: Region, st: Floats) -> Floats:
        if self.upright == "grain":
            return along_length(region, st)
        if self.upright == "place":
            return turn_to(region, st, level_directions(region))
        return turn_to(region, st, np.tile(np.asarray(self.upright, float), (len(region.triangles), 1)))


def _own(ground: Ground, region: Region, found: Sequence[T], every: T) -> T:
    """What was found for a region; every one of them for what a region was taken apart to."""
    return next((own for one, own in zip(ground.regions, found, strict=True) if one is region), every)


def _cut_slots(whole: Region, piece: Region) -> Ints:
    """The half-edges on a piece's border that lie within the region that it was cut from."""
    inner = np.delete(whole.corners.reshape(-1), whole.border)
    out: Ints = piece.border[np.isin(piece.corners.reshape(-1)[piece.border], inner[inner >= 0])]
    return out
