"""Which faces of one model stand in the very place of another's, found by cells of space."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.hashing import cell_slot, table_size
from pivrel.core.kernels import kernel

EXACT_MM = 1e-3
"""What stands where it stood is not off by more than a file's digits."""

CELL_MM = 8 * EXACT_MM

LOOKED_AT = 32
"""So many faces in the very place are looked at; only what was copied onto itself has more."""

STEPS = 2000
"""So many faces of one cell are passed; only what has no size has more in one."""


@kernel
def in_the_same_place(
    was: Floats, was_normal: Floats, was_area: Floats, was_part: Ints, now: Floats, now_normal: Floats, now_area: Floats,
    preferred: Ints, same_area: float, cosine: float,
) -> Ints:  # fmt: skip
    """(K_new,) the row of the old face whose middle, direction and area a new one has, or -1.

    was, now: (K, 3) mm, the faces' middles. same_area: by which share areas may differ; cosine: directions. preferred:
    (K_new,) the old part that is taken, where several faces lie there.
    """
    slots = table_size(len(was))
    head, link = np.full(slots, -1, np.int32), np.empty(len(was), np.int32)
    # From the last to the first, so that the first is met first.
    for row in range(len(was) - 1, -1, -1):
        x, y, z = was[row, 0] / CELL_MM, was[row, 1] / CELL_MM, was[row, 2] / CELL_MM
        slot = cell_slot(int(np.floor(x)), int(np.floor(y)), int(np.floor(z)), slots)
        link[row], head[slot] = head[slot], row
    out = np.full(len(now), -1, np.int64)
    low, high = np.empty(3, np.int64), np.empty(3, np.int64)
    for row in range(len(now)):
        for k in range(3):
            low[k] = int(np.floor((now[row, k] - EXACT_MM) / CELL_MM))
            high[k] = int(np.floor((now[row, k] + EXACT_MM) / CELL_MM))
        best = np.inf
        for i in range(low[0], high[0] + 1):
            for j in range(low[1], high[1] + 1):
                for k in range(low[2], high[2] + 1):
                    other, looks, steps = head[cell_slot(i, j, k, slots)], 0, 0
                    while other >= 0 and looks < LOOKED_AT and steps < STEPS:
                        steps += 1
                        x, y, z = (
                            was[other, 0] - now[row, 0],
                            was[other, 1] - now[row, 1],
                            was[other, 2] - now[row, 2],
                        )
                        off = np.sqrt(x * x + y * y + z * z)
                        if off <= EXACT_MM:
                            looks += 1
                            alike = abs(was_area[other] - now_area[row]) <= same_area * max(
                                now_area[row], 1e-9
                            )
                            turn = 0.0
                            for axis in range(3):
                                turn += was_normal[other, axis] * now_normal[row, axis]
                            rank = off + (0.0 if was_part[other] == preferred[row] else 1.0)
                            if alike and turn >= cosine and rank < best:
                                best, out[row] = rank, other
                        other = link[other]
    return out
