"""Which corners share a place, and which faces share an edge."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.hashing import cell_slot, table_size
from pivrel.core.kernels import kernel


@dataclass(frozen=True)
class Topology:
    """Edges of a mesh whose coincident vertices count as one.

    A half-edge is named by the corner that it starts from; it ends at the face's next corner.

    place: (P,) int32, one id for all points at the same place.
    corner_face: (C,) int32, the face of each corner.
    next_corner: (C,) int32, the corner that follows in its face.
    pairs: (E, 2) int32 half-edges of two faces that meet at an edge. An edge of k faces gives
        k - 1 pairs.
    manifold: (E,) bool, where exactly two faces meet, or exactly two of the same part.
    opposed: (E,) bool, where the two run along the edge in opposite senses, as faces do that
        look to the same side.
    open_edges: (O,) int32 half-edges without a neighbour.
    """

    place: Ints
    corner_face: Ints
    next_corner: Ints
    pairs: Ints
    manifold: Mask
    opposed: Mask
    open_edges: Ints


def weld_tolerance(points: Floats) -> float:
    """The distance in mm within which vertices count as one place.

    A micrometre, or what float32 can tell apart at the model's size where that is more.
    """
    if not len(points):
        return 1e-3
    size = float(np.abs(points - points.mean(axis=0)).max())
    return max(1e-3, size * 2.0**-22)


@kernel
def _weld(points: Floats, tolerance: float) -> Ints:
    count = len(points)
    slots = table_size(count)
    head = np.full(slots, -1, np.int32)
    link = np.full(count, -1, np.int32)
    place = np.empty(count, np.int32)
    # Cells are much wider than the tolerance, so most points need to look into one cell only.
    cell = 16.0 * tolerance
    low = np.empty(3, np.int64)
    high = np.empty(3, np.int64)
    for p in range(count):
        for k in range(3):
            low[k] = int(np.floor((points[p, k] - tolerance) / cell))
            high[k] = int(np.floor((points[p, k] + tolerance) / cell))
        found = -1
        for i in range(low[0], high[0] + 1):
            for j in range(low[1], high[1] + 1):
                for k in range(low[2], high[2] + 1):
                    q = head[cell_slot(i, j, k, slots)]
                    while q >= 0 and found < 0:
                        if (
                            abs(points[p, 0] - points[q, 0]) <= tolerance
                            and abs(points[p, 1] - points[q, 1]) <= tolerance
                            and abs(points[p, 2] - points[q, 2]) <= tolerance
                        ):
                            found = q
                        q = link[q]
        if found < 0:
            found = p
            slot = cell_slot(
                int(np.floor(points[p, 0] / cell)),
                int(np.floor(points[p, 1] / cell)),
                int(np.floor(points[p, 2] / cell)),
                slots,
            )
            link[p] = head[slot]
            head[slot] = p
        place[p] = found
    return place


@kernel
def _sorted_by(keys: Ints, order: Ints, size: int) -> Ints:
    """The given order, stably rearranged by keys below `size` (counting sort)."""
    start = np.zeros(size + 1, np.int32)
    for i in order:
        start[keys[i] + 1] += 1
    for k in range(size):
        start[k + 1] += start[k]
    out = np.empty(len(order), np.int32)
    for i in order:
        out[start[keys[i]]] = i
        start[keys[i]] += 1
    return out


@kernel
def _half_edges(corners: Ints, face_start: Ints, place: Ints) -> tuple[Ints, Ints, Ints, Ints]:
    """Each half-edge's face, next corner, and the lower and higher place at its ends."""
    n = len(corners)
    face = np.empty(n, np.int32)
    after = np.empty(n, np.int32)
    low = np.empty(n, np.int32)
    high = np.empty(n, np.int32)
    for f in range(len(face_start) - 1):
        for c in range(face_start[f], face_start[f + 1]):
            d = c + 1 if c + 1 < face_start[f + 1] else face_start[f]
            a, b = place[corners[c]], place[corners[d]]
            face[c], after[c] = f, d
            low[c], high[c] = min(a, b), max(a, b)
    return face, after, low, high


@kernel
def _pair_up(
    order: Ints, low: Ints, high: Ints, face: Ints, face_part: Ints, corners: Ints, place: Ints
) -> tuple[Ints, Mask, Mask, Ints]:
    n = len(order)
    pairs = np.empty((n, 2), np.int32)
    manifold = np.empty(n, np.bool_)
    opposed = np.empty(n, np.bool_)
    open_edges = np.empty(n, np.int32)
    count = opens = 0
    i = 0
    while i < n:
        j = i + 1
        while j < n and low[order[j]] == low[order[i]] and high[order[j]] == high[order[i]]:
            j += 1
        if low[order[i]] != high[order[i]]:
            if j == i + 1:
                open_edges[opens] = order[i]
                opens += 1
            for k in range(i, j - 1):
                a, b = order[k], order[k + 1]
                if face[a] != face[b]:
                    pairs[count, 0], pairs[count, 1] = a, b
                    # Parts that touch share places, but each keeps the edges that it would have alone.
                    part = face_part[face[a]]
                    alone = part == face_part[face[b]]
                    alone = alone and (k == i or face_part[face[order[k - 1]]] != part)
                    alone = alone and (k + 2 == j or face_part[face[order[k + 2]]] != part)
                    manifold[count] = alone or j == i + 2
                    opposed[count] = place[corners[a]] != place[corners[b]]
                    count += 1
        i = j
    return pairs[:count].copy(), manifold[:count].copy(), opposed[:count].copy(), open_edges[:opens].copy()


def build_topology(points: Floats, corners: Ints, face_start: Ints, face_part: Ints) -> Topology:
    """Welds coincident points and pairs the half-edges of neighbouring faces, in O(P + C)."""
    place = _weld(points, weld_tolerance(points))
    face, after, low, high = _half_edges(corners, face_start, place)
    order = np.arange(len(corners), dtype=np.int32)
    order = _sorted_by(low, _sorted_by(high, order, len(points)), len(points))
    pairs, manifold, opposed, open_edges = _pair_up(order, low, high, face, face_part, corners, place)
    return Topology(place, face, after, pairs, manifold, opposed, open_edges)
