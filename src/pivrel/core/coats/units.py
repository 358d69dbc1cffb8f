"""The units of a material, its bricks or tiles, told apart on the endless sheet."""

from __future__ import annotations

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats
from pivrel.core.coats.hashing import pcg4d
from pivrel.core.kernels import kernel
from pivrel.core.sheet import Joints

SALT = 7
"""Keeps the units' numbers apart from those of cells."""


def unit_chances(st: Floats, joints: Joints, repeat_mm: tuple[float, float], seed: int) -> Floats:
    """(N,) 0 to 1, a random number of the unit at each place (N, 2) on the sheet, mm; the same for all of a unit.

    Where there are no joints one way, a unit ends with the repeat.
    """
    along, up = (own or repeat for own, repeat in zip(joints.unit_mm, repeat_mm, strict=True))
    return _chances(st, along, up, joints.at_mm[0], joints.at_mm[1], joints.bond, seed)


@kernel(parallel=True)
def _chances(st: Floats, along: float, up: float, s0: float, t0: float, bond: float, seed: int) -> Floats:
    out = np.empty(len(st))
    for n in prange(len(st)):
        course = int(np.floor((st[n, 1] - t0) / up))
        unit = int(np.floor((st[n, 0] - s0 - course * bond * along) / along))
        out[n] = pcg4d(unit, course, SALT, seed)[0] / 2.0**32
    return out
