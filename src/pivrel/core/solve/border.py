"""The border of a region: its loops, how they turn, and where its corners are."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from itertools import combinations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.solve.kept import once
from pivrel.core.solve.region import Region

SHARP_DEG = 45.0
"""A turn sharper than this leads off a border's own line, into a notch or out of it."""

OFFSET = 0.01
"""The share of its length by which a border may stand off its own line."""

NEAR = 0.03
"""The share of a border's length within which its turning counts as one corner's."""

ROUND_ALIKE = 0.5
"""A second border at least this share of the first one's length closes a region to a ring."""

SQUARE = 2.0
"""A border whose four corners come to less than this has none: it is round."""

CANDIDATES = 12


@dataclass(frozen=True)
class Loop:
    """One closed border, the region on its left as seen from outside.

    vertices: (N,) in order, each once. points: (N, 3) mm. turn: (N,) radians by which the border turns left at each,
    within the surface.
    """

    vertices: Ints
    points: Floats
    turn: Floats

    @cached_property
    def at(self) -> Floats:
        """(N + 1,) mm along the border from its first vertex to each, and all the way round."""
        sides = np.linalg.norm(np.roll(self.points, -1, axis=0) - self.points, axis=1)
        return np.concatenate([[0.0], np.cumsum(sides)])

    @cached_property
    def corner_rows(self) -> tuple[int, int, int, int]:
        """The best guess at its four corners, as rows in order; the longer pair of sides runs first."""
        return _best_rows(self)

    @property
    def length(self) -> float:
        """mm."""
        return float(self.at[-1])

    def run(self, start: int, end: int) -> Ints:
        """The vertices from one row to another, both included, going on past the last."""
        count = len(self.vertices)
        return self.vertices[(start + np.arange((end - start) % count + 1)) % count]

    def length_of(self, start: int, end: int) -> float:
        """mm from one row to another, going on past the last."""
        return float((self.at[end] - self.at[start]) % self.length)


def straight_part(loop: Loop, start: int, end: int) -> Ints:
    """The vertices from one row to another without notches: what a sharp turn leads aside from the border's own line.

    A border that bends smoothly has none. Both ends are always part of it.
    """
    rows = (start + np.arange((end - start) % len(loop.vertices) + 1)) % len(loop.vertices)
    sharp = np.where(np.abs(np.degrees(loop.turn[rows])) > SHARP_DEG, loop.turn[rows], 0.0)
    sharp[[0, -1]] = 0.0
    if not sharp.any():
        return loop.vertices[rows]
    ahead = np.cumsum(sharp)[:-1]
    side = np.diff(np.append(loop.at[:-1], loop.at[:-1] + loop.length)[start + np.arange(len(rows))])
    aside = np.concatenate([[0.0], np.cumsum(np.sin(ahead) * side)])
    slack = OFFSET * float(side.sum())
    on_line = (np.abs(aside) <= slack) & (np.cos(np.append(ahead, 0.0)) > 0.7)
    on_line[1:] |= (np.abs(aside[1:]) <= slack) & on_line[:-1]
    on_line[[0, -1]] = True
    return loop.vertices[rows[on_line]]


@once
def loops(region: Region) -> list[Loop]:
    """The region's borders, longest first."""
    start, end = region.ends
    next_at = dict(zip(start[region.border].tolist(), region.border.tolist(), strict=True))
    turn = np.pi - angle_sums(region)
    out, seen = [], set()
    for first in region.border.tolist():
        ring = []
        half: int | None = first
        while half is not None and half not in seen:
            seen.add(half)
            ring.append(int(start[half]))
            half = next_at.get(int(end[half]))
        if ring:
            vertices = np.array(ring)
            out.append(Loop(vertices, region.points[vertices], turn[vertices]))
    return sorted(out, key=lambda loop: -round(loop.length, 6))


def angle_sums(region: Region) -> Floats:
    """(V,) radians that the triangles take up round each vertex."""
    lengths = region.lengths.reshape(-1, 3)
    after, across, before = lengths, lengths[:, [1, 2, 0]], lengths[:, [2, 0, 1]]
    cosine = (after**2 + before**2 - across**2) / np.maximum(2 * after * before, 1e-300)
    angle = np.arccos(np.clip(cosine, -1, 1))
    out: Floats = np.bincount(region.triangles.reshape(-1), angle.reshape(-1), len(region.points)).astype(
        float
    )
    return out


