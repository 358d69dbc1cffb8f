"""A surface stretched between two lines."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, distinct
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.surface import Surface
from pivrel.core.solve.solution import SolveError

SAME = 1e-5
"""Shares that differ by less are one."""

ACROSS = 8
"""Strips from the one line to the other."""


def ruled(one: Floats, other: Floats) -> Surface:
    """The surface between two lines of places, (N, 3) and (M, 3) mm: straight across, at equal shares of their lengths.

    The second is turned round where the two run against each other. SolveError for a line without length.
    """
    if min(_length(one), _length(other)) <= 0:
        raise SolveError("a guide needs two lines with a length: pick two edges")
    against = np.linalg.norm(one[0] - other[0]) + np.linalg.norm(one[-1] - other[-1])
    along = np.linalg.norm(one[0] - other[-1]) + np.linalg.norm(one[-1] - other[0])
    other = other[::-1] if along < against else other
    shares = distinct(np.concatenate([_shares(one), _shares(other)]))
    # Corners of the two lines that all but face each other make no strip of their own.
    shares = shares[np.append(np.diff(shares) > SAME, True)]
    near, far = (
        np.stack([np.interp(shares, _shares(line), line[:, k]) for k in range(3)], axis=1)
        for line in (one, other)
    )
    across = np.linspace(0, 1, ACROSS + 1)[:, None, None]
    points = (near + across * (far - near)).reshape(-1, 3)
    ids = np.arange(len(points), dtype=np.int32).reshape(ACROSS + 1, -1)
    quads = np.stack([ids[:-1, :-1], ids[:-1, 1:], ids[1:, 1:], ids[1:, :-1]], axis=-1).reshape(-1, 4)
    return Surface(
        Mesh(
            points=points,
            corners=quads.reshape(-1),
            face_start=np.arange(0, 4 * len(quads) + 1, 4, dtype=np.int32),
            face_part=np.zeros(len(quads), np.int32),
            part_names=("guide",),
        )
    )


def _shares(line: Floats) -> Floats:
    """(N,) the share of a line's length at each of its places."""
    at = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
    out: Floats = at / at[-1]
    return out


def _length(line: Floats) -> float:
    return float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum())
