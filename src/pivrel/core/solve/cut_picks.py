"""Cuts as they are picked on the model: an edge, the run of it, or the shortest way from the cut before."""

from __future__ import annotations

from collections import defaultdict
from itertools import pairwise
from typing import Literal

import numpy as np
from scipy.sparse import csr_array
from scipy.sparse.csgraph import dijkstra

from pivrel.core.arrays import Floats, Ints, distinct
from pivrel.core.geometry.edge_chains import end_places, nearest_edge_of, run_through
from pivrel.core.geometry.surface import Surface
from pivrel.core.solve.cutting import Chain
from pivrel.core.solve.opening import traced

Take = Literal["edge", "run", "way"]
"""One edge, all that it runs on to, or the shortest way along edges from where the cut before ends."""

Step = tuple[tuple[float, float, float], tuple[float, float, float]]


def picked(surface: Surface, faces: Ints, place: Floats, take: Take, before: tuple[Chain, ...]) -> Chain:
    """The places along the edges that a click at a place means.

    faces: (K,) int32, of whose edges the nearest is meant. before: the cuts that there are.
    """
    half = nearest_edge_of(surface, faces, place)
    ends = np.concatenate(end_places(surface, np.array([half])))
    if take == "run":
        return as_chain(run_through(surface, half))
    if take == "way" and before:
        return as_chain(_way(surface, np.array(before[-1][-1]), ends))
    return as_chain(surface.mesh.points[ends])


def with_pick(before: tuple[Chain, ...], chain: Chain) -> tuple[Chain, ...]:
    """The cuts with a further one; where all of it is cut already it is closed again instead."""
    cut = {step for one in before for step in _steps(one)}
    new = _steps(chain)
    if not set(new) <= cut:
        return (*before, chain)
    out: list[Chain] = []
    for one in before:
        run: list[tuple[float, float, float]] = []
        for a, b in pairwise(one):
            if _step(a, b) in new:
                out += [tuple(run)] if run else []
                run = []
            else:
                run = [*(run or [a]), b]
        out += [tuple(run)] if run else []
    return tuple(out)


def _steps(chain: Chain) -> list[Step]:
    return [_step(a, b) for a, b in pairwise(chain)]


def _step(a: tuple[float, float, float], b: tuple[float, float, float]) -> Step:
    return (a, b) if a <= b else (b, a)


def chains_along(surface: Surface, halves: Ints) -> tuple[Chain, ...]:
    """Half-edges (corner ids) as chains of places, from one end or meeting of cuts to the next."""
    start, end = end_places(surface, halves)
    beyond: dict[int, list[int]] = defaultdict(list)
    for a, b in {(min(step), max(step)) for step in zip(start.tolist(), end.tolist(), strict=True)}:
        beyond[a].append(b)
        beyond[b].append(a)
    out: list[Chain] = []
    # From every end and meeting first; what is left then goes round.
    for first in sorted(beyond, key=lambda vertex: len(beyond[vertex]) == 2):
        while beyond[first]:
            way = [first]
            while beyond[way[-1]] and (len(way) == 1 or len(beyond[way[-1]]) == 1):
                here = way[-1]
                there = beyond[here].pop()
                beyond[there].remove(here)
                way.append(there)
            out.append(as_chain(surface.mesh.points[way]))
    return tuple(out)


def as_chain(points: Floats) -> Chain:
    """Places (N, 3) mm as a recipe states them."""
    return tuple((float(x), float(y), float(z)) for x, y, z in np.round(points, 6) + 0.0)


def _way(surface: Surface, start: Floats, ends: Ints) -> Floats:
    """(N, 3) mm: the shortest way along edges from the vertex nearest to a place to an edge, and over it."""
    mesh, topology = surface.mesh, surface.topology
    halves = np.concatenate([topology.pairs[:, 0], topology.open_edges])
    a, b = end_places(surface, halves)
    length = np.maximum(np.linalg.norm(mesh.points[a] - mesh.points[b], axis=1), 1e-9)
    count = len(mesh.points)
    graph = csr_array((np.tile(length, 2), (np.concatenate([a, b]), np.concatenate([b, a]))), (count, count))
    used = distinct(np.concatenate([a, b]))
    first = int(used[np.argmin(((mesh.points[used] - start) ** 2).sum(axis=1))])
    cost, before = dijkstra(graph, indices=first, return_predecessors=True)
    near, far = sorted(ends.tolist(), key=lambda vertex: float(cost[vertex]))
    if not np.isfinite(cost[near]):
        return mesh.points[[near, far]]
    return mesh.points[[*traced(before, near), far]]
