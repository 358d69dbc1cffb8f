"""Running the pattern on across edges: which edges can be matched at once, and how each island then lies.

An island is a set of faces of one patch over which a laying runs on by itself. Moving islands against each other, by a
turn and a shift, matches an edge between two of them. Round a closed loop not all edges can be matched:
those are chosen that show most (a maximum spanning tree; J. B. Kruskal, "On the shortest spanning subtree
of a graph", Proceedings of the American Mathematical Society 7(1), 1956).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components, minimum_spanning_tree

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.edge_pairs import EdgePairs, exposure
from pivrel.core.geometry.surface import Surface
from pivrel.core.kernels import kernel

SAME_MM = 0.01
"""Corners whose places on the sheet differ by no more than this run on by themselves."""

ALIKE_MM, ALIKE_RAD = 0.25, 1e-4
"""Motions that differ by less are one: several edges between two islands can then be matched at once."""

LEAST = 1e-6
"""What an edge that nobody sees still counts, so that a hidden island has a place too."""


@dataclass(frozen=True)
class Links:
    """Ways in which two islands can be matched.

    a, b: (L,) islands. motion: (L, 2, 3) from b's place on the sheet to where its pattern runs on from a's.
    weight: (L,) mm, the length of the edges that it matches, each by how much it shows.
    """

    a: Ints
    b: Ints
    motion: Floats
    weight: Floats


@dataclass(frozen=True)
class RunOn:
    """How islands lie so that the greatest visible length runs on.

    island: (K,) of each face. motion: (I, 2, 3) from the place on the sheet to the new one.
    chosen: (L,) the links that were matched.
    """

    island: Ints
    motion: Floats
    links: Links
    chosen: Mask


@kernel
def edge_ends(
    q: Floats, near: Ints, far: Ints, opposed: Mask, after: Ints
) -> tuple[Floats, Floats]:  # fmt: skip
    """(E, 4) the two ends of each edge on the sheet as one face has them, and as the other has them."""
    one, other = np.empty((len(near), 4)), np.empty((len(near), 4))
    for e in range(len(near)):
        a, b = near[e], far[e]
        b0, b1 = (after[b], b) if opposed[e] else (b, after[b])
        one[e, 0], one[e, 1] = q[a, 0], q[a, 1]
        one[e, 2], one[e, 3] = q[after[a], 0], q[after[a], 1]
        other[e, 0], other[e, 1] = q[b0, 0], q[b0, 1]
        other[e, 2], other[e, 3] = q[b1, 0], q[b1, 1]
    return one, other


@kernel
def _handed(q: Floats, face_start: Ints, faces: Ints) -> Mask:
    """(K,) whether a face lies on the sheet unmirrored."""
    out = np.empty(len(faces), np.bool_)
    for k in range(len(faces)):
        first, last = face_start[faces[k]], face_start[faces[k] + 1]
        twice = 0.0
        for c in range(first, last):
            d = c + 1 if c + 1 < last else first
            # From the first corner, so that a place far out on the sheet costs no figures.
            twice += (q[c, 0] - q[first, 0]) * (q[d, 1] - q[first, 1])
            twice -= (q[c, 1] - q[first, 1]) * (q[d, 0] - q[first, 0])
        out[k] = twice >= 0
    return out


def islands(one: Floats, other: Floats, fa: Ints, fb: Ints, patch: Ints) -> Ints:
    """(K,) the island of each face. fa, fb: (E,) the faces at each edge, 0 to K; patch: (K,) of each face.

    Across a crease two patches may run on by chance; that is one choice among others, and no island.
    """
    count = len(patch)
    joined = (np.abs(one - other) <= SAME_MM).all(axis=1) & (patch[fa] == patch[fb])
    graph = coo_matrix((np.ones(int(joined.sum()), np.int8), (fa[joined], fb[joined])), shape=(count, count))
    island: Ints = connected_components(graph, directed=False)[1].astype(np.int32)
    return island


def _motions(one: Floats, other: Floats, mirror: Mask) -> Floats:
    """(E, 4) the turn (cosine, sine) and shift that bring the other side's edge onto this side's, middle on middle."""
    flip = np.where(mirror, -1.0, 1.0)
    b = other.copy()
    b[:, 0] *= flip
    b[:, 2] *= flip
    da, db = one[:, 2:] - one[:, :2], b[:, 2:] - b[:, :2]
    cosine = (da * db).sum(axis=1)
    sine = da[:, 1] * db[:, 0] - da[:, 0] * db[:, 1]
    size = np.maximum(np.hypot(cosine, sine), 1e-300)
    cosine, sine = cosine / size, sine / size
    # Quarter turns are the rule; noise of the last digits would grow along a chain of islands.
    for quarter in (cosine, sine):
        quarter[np.abs(quarter) < 1e-9] = 0.0
        quarter[quarter > 1 - 1e-15] = 1.0
        quarter[quarter < -1 + 1e-15] = -1.0
    ma, mb = (one[:, :2] + one[:, 2:]) / 2, (b[:, :2] + b[:, 2:]) / 2
    x = ma[:, 0] - (cosine * mb[:, 0] - sine * mb[:, 1])
    y = ma[:, 1] - (sine * mb[:, 0] + cosine * mb[:, 1])
    return np.stack([cosine, sine, x, y], axis=1)


def _matrices(found: Floats, mirror: Mask) -> Floats:
    """(E, 2, 3) of turns and shifts, after a mirroring along s where there is one."""
    c, s, x, y = found.T
    flip = np.where(mirror, -1.0, 1.0)
    return np.stack([np.stack([c * flip, -s, x], axis=1), np.stack([s * flip, c, y], axis=1)], axis=1)


def _inverse(motion: Floats) -> Floats:
    """(N, 2, 3) the motions back."""
    back = np.swapaxes(motion[:, :, :2], 1, 2)
    return np.concatenate([back, -back @ motion[:, :, 2:]], axis=2)


def find_links(
    a: Ints, b: Ints, edge_pairs: EdgePairs, one: Floats, other: Floats, mirror: Mask, shows: Floats
) -> Links:
    """The ways in which islands can be matched; edges that one motion matches count together.

    a, b: (E,) the islands at each edge, different ones. one, other: (E, 4) from `edge_ends`. mirror: (E,)
    whether one of them has to be flipped. shows: (E,) from `exposure`.
    """
    # From the lower island to the higher, so that all edges of two islands tell the same story.
    swap = (a > b)[:, None]
    one, other = np.where(swap, other, one), np.where(swap, one, other)
    a, b = np.minimum(a, b), np.maximum(a, b)
    weight = edge_pairs.length_mm * (shows + LEAST)
    found = _motions(one, other, mirror)
    # Bins are set off by an odd amount: true values sit on round figures, which must not be an edge of one.
    bins = np.floor(found / (ALIKE_RAD, ALIKE_RAD, ALIKE_MM, ALIKE_MM) + 0.37218).astype(np.int64)
    key = np.column_stack([a, b, mirror, bins])
    order = np.lexsort(key.T[::-1])
    key = key[order]
    first = np.ones(len(key), bool)
    first[1:] = (key[1:] != key[:-1]).any(axis=1)
    which = np.cumsum(first) - 1
    total = np.bincount(which, weights=weight[order], minlength=int(first.sum()))
    chosen = order[first]
    return Links(a[chosen], b[chosen], _matrices(found[chosen], mirror[chosen]), total.astype(np.float64))


def spanning(links: Links, count: int) -> Mask:
    """(L,) the links of a maximum spanning forest over `count` islands."""
    chosen = np.zeros(len(links.a), bool)
    if not len(links.a):
        return chosen
    # Of several links between two islands only the heaviest can be in it.
    order = np.lexsort((-links.weight, links.b, links.a))
    a, b = links.a[order], links.b[order]
    first = np.ones(len(order), bool)
    first[1:] = (a[1:] != a[:-1]) | (b[1:] != b[:-1])
    best = order[first]
    # The heaviest first; the tree is asked for the least, so the rank is the weight.
    ranked = best[np.argsort(-links.weight[best], kind="stable")]
    rank = np.arange(1, len(ranked) + 1, dtype=np.float64)
    graph = coo_matrix((rank, (links.a[ranked], links.b[ranked])), shape=(count, count)).tocsr()
    chosen[ranked[minimum_spanning_tree(graph).data.astype(np.int64) - 1]] = True
    return chosen


@kernel
def _spread(
    start: Ints, to: Ints, edge: Ints, forward: Floats, backward: Floats, is_forward: Mask, roots: Ints,
    motion: Floats,
) -> None:  # fmt: skip
    """Walks each tree from its root and sets the motions of all its islands."""
    done = np.zeros(len(motion), np.bool_)
    queue = np.empty(len(motion), np.int32)
    for root in roots:
        if done[root]:
            continue
        done[root] = True
        head, tail = 0, 1
        queue[0] = root
        while head < tail:
            here = queue[head]
            head += 1
            for k in range(start[here], start[here + 1]):
                there = to[k]
                if done[there]:
                    continue
                done[there] = True
                step = forward[edge[k]] if is_forward[k] else backward[edge[k]]
                for i in range(2):
                    for j in range(2):
                        motion[there, i, j] = (
                            motion[here, i, 0] * step[0, j] + motion[here, i, 1] * step[1, j]
                        )
                    motion[there, i, 2] = (
                        motion[here, i, 0] * step[0, 2] + motion[here, i, 1] * step[1, 2] + motion[here, i, 2]
                    )
                queue[tail] = there
                tail += 1


def spread(links: Links, chosen: Mask, roots: Ints, count: int) -> Floats:
    """(I, 2, 3) the motions of all islands along the chosen links; roots, in order of rank, stay where they are."""
    a, b, motion = links.a[chosen], links.b[chosen], links.motion[chosen]
    out = np.tile(np.eye(2, 3), (count, 1, 1))
    ends = np.concatenate([a, b])
    order = np.argsort(ends, kind="stable")
    start = np.searchsorted(ends[order], np.arange(count + 1)).astype(np.int32)
    edge = np.tile(np.arange(len(a)), 2)[order]
    # A link's motion brings b to a: from a it is the step to b.
    is_forward = np.repeat([True, False], len(a))[order]
    _spread(start, np.concatenate([b, a])[order], edge, motion, _inverse(motion), is_forward, roots, out)
    return out


def run_on(surface: Surface, faces: Ints, q: Floats) -> RunOn:
    """How the islands of a laying have to move so that the greatest visible length runs on.

    faces: (K,) int32, ascending. q: (C, 2) by corner id, the place on the sheet in mm of face, before
    scale. Each cluster of islands is led by the one that shows most, which stays where it is.
    """
    topology = surface.topology
    face = topology.corner_face
    row = np.full(surface.mesh.face_count, -1, np.int32)
    row[faces] = np.arange(len(faces), dtype=np.int32)
    edge_pairs = surface.edge_pairs
    if len(faces) < surface.mesh.face_count:
        edge_pairs = edge_pairs.only((row[face[edge_pairs.near]] >= 0) & (row[face[edge_pairs.far]] >= 0))
    one, other = edge_ends(q, edge_pairs.near, edge_pairs.far, edge_pairs.opposed, topology.next_corner)
    fa, fb = row[face[edge_pairs.near]], row[face[edge_pairs.far]]
    island = islands(one, other, fa, fb, surface.patches()[faces])
    count = int(island.max()) + 1 if len(island) else 0
    handed = _handed(q, surface.mesh.face_start, faces)
    between = (island[fa] != island[fb]) & (edge_pairs.length_mm > 1e-6)
    fa, fb, edge_pairs = fa[between], fb[between], edge_pairs.only(between)
    mirror = (handed[fa] == handed[fb]) != edge_pairs.opposed
    shows = exposure(topology, surface.normals, edge_pairs)
    links = find_links(island[fa], island[fb], edge_pairs, one[between], other[between], mirror, shows)
    chosen = spanning(links, count)
    area = np.bincount(island, weights=surface.face_areas[faces], minlength=count)
    # Of two that are as large the one whose faces come first leads, whatever the last digit says.
    roots = np.argsort(-np.round(area, 3), kind="stable").astype(np.int32)
    return RunOn(island, spread(links, chosen, roots, count), links, chosen)


def across_edge(surface: Surface, q: Floats, edge: tuple[int, int], opposed: bool) -> tuple[Floats, float]:
    """(2, 3) the motion that lets the far side of an edge run on from the near side, and the misfit in mm.

    edge: half-edges (corner ids) of the near and the far face. q: (C, 2) by corner id, mm of face. The
    misfit is how much longer the edge is on one side than on the other, shared out between its ends.
    """
    near, far = (np.array([half], np.int32) for half in edge)
    one, other = edge_ends(q, near, far, np.array([opposed]), surface.topology.next_corner)
    faces = surface.topology.corner_face[[edge[0], edge[1]]].astype(np.int32)
    handed = _handed(q, surface.mesh.face_start, faces)
    mirror = np.array([(handed[0] == handed[1]) != opposed])
    motion = _matrices(_motions(one, other, mirror), mirror)
    a, b = one[0, 2:] - one[0, :2], other[0, 2:] - other[0, :2]
    return motion[0], float(abs(np.linalg.norm(a) - np.linalg.norm(b))) / 2
