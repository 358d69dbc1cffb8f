"""Where a vertex sees the whole ring round it, against a library's linear program."""

import numpy as np
import pytest
from scipy.optimize import linprog

from pivrel.core.solve.rings import FEW, deepest


def by_library(start, end):
    """The radius of the largest circle left of all edges, at most the longest edge; below zero where there is none."""
    along = end - start
    length = np.linalg.norm(along, axis=1)
    normal = np.stack([-along[:, 1], along[:, 0]], axis=1) / length[:, None]
    found = linprog(
        [0, 0, -1],
        np.column_stack([-normal, np.ones(len(normal))]),
        -(normal * start).sum(axis=1),
        bounds=[(None, None), (None, None), (None, length.max())],
    )
    return found.x[2] if found.status == 0 else -1.0


def radius(start, end, place):
    """How far a place lies to the left of all edges."""
    along = end - start
    normal = np.stack([-along[:, 1], along[:, 0]], axis=1) / np.linalg.norm(along, axis=1)[:, None]
    return float((normal * (place - start)).sum(axis=1).min())


def rings():
    """Rings of few and of many edges: stars that can be seen whole or not, open ones, parallel edges."""
    rng = np.random.default_rng(8)
    for case in range(400):
        count = int(rng.integers(3, FEW + 8))
        turns = np.sort(rng.uniform(0, 2 * np.pi, count))
        if case % 5 == 0:
            # Folded over: two places of the ring change.
            turns[:2] = turns[1::-1]
        far = rng.uniform(0.1, 1.0 + 9.0 * (case % 3), count)
        ring = far[:, None] * np.stack([np.cos(turns), np.sin(turns)], axis=1)
        ring = ring * 10.0 ** rng.integers(-4, 5) + rng.normal(0, 1000, 2)
        start, end = ring, np.roll(ring, -1, axis=0)
        # Of an open ring some edges are missing.
        kept = slice(0, count if case % 2 else int(rng.integers(1, count)))
        yield start[kept], end[kept]
    corners = np.array([[0.0, 0.0], [9.0, 0.0], [9.0, 2.0], [0.0, 2.0]])
    yield corners, np.roll(corners, -1, axis=0)
    yield corners[:1], corners[1:2]


def test_the_deepest_place_is_the_middle_of_the_largest_circle():
    came = []
    for start, end in rings():
        place, seen = deepest(start, end)
        size = np.linalg.norm(end - start, axis=1).max()
        most = by_library(start, end)
        if abs(most) > 1e-6 * size:
            assert seen == (most > 0), (start, end)
        if seen:
            assert radius(start, end, place) == pytest.approx(most, rel=1e-6, abs=1e-6 * size)
        came.append(seen)
    assert 100 < sum(came) < 350


def test_a_ring_without_lengths_is_seen_from_nowhere():
    corners = np.array([[0.0, 0.0], [0.0, 0.0], [1.0, 1.0]])
    assert not deepest(corners, np.roll(corners, -1, axis=0))[1]