def _best_rows(loop: Loop) -> tuple[int, int, int, int]:
    best, found = -np.inf, None
    candidates = corner_candidates(loop)
    turned = {row: _turn_near(loop, row) for row in candidates}
    for rows in combinations(candidates, 4):
        sides = [max(loop.length_of(a, b), 1e-9) for a, b in zip(rows, rows[1:] + rows[:1], strict=True)]
        square = sum(1 - abs(np.degrees(turned[row]) - 90) / 90 for row in rows)
        score = square - 0.3 * (abs(np.log(sides[0] / sides[2])) + abs(np.log(sides[1] / sides[3])))
        if score > best + 1e-9:
            best, found = score, (rows, sides)
    assert found is not None, "a border has three vertices and a fourth candidate on its longest side"
    rows, sides = found
    if sides[0] + sides[2] < (sides[1] + sides[3]) * (1 - 1e-9):
        rows = rows[1:] + rows[:1]
    return rows[0], rows[1], rows[2], rows[3]


def goes_round(found: list[Loop]) -> bool:
    """Whether a region, by its borders from `loops`, is a ring or a tube, and no sheet with holes."""
    if len(found) < 2:
        return False
    if found[1].length > ROUND_ALIKE * found[0].length or len(found[0].vertices) < 4:
        return True
    return squareness(found[0], found[0].corner_rows) < SQUARE


def squareness(loop: Loop, rows: tuple[int, int, int, int]) -> float:
    """How much the four corners are corners: 4 where each turns by a right angle, 0 and less for a round border."""
    return float(sum(1 - abs(np.degrees(_turn_near(loop, row)) - 90) / 90 for row in rows))


def corner_candidates(loop: Loop) -> list[int]:
    """Rows of a loop at which it may have a corner, at most twelve, in order: where it turns most, apart from each other."""
    near = _turns_near(loop)
    order = np.lexsort((np.arange(len(near)), -np.round(near, 6)))
    chosen: list[int] = []
    for apart in (NEAR, 0.0):
        for row in order.tolist():
            if len(chosen) >= (CANDIDATES if apart else 4):
                break
            row = _sharpest_near(loop, row) if apart else row
            if row not in chosen and all(_apart(loop, row, other) > apart * loop.length for other in chosen):
                chosen.append(row)
    return sorted(chosen)


def _apart(loop: Loop, one: int, other: int) -> float:
    """mm between two rows, the shorter way round."""
    return min(loop.length_of(one, other), loop.length_of(other, one))


def _sharpest_near(loop: Loop, row: int) -> int:
    """Of the rows whose turning counts as one corner with this one's the sharpest; of several the one in the middle."""
    rows, half = [row], NEAR / 2 * loop.length
    count = len(loop.vertices)
    for step in (1, -1):
        other = (row + step) % count
        while _apart(loop, row, other) <= half and other not in rows:
            rows.append(other)
            other = (other + step) % count
    most = max(float(loop.turn[k]) for k in rows)
    sharp = [k for k in rows if loop.turn[k] >= 0.9 * most - 1e-9] if most > 0 else [row]
    offset = [(loop.at[k] - loop.at[row] + loop.length / 2) % loop.length for k in sharp]
    middle = float(np.mean(offset))
    return min(zip(sharp, offset, strict=True), key=lambda one: (round(abs(one[1] - middle), 6), one[0]))[0]


def _turn_near(loop: Loop, row: int) -> float:
    return float(_turns_near(loop)[row])


def _turns_near(loop: Loop) -> Floats:
    """(N,) radians that the border turns within 3 % of its length round each vertex."""
    count, half = len(loop.vertices), NEAR / 2 * loop.length
    at = np.concatenate([loop.at[:-1] - loop.length, loop.at[:-1], loop.at[:-1] + loop.length])
    total = np.concatenate([[0.0], np.cumsum(np.tile(loop.turn, 3))])
    own = at[count : 2 * count]
    low, high = np.searchsorted(at, own - half - 1e-9), np.searchsorted(at, own + half + 1e-9)
    out: Floats = total[high] - total[low]
    return out
