"""Places on a repeating sheet, and how far the next one is from all of them, by cells."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel


@kernel
def _room(u: float, v: float, places: Floats, head: Ints, link: Ints, enough: float) -> float:
    side = len(head)
    best = np.inf
    i, j = int(u * side), int(v * side)
    # Ring by ring of cells, until no place further out can be nearer.
    for ring in range((side + 1) // 2 + 1):
        if (ring - 1) / side > min(best, enough):
            break
        for x in range(i - ring, i + ring + 1):
            step = 1 if abs(x - i) == ring else max(2 * ring, 1)
            for y in range(j - ring, j + ring + 1, step):
                at = head[x % side, y % side]
                while at >= 0:
                    a, b = abs(places[at, 0] - u), abs(places[at, 1] - v)
                    best = min(best, max(min(a, 1 - a), min(b, 1 - b)))
                    if best == 0.0:
                        return best
                    at = link[at]
    return best


class Apart:
    """Places on a sheet in shares of its repeat, 0 to 1 along and up.

    count: how many there will be at most. enough: a distance from which it does not matter how far they are apart.
    """

    def __init__(self, count: int, enough: float) -> None:
        side = int(np.clip(np.sqrt(count), 1, 2048))
        self._head = np.full((side, side), -1, np.int32)
        self._link = np.empty(count, np.int32)
        self._places = np.empty((count, 2))
        self._enough, self._count = enough, 0

    def room(self, u: float, v: float) -> float:
        """How far a place is from all others, along or up, whichever is more; exact where it is less than enough.

        Infinite, or more than enough, where none is so near.
        """
        return float(_room(u % 1.0, v % 1.0, self._places, self._head, self._link, self._enough))

    def add(self, u: float, v: float) -> None:
        """One more place."""
        u, v = u % 1.0, v % 1.0
        side, row = len(self._head), self._count
        cell = int(u * side), int(v * side)
        self._places[row] = u, v
        self._link[row], self._head[cell] = self._head[cell], row
        self._count += 1
