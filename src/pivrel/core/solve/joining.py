"""Which triangle edges meet, also where one long edge faces several short ones."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from pivrel.core.arrays import Floats, Ints, distinct

AFTER = np.array([1, 2, 0])
"""Triangle corner k starts half-edge k, which ends at corner AFTER[k]. Half-edge 3 t + k belongs to triangle t."""

QUERIES_AT_ONCE = 4096


@dataclass(frozen=True)
class Soup:
    """Triangles by the places of their corners, divided where a corner lies on an edge.

    places: (T, 3) int32. corners: (T, 3) int32 corner ids of the mesh, -1 where a place was put on an edge.
    source: (T,) int32, the row of the triangle that it is a piece of. on_edge: rows (source, place, from, to) of the
    places put on edges of a triangle, int32, and share: (D,) of the way from the one end to the other.
    """

    places: Ints
    corners: Ints
    source: Ints
    on_edge: Ints
    share: Floats


def paired(places: Ints) -> tuple[Ints, Ints]:
    """(E, 2) half-edges of two triangles that share an edge which no third one has, and (O,) all the others.

    places: (T, 3) the place of each corner.
    """
    start, end = places.reshape(-1), places[:, AFTER].reshape(-1)
    key = np.minimum(start, end).astype(np.int64) * (int(places.max(initial=0)) + 1) + np.maximum(start, end)
    order = np.argsort(key, kind="stable")
    key = key[order]
    first = np.flatnonzero(np.diff(key, prepend=-1))
    size = np.diff(first, append=len(key))
    two = first[size == 2]
    pairs = np.stack([order[two], order[two + 1]], axis=1)
    alone = np.ones(len(key), bool)
    alone[pairs.reshape(-1)] = False
    return pairs.astype(np.int32), np.flatnonzero(alone).astype(np.int32)


def opposite_corners(places: Ints, pairs: Ints) -> tuple[Ints, Ints, Ints, Ints]:
    """(E,) slots: where the first half-edge of each pair starts and ends, and the corners of the second at those places."""
    start = places.reshape(-1)
    one, other = pairs.T
    after = np.arange(places.size).reshape(-1, 3)[:, AFTER].reshape(-1)
    straight = start[one] == start[other]
    return one, after[one], np.where(straight, other, after[other]), np.where(straight, after[other], other)


def divided(places: Ints, corners: Ints, points: Floats, tolerance: float) -> Soup:
    """The triangles, divided at the places of other triangles that lie on their open edges.

    points: (P, 3) mm by place. tolerance: mm within which a place lies on an edge.
    """
    source = np.arange(len(places), dtype=np.int32)
    none = Soup(places, corners, source, np.empty((0, 4), np.int32), np.empty(0))
    _, alone = paired(places)
    lies_on = _places_on(places, alone, points, tolerance)
    if not lies_on:
        return none
    out_places, out_corners, out_source = [], [], []
    on_edge, share = [], []
    for triangle in sorted({half // 3 for half in lies_on}):
        ring, ids = places[triangle].tolist(), corners[triangle].tolist()
        edges = []
        for k in range(3):
            found = lies_on.get(3 * triangle + k, [])
            edges.append([place for _, place in found])
            for along, place in found:
                on_edge.append((triangle, place, ring[k], ring[(k + 1) % 3]))
                share.append(along)
        for three, own in _pieces(ring, ids, edges):
            out_places.append(three)
            out_corners.append(own)
            out_source.append(triangle)
    whole = np.ones(len(places), bool)
    whole[out_source] = False
    return Soup(
        np.concatenate([places[whole], np.array(out_places, np.int32)]),
        np.concatenate([corners[whole], np.array(out_corners, np.int32)]),
        np.concatenate([source[whole], np.array(out_source, np.int32)]),
        np.array(on_edge, np.int32),
        np.array(share),
    )


def _places_on(
    places: Ints, halves: Ints, points: Floats, tolerance: float
) -> dict[int, list[tuple[float, int]]]:
    """For each half-edge the places within it, with their share of the way, in order."""
    start, end = places.reshape(-1)[halves], places[:, AFTER].reshape(-1)[halves]
    near = distinct(start)
    if len(near) < 3:
        return {}
    a, along = points[start], points[end] - points[start]
    length = np.linalg.norm(along, axis=1)
    tree = cKDTree(points[near])
    out: dict[int, list[tuple[float, int]]] = {}
    for first in range(0, len(halves), QUERIES_AT_ONCE):
        rows = np.arange(first, min(first + QUERIES_AT_ONCE, len(halves)))
        balls = tree.query_ball_point(a[rows] + along[rows] / 2, length[rows] / 2 + tolerance)
        sizes = np.array([len(ball) for ball in balls])
        row = np.repeat(rows, sizes)
        place = near[np.concatenate([np.asarray(ball, np.int64) for ball in balls])]
        other = (place != start[row]) & (place != end[row])
        row, place = row[other], place[other]
        off = points[place] - a[row]
        share = np.einsum("ij,ij->i", off, along[row]) / np.maximum(length[row] ** 2, 1e-300)
        aside = np.linalg.norm(off - share[:, None] * along[row], axis=1)
        slack = tolerance / np.maximum(length[row], 1e-300)
        on = (aside <= tolerance) & (share > slack) & (share < 1 - slack)
        for r, p, w in zip(row[on].tolist(), place[on].tolist(), share[on].tolist(), strict=True):
            out.setdefault(int(halves[r]), []).append((w, p))
    return {half: sorted(found) for half, found in out.items()}


def _pieces(
    ring: list[int], ids: list[int], edges: list[list[int]]
) -> list[tuple[tuple[int, int, int], tuple[int, int, int]]]:
    """A triangle with places on its edges as triangles: (places, corner ids) of each."""
    out = []
    todo = [(ring, ids, edges)]
    while todo:
        (a, b, c), (i, j, k), (ab, bc, ca) = todo.pop()
        if ab:
            middle = len(ab) // 2
            p = ab[middle]
            todo.append(([a, p, c], [i, -1, k], [ab[:middle], [], ca]))
            todo.append(([p, b, c], [-1, j, k], [ab[middle + 1 :], bc, []]))
        elif bc or ca:
            todo.append(([b, c, a], [j, k, i], [bc, ca, ab]))
        else:
            out.append(((a, b, c), (i, j, k)))
    return out
