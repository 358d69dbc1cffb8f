"""Cuts: where a region is opened so that it can be laid flat, and the pieces that it then is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np
from scipy.sparse import coo_array, csc_array, csr_array
from scipy.sparse.csgraph import connected_components, dijkstra, minimum_spanning_tree
from scipy.spatial import KDTree

from pivrel.core.arrays import Floats, Ints, distinct
from pivrel.core.geometry.edge_pairs import share_of_views
from pivrel.core.solve.border import angle_sums
from pivrel.core.solve.factors import Factors
from pivrel.core.solve.kept import once
from pivrel.core.solve.opening import NONE, along_path, open_edges, traced
from pivrel.core.solve.region import Region
from pivrel.core.solve.system import cotangent

Chain = tuple[tuple[float, float, float], ...]
"""Places on the model, mm, one after another along a cut."""

UNSEEN = 0.25
"""What an edge that nobody sees still costs a cut, as a share of its length, beside what it shows."""

SAME_MM = 1e-5
"""Places no further apart are one."""

ASTRAY = 0.05
"""A place of a cut farther than this share of a region's size from all of it belongs to another region."""

AT_ONCE, ALIKE, FAR = 4, 0.8, 0.6
"""So many cuts at once, to vertices that need one by this share of the worst, and as far from the others by this share."""


