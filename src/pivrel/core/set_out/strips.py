"""The long borders of a piece that is a strip."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.measure.pieces import Pieces
from pivrel.core.set_out.moves import SetOutError

CORNER_DEG = 35.0
"""Where its outline turns by more on the sheet, a piece has a corner."""


def long_borders(pieces: Pieces, piece: int) -> list[Floats]:
    """The two longest runs of a piece's outline from corner to corner, (N, 3) mm on the model each.

    SetOutError where the outline has fewer than four corners: it has no long sides then.
    """
    rims = np.flatnonzero(pieces.rim_piece == piece)
    loop = _outline(pieces, rims)
    ends = pieces.rims[loop]
    along = ends[:, 1] - ends[:, 0]
    angle = np.arctan2(along[:, 1], along[:, 0])
    turn = np.abs((angle - np.roll(angle, 1) + np.pi) % (2 * np.pi) - np.pi)
    corners = np.flatnonzero(np.degrees(turn) > CORNER_DEG)
    if len(corners) < 4:
        raise SetOutError(
            "this piece has no four corners, so it has no long sides; straighten a border of it instead"
        )
    surface = pieces.surface
    points = surface.mesh.points
    found = []
    for first, last in zip(corners, np.append(corners[1:], corners[0] + len(loop)), strict=True):
        halves = pieces.rim_corner[loop[np.arange(first, last) % len(loop)]]
        vertices = surface.mesh.corners[np.append(halves, surface.topology.next_corner[halves[-1]])]
        found.append(points[vertices])
    lengths = [float(np.linalg.norm(np.diff(run, axis=0), axis=1).sum()) for run in found]
    return [found[row] for row in sorted(np.argsort(lengths)[-2:].tolist())]


def _outline(pieces: Pieces, rims: Ints) -> Ints:
    """The rims of the longest loop of a piece's outline, one after another."""
    starts = {
        tuple(np.round(place, 4)): row for row, place in zip(rims.tolist(), pieces.rims[rims, 0], strict=True)
    }
    left = dict.fromkeys(rims.tolist())
    best: list[int] = []
    longest = 0.0
    while left:
        row: int | None = next(iter(left))
        loop = []
        while row is not None and row in left:
            del left[row]
            loop.append(row)
            row = starts.get(tuple(np.round(pieces.rims[row, 1], 4)))
        length = float(np.linalg.norm(np.diff(pieces.rims[loop], axis=1), axis=2).sum())
        if length > longest:
            best, longest = loop, length
    return np.array(best)
