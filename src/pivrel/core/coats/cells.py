"""Random cells: the sheet cut into patches, each turned and shifted at random, and blended into its neighbours."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats
from pivrel.core.coats.hashing import pcg4d
from pivrel.core.kernels import kernel

SPREAD = 0.35
"""How far the point of a cell may lie off its middle, as a share of the side."""

WHOLE = 2.0**32


@dataclass(frozen=True)
class Cells:
    """size_mm: the side of a cell. width_mm: how far it is blended on either side of its border.

    turn_deg: each turns by an angle up to this, either way, or by whole quarters. shift: each is also shifted by a share of
    the repeat.
    """

    size_mm: float
    width_mm: float = 0.0
    turn_deg: float | Literal["quarters"] = "quarters"
    shift: bool = True
    seed: int = 1

    def at(
        self, raw: Floats, repeat_mm: tuple[float, float], axis: int = 0
    ) -> tuple[Floats, Floats, Floats, Floats]:
        """What nine cells show at raw places (N, 2): places on the sheet (N, 9, 2), the turns (N, 9) in radians by which
        they show it, their weights (N, 9), most of them 0, and a random number of each, 0 to 1.

        axis: which of a triplanar laying's three sheets.
        """
        quarters = self.turn_deg == "quarters"
        turn = 0.0 if self.turn_deg == "quarters" else float(np.radians(self.turn_deg))
        repeat = repeat_mm if self.shift else (0.0, 0.0)
        return _cells(raw, self.size_mm, self.width_mm, turn, quarters, repeat[0], repeat[1], axis, self.seed)


@kernel(parallel=True)
def _cells(
    raw: Floats,
    size: float,
    width: float,
    turn: float,
    quarters: bool,
    across: float,
    up: float,
    axis: int,
    seed: int,
) -> tuple[Floats, Floats, Floats, Floats]:
    """As `Cells.at`.

    A cell's weight falls linearly over the width across the border to the nearest one, equal on it. Where three meet, all
    that are near take part, so that nothing jumps.
    """
    count = len(raw)
    places, turns, weights = np.empty((count, 9, 2)), np.empty((count, 9)), np.zeros((count, 9))
    chances = np.empty((count, 9))
    for n in prange(count):
        s, t = raw[n, 0], raw[n, 1]
        i, j = int(np.floor(s / size)), int(np.floor(t / size))
        away = np.empty(9)
        for k in range(9):
            ci, cj = i + k % 3 - 1, j + k // 3 - 1
            h = pcg4d(ci, cj, axis, seed)
            cs = (ci + 0.5 + SPREAD * (2.0 * (h[0] / WHOLE) - 1.0)) * size
            ct = (cj + 0.5 + SPREAD * (2.0 * (h[1] / WHOLE) - 1.0)) * size
            away[k] = np.hypot(s - cs, t - ct)
            angle = (
                np.floor(4.0 * (h[2] / WHOLE)) * np.pi / 2
                if quarters
                else turn * (2.0 * (h[2] / WHOLE) - 1.0)
            )
            g = pcg4d(ci, cj, axis + 3, seed)
            c, d = np.cos(angle), np.sin(angle)
            places[n, k, 0] = cs + c * (s - cs) + d * (t - ct) + across * (g[0] / WHOLE)
            places[n, k, 1] = ct - d * (s - cs) + c * (t - ct) + up * (g[1] / WHOLE)
            turns[n, k], chances[n, k] = angle, g[2] / WHOLE
        nearest, total = away.min(), 0.0
        for k in range(9):
            # Half the difference of the distances is the distance across the border.
            off = (away[k] - nearest) / 2
            u = 1.0 if off <= 0.0 else max(0.0, 1.0 - off / width) if width > 0.0 else 0.0
            weights[n, k] = u / (2.0 - u)
            total += weights[n, k]
        for k in range(9):
            weights[n, k] /= total
    return places, turns, weights, chances
