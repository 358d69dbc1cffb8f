"""Where a sheet lies in space, for drawing it: the outline of one repeat, and how far a pick reaches."""

from __future__ import annotations

from dataclasses import dataclass
from typing import assert_never

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import Piece
from pivrel.core.projection import Box, Cylindrical, Planar, Spherical, Triplanar
from pivrel.core.projection.box import RULES, wrapped_rules

Triple = tuple[float, float, float]


@dataclass(frozen=True)
class Chart:
    """A side of a projection as a surface, in datum coordinates (mm).

    flat: a place (s, t) of the raw sheet is at origin + s * along + t * up, and the side looks to
    `out`. round: it is at radius (cos a, sin a) with a = s / along_mm, at height t (cylinder) or
    latitude t / radius (sphere).
    """

    shape: str
    origin: Triple = (0.0, 0.0, 0.0)
    along: Triple = (1.0, 0.0, 0.0)
    up: Triple = (0.0, 1.0, 0.0)
    out: Triple = (0.0, 0.0, 1.0)
    radius_mm: float = 0.0
    along_mm: float = 0.0


OUT = np.array([[1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0], [0, 0, 1], [0, 0, -1]], float)


def reach(surface: Surface, faces: Ints, piece: Piece) -> Floats:
    """(2, 3) the least and greatest datum coordinates of faces, in mm; zeros where there are none."""
    points = surface.points_of(faces)
    if not len(points):
        return np.zeros((2, 3))
    inside = points @ piece.datum.to_datum[:, :3].T + piece.datum.to_datum[:, 3]
    return np.stack([inside.min(axis=0), inside.max(axis=0)])


def charts(piece: Piece, bounds: Floats) -> list[Chart]:
    """The sides of a settled projection; flat ones lie where the pick ends (bounds, from `reach`)."""
    match piece.projection:
        case Cylindrical(radius_mm=radius, closing=closing):
            assert radius is not None
            return [Chart("cylinder", radius_mm=radius, along_mm=radius * closing)]
        case Spherical(radius_mm=radius):
            assert radius is not None
            return [Chart("sphere", radius_mm=radius, along_mm=radius)]
        case Planar():
            # On the datum's own plane: what is in front of it or behind is met straight through.
            return [Chart("flat")]
        case Box("wrapped", size) if size is not None:
            return _sides(wrapped_rules(size[0] / 2, size[1] / 2), bounds)
        case Box() | Triplanar():
            return _sides(RULES, bounds)
        case _:
            assert_never(piece.projection)


def _sides(rules: Floats, bounds: Floats) -> list[Chart]:
    out = []
    for rule, looks in zip(rules, OUT, strict=True):
        axis = int(np.argmax(np.abs(looks)))
        place = np.zeros(3)
        place[axis] = bounds[1 if looks[axis] > 0 else 0, axis]
        # The rows of a rule are unit axes, so s counts along the first from -offset.
        place -= rule[0, 3] * rule[0, :3]
        out.append(Chart("flat", _triple(place), _triple(rule[0, :3]), _triple(rule[1, :3]), _triple(looks)))
    return out


def _triple(v: Floats) -> Triple:
    v = v + 0.0
    return float(v[0]), float(v[1]), float(v[2])
