"""Layout: where the pieces of a flattening lie on the sheet, without overlap."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.solve.solution import Laid

By = Literal["place", "packed"]
"""As the pieces lie on the model, or close together."""

FLOOR = 0.1
"""What is no taller than this share of its length is laid out as seen from above."""


@dataclass(frozen=True)
class Layout:
    """How pieces are laid out. gap_mm: between them."""

    by: By = "place"
    gap_mm: float = 20.0

    def arranged(self, pieces: list[Laid]) -> list[Laid]:
        """The pieces, each moved as a whole."""
        if not pieces:
            return pieces
        low = np.array([laid.st.min(axis=0) for laid in pieces])
        size = np.array([laid.st.max(axis=0) for laid in pieces]) - low
        corner = (
            shelved(size, self.gap_mm) if self.by == "packed" else spread(_places(pieces), size, self.gap_mm)
        )
        # The first piece's corner is the sheet's origin where there is only one.
        corner = corner - corner.min(axis=0)
        return [replace(laid, st=laid.st - low[row] + corner[row]) for row, laid in enumerate(pieces)]


def _places(pieces: list[Laid]) -> Floats:
    """(N, 2) mm where the middle of each piece lies on the model: along its longer level side, and upwards."""
    middle = np.array([
        np.average(laid.region.points[laid.region.triangles].mean(axis=1), axis=0, weights=laid.region.areas)
        for laid in pieces
    ])  # fmt: skip
    points = np.concatenate([laid.region.points for laid in pieces])
    extent = np.ptp(points, axis=0)
    along = 0 if extent[0] >= extent[1] else 1
    up = 2 if extent[2] > FLOOR * extent[along] else 1 - along
    return middle[:, [along, up]]


def spread(middle: Floats, size: Floats, gap: float) -> Floats:
    """(N, 2) mm the lower left corners of boxes about their middles (N, 2), moved along s until none overlaps.

    They keep their order along s and their heights.
    """
    corner = middle - size / 2
    order = np.lexsort((np.round(middle[:, 1], 3), np.round(middle[:, 0], 3)))
    done: Ints = np.empty(0, np.int64)
    for row in order.tolist():
        beside = (corner[done, 1] < corner[row, 1] + size[row, 1] + gap) & (
            corner[done, 1] + size[done, 1] + gap > corner[row, 1]
        )
        if beside.any():
            own = done[beside]
            corner[row, 0] = max(corner[row, 0], float((corner[own, 0] + size[own, 0]).max()) + gap)
        done = np.append(done, row)
    return corner


def shelved(size: Floats, gap: float) -> Floats:
    """(N, 2) mm the lower left corners of boxes (N, 2) packed into a square as nearly as rows of them make one.

    The tallest first, in rows of one width: next-fit decreasing height. E. G. Coffman, M. R. Garey, D. S. Johnson and
    R. E. Tarjan, "Performance bounds for level-oriented two-dimensional packing algorithms", SIAM Journal on Computing
    9(4), 1980.
    """
    width = max(float(np.sqrt(1.1 * np.prod(size + gap, axis=1).sum())), float(size[:, 0].max()) + gap)
    corner = np.zeros(size.shape)
    x = y = row_height = 0.0
    for row in np.lexsort((-size[:, 0], -np.round(size[:, 1], 6))).tolist():
        if x and x + size[row, 0] > width:
            x, y, row_height = 0.0, y + row_height + gap, 0.0
        corner[row] = x, y
        x += float(size[row, 0]) + gap
        row_height = max(row_height, float(size[row, 1]))
    return corner
