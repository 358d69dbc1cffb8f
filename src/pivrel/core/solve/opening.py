"""Opening a region that goes round: the shortest way between two of its borders, and the two sides of a cut along it."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_array
from scipy.sparse.csgraph import dijkstra

from pivrel.core.arrays import Ints
from pivrel.core.solve.border import goes_round, loops
from pivrel.core.solve.kept import once
from pivrel.core.solve.region import Region
from pivrel.core.solve.solution import SolveError

NONE = np.empty(0, np.int64)


@once
def open_edges(region: Region) -> Ints:
    """(E,) half-edges, one of each edge at which two different faces meet: a cut can only run there.

    The corners of a face have one place each on the sheet.
    """
    owner = np.repeat(region.triangle_face, 3)
    one, other = region.pairs[:, 0], region.pairs[:, 1]
    return one[owner[one] != owner[other]]


def traced(before: Ints, end: int) -> list[int]:
    """The vertices from where a shortest way begins to its end. before: (V,) of each the one before it, below 0 for none."""
    path = [end]
    while before[path[-1]] >= 0:
        path.append(int(before[path[-1]]))
    return path[::-1]


@once
def opened_where_round(region: Region) -> tuple[Region, Ints]:
    """The region, cut open where it goes round between two borders, and the slots of the cut."""
    found = loops(region)
    if not goes_round(found):
        return region, NONE
    path, _ = shortest(region, int(found[0].vertices[0]), found[1].vertices)
    halves = along_path(region, path)
    return region.opened(halves)[0], halves


def shortest(region: Region, start: int, ends: Ints) -> tuple[Ints, float]:
    """The vertices of the shortest way over edges of faces from a vertex to one of some others, and its length in mm."""
    a, b = region.ends
    real = open_edges(region)
    if not len(real):
        raise SolveError("this region goes round in a single face: divide that face")
    count = len(region.points)
    graph = csr_array((region.lengths[real], (a[real], b[real])), (count, count))
    length, before = dijkstra(graph, directed=False, indices=start, return_predecessors=True)
    end = int(ends[np.argmin(length[ends])])
    if not np.isfinite(length[end]):
        raise SolveError("no edge leads from one border of this region to the other: divide its long faces")
    return np.array(traced(before, end)), float(length[end])


def along_path(region: Region, path: Ints) -> Ints:
    """Slots of the half-edges that run along a path of vertices, in its direction."""
    a, b = region.ends
    count = len(region.points)
    wanted = path[:-1].astype(np.int64) * count + path[1:]
    key = a.astype(np.int64) * count + b
    order = np.argsort(key)
    return order[np.searchsorted(key[order], wanted)]


def sides_of(region: Region, cut: Region, halves: Ints, path: Ints) -> tuple[Ints, Ints]:
    """(N,) vertices of the cut region left and right of the path, in its order."""
    start, end = cut.ends
    other = region.partner[halves]
    left = np.concatenate([start[halves], end[halves[-1:]]])
    right = np.concatenate([end[other], start[other[-1:]]])
    return left, right
