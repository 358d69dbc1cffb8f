"""Seams: runs of cut edges, and marks at the same places of both sides."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.edge_chains import CORNER_DEG, end_places
from pivrel.core.measure.pieces import Pieces

AT = 0.4
"""A mark stands at this share of its seam: not in the middle, so that two edges are not joined the wrong way round."""


@dataclass(frozen=True)
class Mark:
    """Where two edges meet that were cut apart.

    seam: its number. piece: whose edge. at: (2,) mm. inward: (2,) unit vector.
    """

    seam: int
    piece: int
    at: Floats
    inward: Floats


def cut_edges(pieces: Pieces) -> tuple[Ints, Ints, Mask]:
    """Half-edges (corner ids) of both sides of edges within the laying that lie apart, and (E,) whether they are opposed."""
    surface = pieces.surface
    held = surface.held(pieces.faces)[surface.topology.corner_face]
    rim = np.zeros(surface.mesh.corner_count, bool)
    rim[pieces.rim_corner] = True
    pairs = surface.edge_pairs
    own = held[pairs.near] & held[pairs.far] & rim[pairs.near] & rim[pairs.far]
    return pairs.near[own], pairs.far[own], pairs.opposed[own]


def find_marks(pieces: Pieces) -> list[Mark]:
    """Two marks for every seam, numbered from 1 in the order of the pieces."""
    points = pieces.surface.mesh.points
    near, far, opposed = cut_edges(pieces)
    sides = np.stack([pieces.piece_of(near), pieces.piece_of(far)], axis=1)
    start, end = end_places(pieces.surface, near)
    out: list[Mark] = []
    for number, run in enumerate(_runs(sides, start, end, points), 1):
        edge, share = _along(points[start[run]], points[end[run]], run)
        for half, at in ((near[edge], share), (far[edge], 1 - share if opposed[edge] else share)):
            out.append(_mark(pieces, number, int(half), at))
    return out


def _runs(sides: Ints, start: Ints, end: Ints, points: Floats) -> Iterator[list[int]]:
    """Edges between the same two pieces, one after another as they hang together.

    A run ends where three edges meet, and where it would turn a corner.
    """
    by_pair: dict[tuple[int, int], list[int]] = defaultdict(list)
    for edge, (a, b) in enumerate(sides.tolist()):
        by_pair[min(a, b), max(a, b)].append(edge)
    along = points[end] - points[start]
    along /= np.maximum(np.linalg.norm(along, axis=1), 1e-300)[:, None]
    least = np.cos(np.radians(CORNER_DEG))
    for pair in sorted(by_pair):
        at: dict[int, list[int]] = defaultdict(list)
        for edge in by_pair[pair]:
            at[int(start[edge])].append(edge)
            at[int(end[edge])].append(edge)

        def beyond(edge: int, vertex: int, at: dict[int, list[int]] = at) -> int | None:
            """The edge that a run goes on along from the vertex at one of its ends."""
            if len(at[vertex]) != 2:
                return None
            other = at[vertex][0] if at[vertex][1] == edge else at[vertex][1]
            return other if abs(float(along[edge] @ along[other])) >= least else None

        left = dict.fromkeys(by_pair[pair])
        for first in by_pair[pair]:
            if first not in left:
                continue
            del left[first]
            ahead = _walk(first, int(end[first]), beyond, start, end, left)
            back = _walk(first, int(start[first]), beyond, start, end, left)
            yield [*back[::-1], first, *ahead]


def _walk(
    edge: int,
    tip: int,
    beyond: Callable[[int, int], int | None],
    start: Ints,
    end: Ints,
    left: dict[int, None],
) -> list[int]:
    """The edges that follow an edge beyond its tip; they are taken out of those that are left."""
    out: list[int] = []
    while (following := beyond(edge, tip)) is not None and following in left:
        del left[following]
        out.append(following)
        edge, tip = following, int(end[following]) if int(start[following]) == tip else int(start[following])
    return out


def _along(start: Floats, end: Floats, run: list[int]) -> tuple[int, float]:
    """The edge of a run on which its mark stands, and the share of the way along it."""
    length = np.linalg.norm(end - start, axis=1)
    upto = np.cumsum(length)
    wanted = AT * float(upto[-1])
    row = min(int(np.searchsorted(upto, wanted)), len(run) - 1)
    before = float(upto[row] - length[row])
    return run[row], (wanted - before) / max(float(length[row]), 1e-300)


def _mark(pieces: Pieces, seam: int, half: int, share: float) -> Mark:
    at = int(np.searchsorted(pieces.rim_corner, half))
    a, b = pieces.rims[at]
    along = b - a
    # A piece lies on the left of its rims, unless it lies turned over.
    inward = np.array([-along[1], along[0]]) * pieces.hand[pieces.rim_piece[at]]
    inward /= max(float(np.linalg.norm(inward)), 1e-300)
    return Mark(seam, int(pieces.rim_piece[at]), a + share * along, inward)
