"""The ring of faces round a vertex on the sheet: where the vertex sees all of it, and moving it there."""

from __future__ import annotations

import numpy as np
from scipy.optimize import linprog

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel
from pivrel.core.solve.system import jacobian

FEW = 16
"""Up to so many edges all vertices of the linear program are looked at; rings of more are rare."""

NEAR = 1e-9
"""By how much of a ring's size a place may lie outside by rounding alone."""


@kernel
def ahead_of(triangles: Ints, ring: Ints, st: Floats) -> tuple[Floats, Floats]:
    """(R, 2) mm, the ends of the edges opposite a vertex, in the sense of their triangles. ring: (R,) its slots there."""
    start, end = np.empty((len(ring), 2)), np.empty((len(ring), 2))
    for row in range(len(ring)):
        f, k = ring[row] // 3, ring[row] % 3
        start[row] = st[triangles[f, (k + 1) % 3]]
        end[row] = st[triangles[f, (k + 2) % 3]]
    return start, end


def deepest(start: Floats, end: Floats) -> tuple[Floats, bool]:
    """The place (2,) that stays farthest to the left of all edges, (R, 2) to (R, 2), and whether there is any.

    The middle of the largest circle within: most r of n . x - r >= n . start (Boyd and Vandenberghe, Convex
    Optimization, 4.3.1), r at most the longest edge.
    """
    along = end - start
    length = np.hypot(along[:, 0], along[:, 1])
    longest = float(length.max())
    if not length.min() > 0 or not np.isfinite(longest):
        return start[0], False
    # Normals to the left, from the middle of the ring, in shares of the longest edge.
    normal = np.stack([-along[:, 1], along[:, 0]], axis=1) / length[:, None]
    middle = start.mean(axis=0)
    bound = (normal * ((start - middle) / longest)).sum(axis=1)
    x, y, r = _by_vertices(normal, bound) if len(bound) <= FEW else _by_program(normal, bound)
    return middle + longest * np.array([x, y]), r > 0


def _by_program(normal: Floats, bound: Floats) -> tuple[float, float, float]:
    """x, y, r by a library's linear program; r is 0 where there is no place."""
    found = linprog(
        [0, 0, -1],
        np.column_stack([-normal, np.ones(len(bound))]),
        -bound,
        bounds=[(None, None), (None, None), (None, 1.0)],
    )
    return tuple(found.x.tolist()) if found.status == 0 else (0.0, 0.0, 0.0)


@kernel
def _by_vertices(normal: Floats, bound: Floats) -> tuple[float, float, float]:
    """The same by all vertices of the program: where three lines touch one circle, or two a circle of the most r."""
    best = (0.0, 0.0, 0.0)
    count = len(bound)
    if count == 1:
        return normal[0, 0] * (bound[0] + 1.0), normal[0, 1] * (bound[0] + 1.0), 1.0
    for i in range(count):
        for j in range(i + 1, count):
            # A circle of radius r touches lines i and j: x = p + r q.
            det = normal[i, 0] * normal[j, 1] - normal[i, 1] * normal[j, 0]
            if abs(det) < 1e-12:
                continue
            px = (bound[i] * normal[j, 1] - bound[j] * normal[i, 1]) / det
            py = (bound[j] * normal[i, 0] - bound[i] * normal[j, 0]) / det
            qx = (normal[j, 1] - normal[i, 1]) / det
            qy = (normal[i, 0] - normal[j, 0]) / det
            # What every other line leaves of r.
            low, high = best[2], 1.0
            for k in range(count):
                if k in (i, j):
                    continue
                slack = normal[k, 0] * px + normal[k, 1] * py - bound[k]
                slope = 1.0 - normal[k, 0] * qx - normal[k, 1] * qy
                if slope > 1e-12:
                    high = min(high, (slack + NEAR) / slope)
                elif slope < -1e-12:
                    low = max(low, (slack + NEAR) / slope)
                elif slack < -NEAR:
                    high = -1.0
            if high > best[2] and high >= low:
                best = (px + high * qx, py + high * qy, high)
    return best


@kernel
def move(
    triangles: Ints, gradients: Floats, ring: Ints, st: Floats, vertex: int, place: Floats, clear: float
) -> None:
    """Moves a vertex towards a place in four steps, as far as all faces of its ring are stretched by more than `clear`."""
    x, y = st[vertex]
    for step in range(1, 5):
        share = step / 4
        st[vertex, 0], st[vertex, 1] = x + share * (place[0] - x), y + share * (place[1] - y)
        least = np.inf
        for slot in ring:
            a, b, c, d = jacobian(triangles, gradients, st, slot // 3)
            # The smaller singular value, below zero where it flips.
            least = min(least, (np.hypot(a + d, c - b) - np.hypot(a - d, c + b)) / 2)
        if least > clear:
            return