@once
def costs(region: Region) -> Floats:
    """(3T,) mm: what a cut along each half-edge costs, its length by how much of it is seen."""
    a, b, c = (region.points[region.triangles[:, k]] for k in range(3))
    normals = np.cross(b - a, c - a)
    one, other = region.pairs[:, 0], region.pairs[:, 1]
    seen = share_of_views(normals, one // 3, other // 3)
    out = region.lengths.copy()
    for half in (one, other):
        out[half] *= UNSEEN + seen
    return out


def ways(region: Region, weights: Floats) -> csr_array:
    """(V, V) symmetric: what a step along each edge that can be cut costs. weights: (3T,)."""
    a, b = region.ends
    real = open_edges(region)
    count = len(region.points)
    w = np.maximum(weights[real], 1e-12)
    rows, columns = np.concatenate([a[real], b[real]]), np.concatenate([b[real], a[real]])
    return csr_array((np.concatenate([w, w]), (rows, columns)), (count, count))


def halves_of(region: Region, steps: Sequence[tuple[int, int]]) -> Ints:
    """Half-edges, one of each edge between two vertices; what is no edge that can be cut is left out."""
    if not len(steps):
        return NONE
    count = len(region.points)
    real = open_edges(region)
    wanted = np.sort(np.array(steps, np.int64), axis=1) @ (count, 1)
    own = np.sort(np.stack(region.ends, axis=1)[real].astype(np.int64), axis=1) @ (count, 1)
    out: Ints = real[np.isin(own, wanted)]
    return out


def by_region(regions: Sequence[Region], chains: Sequence[Chain]) -> list[tuple[Chain, ...]]:
    """The chains of each region: of those that lie close by each other, as a lid on its pot, the one that has its places.

    A chain whose places are of several, as on a model that was changed, goes to every region, each of which looks whether it
    is near.
    """
    out: list[list[Chain]] = [[] for _ in regions]
    tree = KDTree(np.concatenate([region.points for region in regions]))
    of = np.repeat(np.arange(len(regions)), [len(region.points) for region in regions])
    for chain in chains:
        places = np.array(chain)
        away, _ = tree.query(places)
        near = tree.query_ball_point(places, away + SAME_MM)
        owners = set.intersection(*({int(of[row]) for row in rows} for rows in near))
        for row in owners or range(len(regions)):
            out[row].append(chain)
    return [tuple(own) for own in out]


def cut_along(region: Region, chains: Sequence[Chain]) -> Ints:
    """Half-edges along chains of places on a region.

    Each place stands for the vertex that is nearest; between two that no edge joins the cut takes the shortest way.
    Chains of other regions are passed over.
    """
    if not chains:
        return NONE
    return halves_of(region, steps_along(region.points, ways(region, region.lengths), chains))


def steps_along(points: Floats, graph: csr_array, chains: Sequence[Chain]) -> list[tuple[int, int]]:
    """The steps along chains of places, between points (N, 3) that edges join. graph: (N, N) what a step along each costs.

    Each place stands for the nearest point; between two that no edge joins the way is the shortest. Chains that are not near
    are passed over.
    """
    tree = KDTree(points)
    size = float(np.linalg.norm(np.ptp(points, axis=0)))
    out: list[tuple[int, int]] = []
    for chain in chains:
        away, nearest = tree.query(np.array(chain))
        if away.max() > ASTRAY * size:
            continue
        for start, end in pairwise(nearest.tolist()):
            if start == end:
                continue
            out += [(start, end)] if graph[start, end] else pairwise(_way(graph, start, end))
    return out


def _way(graph: csr_array, start: int, end: int) -> list[int]:
    """The vertices of the cheapest way from one to another; none where there is no way."""
    cost, before = dijkstra(graph, indices=start, return_predecessors=True)
    return traced(before, end) if np.isfinite(cost[end]) else []


def at_creases(region: Region, patch: Ints) -> Ints:
    """Half-edges between faces of different patches. patch: (F,) of every face of the model."""
    real = open_edges(region)
    mine, beyond = (patch[region.triangle_face[halves // 3]] for halves in (real, region.partner[real]))
    return real[mine != beyond]


def to_disc(region: Region) -> Ints:
    """Half-edges along which a region is cut to one without handles and with one border.

    A tree of cheapest ways from the border, and a tree of faces over the edges that are left, the cheapest of which stay
    uncut as long as they can: what neither of the two holds closes a loop each. J. Erickson and K. Whittlesey, "Greedy
    optimal homotopy and homology generators", Symposium on Discrete Algorithms 2005. A region without a border is opened
    from pole to pole where it has no handle.
    """
    graph = ways(region, costs(region))
    rim = distinct(region.ends[0][region.border])
    closed = not len(rim)
    if closed:
        rim = np.array([_pole(graph)])
    cost, before, _ = dijkstra(graph, indices=rim, return_predecessors=True, min_only=True)
    a, b = (end[open_edges(region)] for end in region.ends)
    in_tree = (before[a] == b) | (before[b] == a)
    rest = open_edges(region)[~in_tree]
    loop = costs(region)[rest] + cost[region.ends[0][rest]] + cost[region.ends[1][rest]]
    unit = np.searchsorted(region.faces, region.triangle_face)
    one, other = unit[rest // 3], unit[region.partner[rest] // 3]
    # The dearest loops are crossed by the tree of faces, and never cut; of two edges between two faces only one is.
    order = np.argsort(-loop, kind="stable")
    tree = _forest(one[order], other[order], len(region.faces))
    closing = rest[np.delete(order, tree)]
    outside = np.isfinite(cost[region.ends[0][closing]])
    steps = [(int(a), int(b)) for a, b in zip(*(end[closing[outside]] for end in region.ends), strict=True)]
    for vertex in {v for step in steps for v in step}:
        steps += pairwise(traced(before, vertex))
    if closed and not steps:
        far = int(np.argmax(np.where(np.isfinite(cost), cost, -1)))
        steps = list(pairwise(traced(before, far)))
    return halves_of(region, steps)


def _pole(graph: csr_array) -> int:
    """A vertex at one end of the longest way."""
    cost = dijkstra(graph, indices=int(np.argmax(np.diff(graph.indptr) > 0)))
    return int(np.argmax(np.where(np.isfinite(cost), cost, -1)))


def _forest(one: Ints, other: Ints, count: int) -> Ints:
    """Rows of the edges of a spanning forest that takes the first of them first."""
    rank = np.arange(1, len(one) + 1)
    low, high = np.minimum(one, other), np.maximum(one, other)
    _, first = np.unique(low.astype(np.int64) * count + high, return_index=True)
    graph = coo_array((rank[first], (low[first], high[first])), (count, count)).tocsr()
    return np.sort(minimum_spanning_tree(graph).data.astype(np.int64) - 1)


def log_scale(region: Region) -> Floats:
    """(V,) by how much a conformal laying that keeps to the border's lengths grows each vertex, as a logarithm.

    L u = K, K the angle defects, u = 0 on the border. M. Ben-Chen, C. Gotsman and G. Bunin, "Conformal flattening by
    curvature prescription and metric scaling", Computer Graphics Forum 27(2), 2008.
    """
    rim = np.zeros(len(region.points), bool)
    rim[region.ends[0][region.border]] = True
    inner = np.flatnonzero(~rim)
    out = np.zeros(len(region.points))
    if len(inner):
        defect = 2 * np.pi - angle_sums(region)
        matrix = csc_array(cotangent(region)[inner][:, inner])
        matrix.setdiag(matrix.diagonal() + 1e-12 * float(np.abs(matrix.diagonal()).mean()))
        out[inner] = Factors(matrix).solve(defect[inner])
    return out


def next_cuts(region: Region, scale: Floats) -> Ints:
    """Half-edges from the border to the vertex that needs it most, and to others that need it nearly as much.

    scale: from `log_scale`. None where none can be reached.
    """
    graph = ways(region, costs(region))
    near = distinct(region.ends[0][region.border])
    need = np.abs(scale)
    out: list[Ints] = []
    first = 0.0
    for _ in range(AT_ONCE):
        cost, before, _ = dijkstra(graph, indices=near, return_predecessors=True, min_only=True)
        open_ = np.isfinite(cost) & (cost > 0) & (cost >= FAR * first)
        open_ &= need >= ALIKE * float(need[open_].max(initial=0.0))
        if not open_.any() or (out and need[open_].max() < ALIKE * need.max()):
            break
        vertex = int(np.argmax(np.where(open_, need, -1)))
        first = first or float(cost[vertex])
        path = traced(before, vertex)
        out.append(along_path(region, np.array(path)))
        near = np.union1d(near, path)
    return np.concatenate([NONE, *out])


def pieces_of(region: Region) -> list[Region]:
    """What hangs together in a region that was cut, as regions of their own; the largest first."""
    count = len(region.points)
    a, b = region.ends
    graph = csr_array((np.ones(len(a), np.int8), (a, b)), (count, count))
    total, label = connected_components(graph, directed=False)
    if total == 1:
        return [region]
    of_triangle = label[region.triangles[:, 0]]
    order = np.argsort(of_triangle, kind="stable")
    bounds = np.searchsorted(of_triangle[order], np.arange(total + 1))
    parts = [_part(region, order[bounds[k] : bounds[k + 1]]) for k in range(total)]
    return sorted(parts, key=lambda part: (-round(float(part.areas.sum()), 3), int(part.faces[0])))


def _part(region: Region, rows: Ints) -> Region:
    """Some triangles of a region, by ascending rows."""
    vertices, local = np.unique(region.triangles[rows], return_inverse=True)
    slot = np.full(3 * len(region.triangles), -1)
    slot[(3 * rows[:, None] + np.arange(3)).reshape(-1)] = np.arange(3 * len(rows))
    mine = (slot[region.within] >= 0).all(axis=1)
    return replace(
        region,
        faces=distinct(region.triangle_face[rows]).astype(np.int32),
        points=region.points[vertices],
        triangles=local.reshape(-1, 3).astype(np.int32),
        corners=region.corners[rows],
        triangle_face=region.triangle_face[rows],
        within=slot[region.within[mine]],
        share=region.share[mine],
    )
