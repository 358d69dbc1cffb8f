"""Pieces that would lie over themselves on the sheet, divided where their two layers part."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import shapely
from scipy.sparse import coo_array, csr_array
from scipy.sparse.csgraph import breadth_first_order, maximum_flow

from pivrel.core.arrays import Floats, Ints, Mask, distinct
from pivrel.core.solve.cutting import pieces_of
from pivrel.core.solve.opening import NONE, open_edges
from pivrel.core.solve.region import Region
from pivrel.core.solve.solution import SolveError

OVER = 1e-4
"""Triangles that share less than this share of the smaller one lie side by side."""

WITHIN = 3.0
"""A cut through what lies over something costs so many times its length: better beside it, so that no crumbs come off."""

FINE = 1 << 24
"""Lengths are whole numbers to the search for the shortest cut: shares of all of them in so many."""

ROUNDS = 4
"""What is divided is laid flat anew, and may lie over itself again: so often it is divided further."""


def apart(piece: Region, lay: Callable[[Region], Floats]) -> list[Region]:
    """A piece as regions none of which lies over itself, as far as a few divisions go. lay: how one comes to lie."""
    done: list[Region] = []
    waiting = [piece]
    for _ in range(ROUNDS):
        left = []
        for one in waiting:
            try:
                halves = parting(one, lay(one))
            except SolveError:
                # What cannot be laid at all is told where it is laid.
                halves = NONE
            if len(halves):
                left += pieces_of(one.opened(halves)[0])
            else:
                done.append(one)
        waiting = left
        if not waiting:
            break
    return sorted([*done, *waiting], key=lambda part: -float(part.areas.sum()))


def parting(region: Region, st: Floats) -> Ints:
    """Half-edges along which a laying st (V, 2) is cut into parts that do not lie over themselves; none where it does not.

    Two layers that share a place are parted by the shortest cut between them, those that share most first: a minimum cut
    of the faces, weighed by the lengths of the edges between them.
    """
    clash = _clashes(region, st)
    if not len(clash):
        return NONE
    names, row = np.unique(region.triangle_face, return_inverse=True)
    inner = open_edges(region)
    one, other = row[inner // 3], row[region.partner[inner] // 3]
    clash = row[clash]
    shares = np.zeros(len(names), bool)
    shares[clash] = True
    weights = region.lengths[inner] * np.where(shares[one] | shares[other], WITHIN, 1.0)
    part = np.zeros(len(names), np.int64)
    over = csr_array((np.ones(len(clash), bool), (clash[:, 0], clash[:, 1])), (len(names), len(names)))
    over = over + over.T
    for a, b in clash.tolist():
        if part[a] == part[b]:
            own = part == part[a]
            inside = own[one] & own[other]
            flows = _graph(one[inside], other[inside], weights[inside], len(names))
            part[own & _beyond(flows, *_layers(flows, over, own, a))] = part.max() + 1
    out: Ints = inner[part[one] != part[other]]
    return out


def _graph(one: Ints, other: Ints, weights: Floats, count: int) -> csr_array:
    """(F, F) symmetric: what a cut between two faces costs, in whole numbers."""
    cost = np.maximum(np.round(weights * (FINE / max(float(weights.sum()), 1e-300))), 1).astype(np.int32)
    both = np.concatenate([one, other]), np.concatenate([other, one])
    return csr_array((np.tile(cost, 2), both), (count, count))


def _layers(flows: csr_array, over: csr_array, own: Mask, seed: int) -> tuple[Ints, Ints]:
    """Faces of a part that hang together from a seed on and lie over none of their own, and those that they lie over.

    Where the two meet, as they do on a spiral, only the nearer half is taken, so that there is room for a cut between.
    """
    here, below = np.zeros(len(own), bool), np.zeros(len(own), bool)
    order = breadth_first_order(flows, seed, return_predecessors=False)
    taken: list[int] = []
    for face in order.tolist():
        under = over.indices[over.indptr[face] : over.indptr[face + 1]]
        under = under[own[under]]
        if below[face] or here[under].any() or not len(under):
            continue
        beside = flows.indices[flows.indptr[face] : flows.indptr[face + 1]]
        if taken and not here[beside].any():
            continue
        taken.append(face)
        here[face] = True
        below[under] = True
    first = np.array(taken)
    if below[flows[first].indices].any():
        first = first[: (len(first) + 1) // 2]
    under = distinct(over[first].indices)
    return first, under[own[under]]


def _beyond(flows: csr_array, first: Ints, second: Ints) -> Mask:
    """(F,) which faces are on the second ones' side of the shortest cut between them and the first."""
    count = flows.shape[0]
    kept = coo_array(flows)
    rows = [kept.row, np.full(len(first), count), second]
    columns = [kept.col, first, np.full(len(second), count + 1)]
    known = np.full(len(first) + len(second), 2 * FINE, np.int32)
    whole = csr_array(
        (np.concatenate([kept.data, known]), (np.concatenate(rows), np.concatenate(columns))),
        (count + 2, count + 2),
    )
    left = whole - maximum_flow(whole, count, count + 1).flow
    left.data[left.data < 0] = 0
    left.eliminate_zeros()
    reached = np.zeros(count + 2, bool)
    reached[breadth_first_order(left, count, return_predecessors=False)] = True
    return ~reached[:count]


def _clashes(region: Region, st: Floats) -> Ints:
    """(C, 2) triangles of different faces that share some of the sheet, those that share most first."""
    corners = st[region.triangles]
    shapes = shapely.polygons(np.concatenate([corners, corners[:, :1]], axis=1))
    areas = shapely.area(shapes)
    whole = shapely.union_all(shapes).area
    if areas.sum() - whole <= OVER * float(np.min(areas[areas > 0], initial=1.0)):
        return np.empty((0, 2), np.int64)
    a, b = shapely.STRtree(shapes).query(shapes, predicate="intersects")
    first = (a < b) & (region.triangle_face[a] != region.triangle_face[b])
    a, b = a[first], b[first]
    shared = shapely.area(shapely.intersection(shapes[a], shapes[b]))
    found = np.flatnonzero(shared > OVER * np.minimum(areas[a], areas[b]))
    found = found[np.argsort(-shared[found], kind="stable")]
    return np.stack([a[found], b[found]], axis=1)
