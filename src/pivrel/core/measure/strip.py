"""The shortest way through a strip of triangles: unfolded into a plane, where it is a line pulled tight.

The strip is a polygon whose diagonals are the edges that are crossed; the way within it is found by a funnel that is
drawn along them (D. T. Lee and F. P. Preparata, "Euclidean shortest paths in the presence of rectilinear barriers",
Networks 14(3), 1984).
"""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel


@kernel
def crossed(
    points: Floats, corners: Ints, triangles: Ints, across: Ints, start: Floats, plane: Floats, first: int, goal: int
) -> Ints:  # fmt: skip
    """The slots (3 t + k) that a section crosses from a place on to a triangle; empty where it does not arrive.

    across: (3 T,) the slot on the other side of each, or -1. plane: (3,) normal of the section through `start`. first: the
    slot by which it leaves. goal: the triangle.
    """
    slots = np.empty(len(across), np.int64)
    seen = np.zeros(len(across), np.bool_)
    slot = first
    for count in range(len(across)):
        slots[count] = slot
        into = across[slot]
        if into < 0 or seen[into]:
            break
        seen[into] = True
        t, k = into // 3, into % 3
        if t == goal:
            return slots[: count + 1]
        over = (points[corners[triangles[t, (k + 2) % 3]]] - start) @ plane
        was = (points[corners[triangles[t, (k + 1) % 3]]] - start) @ plane
        # The section leaves through the edge whose ends lie on different sides of it.
        slot = 3 * t + ((k + 1) % 3 if (over >= 0) != (was >= 0) else (k + 2) % 3)
    return slots[:0]


@kernel
def one_way(edges: Floats) -> Floats:
    """The edges (N, 2, 3) of a strip with their left ends first, as the first of them has it.

    Triangles need not be wound alike: of two edges in a row the end that they share is at the same side.
    """
    out = edges.copy()
    for i in range(1, len(out)):
        if not (_same(out[i, 0], out[i - 1, 0]) or _same(out[i, 1], out[i - 1, 1])):
            out[i, 0], out[i, 1] = edges[i, 1], edges[i, 0]
    return out


@kernel
def unfolded(start: Floats, edges: Floats, goal: Floats) -> tuple[Floats, Floats]:
    """A strip in a plane: (N, 2, 2) the edges (N, 2, 3) that it crosses, each from its left end to its right, and
    (2, 2) the two places.

    Two edges in a row share an end at the same side.
    """
    count = len(edges)
    flat, ends = np.empty((count, 2, 2)), np.empty((2, 2))
    left, right = edges[0, 0], edges[0, 1]
    along, away = _beside(left, right, start)
    flat[0, 0] = 0.0, 0.0
    flat[0, 1] = np.sqrt((right - left) @ (right - left)), 0.0
    ends[0] = along, -away
    ahead = np.array([1.0, 0.0])
    for i in range(count):
        span = flat[i, 1] - flat[i, 0]
        size = np.sqrt(span @ span)
        if size > 0.0:
            ahead = span / size
        side = 1 if i + 1 < count and _same(edges[i + 1, 0], edges[i, 0]) else 0
        place = goal if i + 1 == count else edges[i + 1, side]
        along, away = _beside(edges[i, 0], edges[i, 1], place)
        x = flat[i, 0, 0] + along * ahead[0] - away * ahead[1]
        y = flat[i, 0, 1] + along * ahead[1] + away * ahead[0]
        if i + 1 == count:
            ends[1] = x, y
        else:
            flat[i + 1, side] = x, y
            flat[i + 1, 1 - side] = flat[i, 1 - side]
    return flat, ends


@kernel
def _same(a: Floats, b: Floats) -> bool:
    return bool(a[0] == b[0] and a[1] == b[1] and a[2] == b[2])


@kernel
def _beside(left: Floats, right: Floats, place: Floats) -> tuple[float, float]:
    """How far along an edge from its left end a place lies, and how far away from it."""
    span, off = right - left, place - left
    size = float(np.sqrt(span @ span))
    along = float(off @ span) / size if size > 0.0 else 0.0
    return along, float(np.sqrt(max(float(off @ off) - along * along, 0.0)))


@kernel
def _turn(a: Floats, b: Floats, c: Floats) -> float:
    """Twice the area of a triangle, above zero where it turns to the left."""
    return float((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]))


@kernel
def pulled_tight(flat: Floats, ends: Floats) -> Floats:
    """(N,) the share of each edge of an unfolded strip, from its left end, at which the shortest way crosses it."""
    count = len(flat)
    shares = np.empty(count)
    apex, done = ends[0].copy(), 0
    left, right = flat[0, 0].copy(), flat[0, 1].copy()
    left_at = right_at = 0
    i = 1
    while True:
        next_left = flat[i, 0] if i < count else ends[1]
        next_right = flat[i, 1] if i < count else ends[1]
        corner, at = apex, -1
        if _turn(apex, right, next_right) >= 0.0:
            if _turn(apex, left, next_right) <= 0.0 or _is(apex, right):
                right, right_at = next_right.copy(), i
            else:
                corner, at = left.copy(), left_at
        if at < 0 and _turn(apex, left, next_left) <= 0.0:
            if _turn(apex, right, next_left) >= 0.0 or _is(apex, left):
                left, left_at = next_left.copy(), i
            else:
                corner, at = right.copy(), right_at
        if at >= 0:
            done = _cross(flat, apex, corner, shares, done, at + 1)
            apex, left, right = corner, corner.copy(), corner.copy()
            left_at = right_at = i = at
        elif i >= count:
            _cross(flat, apex, ends[1], shares, done, count)
            return shares
        i += 1


@kernel
def _is(a: Floats, b: Floats) -> bool:
    return bool(a[0] == b[0] and a[1] == b[1])


@kernel
def _cross(flat: Floats, a: Floats, b: Floats, shares: Floats, first: int, last: int) -> int:
    """Notes where a straight piece of the way crosses the edges from `first` up to `last`; `last`."""
    for i in range(first, last):
        over, under = _turn(a, b, flat[i, 0]), _turn(a, b, flat[i, 1])
        size = over - under
        # Where the way runs along an edge, every place of it is on the way.
        shares[i] = min(max(over / size, 0.0), 1.0) if abs(size) > 0.0 else 0.0
    return max(first, last)
