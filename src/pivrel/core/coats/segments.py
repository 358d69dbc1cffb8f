"""How near a point lies to lines in space: exact, and quick, because the lines are sorted into cells."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel

MOST_CELLS = 1 << 17
ACROSS = 96
"""Cells along the longest side, where the lines are near enough for so many."""


@dataclass(frozen=True)
class Lines:
    """Straight pieces of lines that something is near to.

    ends: (S, 2, 3) mm. radius_mm: (S,) how far each reaches wholly. normal: (S, 3) the side of the surface that it lies
    on; zero for both.
    """

    ends: Floats
    radius_mm: Floats
    normal: Floats

    @classmethod
    def of(cls, ends: Floats, radius_mm: float) -> Lines:
        """Lines that all reach as far, on every side."""
        return cls(ends, np.full(len(ends), radius_mm), np.zeros((len(ends), 3)))


@dataclass(frozen=True)
class LineGrid:
    """Lines by the cells of a grid that they reach into, from which a point's cell names all that matter to it.

    origin: (3,) mm. counts: (3,) cells along x, y, z. first: (cells + 1,) into rows. rows: (L,) into the lines.
    """

    lines: Lines
    soft_mm: float
    origin: Floats
    cell_mm: float
    counts: Ints
    first: Ints
    rows: Ints

    @property
    def nbytes(self) -> int:
        """The memory that the arrays take."""
        return self.first.nbytes + self.rows.nbytes + self.lines.ends.nbytes * 2

    def weight(self, points: Floats, normals: Floats) -> Floats:
        """(N,) 1 within a line's radius, falling linearly to 0 over soft_mm beyond it; of the nearest line.

        points: (N, 3) mm. normals: (N, 3); a line on a side of the surface counts where they look to that side.
        """
        lines = self.lines
        return _weight(
            points, normals, lines.ends, lines.radius_mm, lines.normal, self.soft_mm,
            self.origin, self.cell_mm, self.counts, self.first, self.rows,
        )  # fmt: skip


def sorted_into_cells(lines: Lines, soft_mm: float) -> LineGrid:
    """The grid of some lines."""
    reach = float(lines.radius_mm.max(initial=0.0)) + soft_mm
    if not len(lines.ends):
        empty = np.zeros(1, np.int32)
        return LineGrid(lines, soft_mm, np.zeros(3), 1.0, np.zeros(3, np.int32), empty, empty[:0])
    low = lines.ends.min(axis=(0, 1)) - reach
    size = np.maximum(lines.ends.max(axis=(0, 1)) + reach - low, 1e-6)
    cell = max(reach, float(size.max()) / ACROSS, 1e-6)
    while np.prod(np.ceil(size / cell)) > MOST_CELLS:
        cell *= 1.25
    counts = np.maximum(np.ceil(size / cell), 1).astype(np.int32)
    first, rows = _sorted(lines.ends, lines.radius_mm + soft_mm, low, cell, counts)
    return LineGrid(lines, soft_mm, low, cell, counts, first, rows)


@kernel
def _distance(x: float, y: float, z: float, ends: Floats) -> float:
    """From a place to a straight piece of line (2, 3)."""
    ux, uy, uz = ends[1, 0] - ends[0, 0], ends[1, 1] - ends[0, 1], ends[1, 2] - ends[0, 2]
    px, py, pz = x - ends[0, 0], y - ends[0, 1], z - ends[0, 2]
    square = ux * ux + uy * uy + uz * uz
    at = min(max((px * ux + py * uy + pz * uz) / square, 0.0), 1.0) if square > 0.0 else 0.0
    return np.sqrt((px - at * ux) ** 2 + (py - at * uy) ** 2 + (pz - at * uz) ** 2)


@kernel
def _sorted(ends: Floats, reach: Floats, low: Floats, cell: float, counts: Ints) -> tuple[Ints, Ints]:
    """Which lines reach into each cell: `first` and `rows` of a grid."""
    nx, ny, nz = counts[0], counts[1], counts[2]
    first = np.zeros(nx * ny * nz + 1, np.int32)
    half = cell * np.sqrt(3.0) / 2
    rows = np.empty(0, np.int32)
    for writing in range(2):
        for s in range(len(ends)):
            from_, to = np.empty(3, np.int64), np.empty(3, np.int64)
            for k in range(3):
                a, b = min(ends[s, 0, k], ends[s, 1, k]), max(ends[s, 0, k], ends[s, 1, k])
                from_[k] = max(int(np.floor((a - reach[s] - low[k]) / cell)), 0)
                to[k] = min(int(np.floor((b + reach[s] - low[k]) / cell)), counts[k] - 1)
            for i in range(from_[0], to[0] + 1):
                for j in range(from_[1], to[1] + 1):
                    for k in range(from_[2], to[2] + 1):
                        x, y, z = (
                            low[0] + (i + 0.5) * cell,
                            low[1] + (j + 0.5) * cell,
                            low[2] + (k + 0.5) * cell,
                        )
                        if _distance(x, y, z, ends[s]) > reach[s] + half:
                            continue
                        at = (k * ny + j) * nx + i
                        if writing:
                            rows[first[at]] = s
                            first[at] += 1
                        else:
                            first[at + 1] += 1
        if writing:
            # Each count has run on to where the next cell begins.
            first[1:] = first[:-1].copy()
            first[0] = 0
        else:
            first = np.cumsum(first).astype(np.int32)
            rows = np.empty(first[-1], np.int32)
    return first, rows


@kernel(parallel=True)
def _weight(
    points: Floats, normals: Floats, ends: Floats, radius: Floats, side: Floats, soft: float,
    low: Floats, cell: float, counts: Ints, first: Ints, rows: Ints,
) -> Floats:  # fmt: skip
    out = np.zeros(len(points))
    for n in prange(len(points)):
        x, y, z = points[n, 0], points[n, 1], points[n, 2]
        i, j = int(np.floor((x - low[0]) / cell)), int(np.floor((y - low[1]) / cell))
        k = int(np.floor((z - low[2]) / cell))
        if not (0 <= i < counts[0] and 0 <= j < counts[1] and 0 <= k < counts[2]):
            continue
        at = (k * counts[1] + j) * counts[0] + i
        best = 0.0
        for row in range(first[at], first[at + 1]):
            s = rows[row]
            looks = side[s, 0] * normals[n, 0] + side[s, 1] * normals[n, 1] + side[s, 2] * normals[n, 2]
            if looks < 0.0:
                continue
            beyond = _distance(x, y, z, ends[s]) - radius[s]
            w = 1.0 if beyond <= 0.0 else max(1.0 - beyond / soft, 0.0) if soft > 0.0 else 0.0
            best = max(best, w)
        out[n] = best
    return out
