"""Hash tables of compiled code: how large they are, and in which slot of one something belongs."""

from __future__ import annotations

import numpy as np

from pivrel.core.kernels import kernel


@kernel
def table_size(count: int) -> int:
    """Slots for so many entries: a power of two, at least twice as many as them."""
    slots = 16
    while slots < 2 * count:
        slots *= 2
    return slots


@kernel
def cell_slot(i: int, j: int, k: int, slots: int) -> int:
    """The slot of a cell of space."""
    mixed = (i * 73856093) ^ (j * 19349663) ^ (k * 83492791)
    mixed ^= mixed >> 17
    return mixed & (slots - 1)


@kernel
def mixed_in(mixed: np.uint64, value: int) -> np.uint64:
    """The hash of a row of numbers with one more of them; begin with any number."""
    out = (mixed ^ np.uint64(value)) * np.uint64(0x9E3779B97F4A7C15)
    return out ^ (out >> np.uint64(29))


@kernel
def row_slot(mixed: np.uint64, slots: int) -> np.int64:
    """The slot of a row of numbers by its hash."""
    return np.int64(mixed & np.uint64(slots - 1))
