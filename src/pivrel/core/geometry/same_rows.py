"""Rows of numbers that are the same, found without sorting them."""

from __future__ import annotations

from typing import Any

import numpy as np

from pivrel.core.arrays import Floats32, Ints
from pivrel.core.geometry.hashing import mixed_in, row_slot, table_size
from pivrel.core.kernels import kernel


@kernel
def _same(rows: Any) -> tuple[Ints, Ints]:
    count, width = rows.shape
    slots = table_size(count)
    table = np.full(slots, -1, np.int32)
    number, first, found = np.empty(count, np.int32), np.empty(count, np.int32), 0
    for row in range(count):
        mixed = np.uint64(width)
        for k in range(width):
            mixed = mixed_in(mixed, rows[row, k])
        slot = row_slot(mixed, slots)
        while table[slot] >= 0 and not _equal(rows, first[table[slot]], row):
            slot = (slot + 1) & (slots - 1)
        if table[slot] < 0:
            table[slot], first[found] = found, row
            found += 1
        number[row] = table[slot]
    return number, first[:found].copy()


@kernel
def _equal(rows: Any, a: int, b: int) -> bool:
    same = True
    for k in range(rows.shape[1]):
        same = same and rows[a, k] == rows[b, k]
    return same


def same_rows(rows: Floats32) -> tuple[Ints, Ints]:
    """(N,) int32 a number that the same rows (N, K) float32 share, by their first ones, and (M,) those first ones."""
    # Minus nought is nought; then numbers are the same where their bits are.
    found: tuple[Ints, Ints] = _same(np.ascontiguousarray(rows + np.float32(0.0)).view(np.uint32))
    return found
