"""Straightening: runs of edges that become straight lines on the sheet, all of them along s."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_array
from scipy.sparse.csgraph import connected_components

from pivrel.core.arrays import Floats, Ints, distinct
from pivrel.core.solve.cutting import SAME_MM, Chain, steps_along
from pivrel.core.solve.even import even
from pivrel.core.solve.flattening import flattened, free, standing
from pivrel.core.solve.nearest import nearest_triangle
from pivrel.core.solve.region import Region
from pivrel.core.solve.solution import SolveError
from pivrel.core.solve.system import even_axis
from pivrel.core.solve.ties import Tied
from pivrel.core.solve.true import true
from pivrel.core.solve.unfolding import folded, unfolded


@dataclass(frozen=True)
class Straight:
    """A run of edges that is to be straight. on: a place on the piece of which it is a border, for the run has two sides."""

    along: Chain
    on: tuple[float, float, float]


def nearest_of(regions: Sequence[Region], straight: Sequence[Straight]) -> list[tuple[Straight, ...]]:
    """The straight borders of each of some regions, or of the pieces of one: each belongs to where its place is nearest."""
    out: list[list[Straight]] = [[] for _ in regions]
    for one in straight:
        out[int(np.argmin([_away(region, np.array(one.on)) for region in regions]))].append(one)
    return [tuple(own) for own in out]


def _away(region: Region, place: Floats) -> float:
    """mm from a place to a region."""
    row, share = nearest_triangle(place, region.points, region.triangles)
    return float(np.linalg.norm(share @ region.points[region.triangles[row]] - place))


def straight_runs(region: Region, chains: Sequence[Chain]) -> list[Ints]:
    """The vertices of a region on each run of edges along chains of places; where it is cut along one, there are two.

    Each place stands for the nearest vertex; between two that no edge joins the run takes the shortest way. Chains of other
    regions are passed over, and runs that go all round: no line does.
    """
    if not chains:
        return []
    _, place = np.unique(np.round(region.points / SAME_MM).astype(np.int64), axis=0, return_inverse=True)
    place = place.reshape(-1)
    count = int(place.max()) + 1
    at = np.zeros((count, 3))
    at[place] = region.points
    a, b = (place[end] for end in region.ends)
    length = np.maximum(region.lengths, 1e-12)
    graph = csr_array((np.tile(length, 2), (np.concatenate([a, b]), np.concatenate([b, a]))), (count, count))
    steps = steps_along(at, graph, chains)
    if not steps:
        return []
    wanted = np.sort(np.array(steps), axis=1) @ (count, 1)
    own = np.flatnonzero(np.isin(np.minimum(a, b) * count + np.maximum(a, b), wanted))
    return _together(region, own)


def _together(region: Region, halves: Ints) -> list[Ints]:
    """The vertices of half-edges, those that hang together in one array."""
    a, b = (end[halves] for end in region.ends)
    count = len(region.points)
    graph = csr_array((np.ones(len(a), np.int8), (a, b)), (count, count))
    label = connected_components(graph, directed=False)[1]
    used, steps = np.unique(np.concatenate([a, b]), return_counts=True)
    return [
        used[label[used] == number]
        for number in distinct(label[used])
        if (steps[label[used] == number] != 2).any()
    ]


def straightened(region: Region, runs: Sequence[Ints], allowed: float | None) -> Floats:
    """(V, 2) mm: laid flat with each run (vertices) at one t, so that they are parallel lines along s.

    allowed: as much as can be is stretched by no more; without it the stretch is shared out. SolveError where it would fold
    over itself.
    """
    st = flattened(region)
    start = st @ _along_runs(region, st, runs)
    known = Tied.of(region)
    known.fixed.append((runs[0], 0.0))
    known.together += runs[1:]
    ties = free(region), known.ties()
    axes = even_axis(region, ties[0]), even_axis(region, ties[1])
    st = unfolded(region, ties, even(region, axes, start - start[0]))
    if folded(region, st).any():
        raise SolveError(
            "this piece cannot be straightened there without folding over itself: straighten less of it"
        )
    if allowed is None:
        return st
    found = true(region, axes, st, allowed)
    if folded(region, found).any():
        found = unfolded(region, ties, found)
    return st if folded(region, found).any() else found


def _along_runs(region: Region, st: Floats, runs: Sequence[Ints]) -> Floats:
    """(2, 2) the turn of the sheet that brings the runs along s, as far as one turn can, standing as the region does."""
    a, b = region.ends
    on = np.zeros(len(st), np.int64)
    for number, run in enumerate(runs, 1):
        on[run] = number
    edge = st[b] - st[a]
    z = (edge[:, 0] + 1j * edge[:, 1])[(on[a] > 0) & (on[a] == on[b])]
    # Which way a line runs does not matter: by twice its angle.
    doubled = (z**2 / np.maximum(np.abs(z), 1e-300)).sum()
    along = np.exp(0.5j * np.angle(doubled))
    c, s = float(along.real), float(along.imag)
    if np.array([c, s]) @ standing(region, st)[:, 0] < 0:
        c, s = -c, -s
    return np.array([[c, -s], [s, c]])
