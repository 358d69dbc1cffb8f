"""Where a sheet lies in space, for drawing it: the outline of one repeat, and how far a pick reaches."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface

Triple = tuple[float, float, float]

Shape = Literal["flat", "cylinder", "sphere"]


@dataclass(frozen=True)
class Chart:
    """A side of a projection as a surface, in datum coordinates (mm).

    flat: a place (s, t) of the raw sheet is at origin + s * along + t * up, and the side looks to
    `out`. round: it is at radius (cos a, sin a) with a = s / along_mm, at height t (cylinder) or
    latitude t / radius (sphere).
    """

    shape: Shape
    origin: Triple = (0.0, 0.0, 0.0)
    along: Triple = (1.0, 0.0, 0.0)
    up: Triple = (0.0, 1.0, 0.0)
    out: Triple = (0.0, 0.0, 1.0)
    radius_mm: float = 0.0
    along_mm: float = 0.0


OUT = np.array([[1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0], [0, 0, 1], [0, 0, -1]], float)


def reach(surface: Surface, faces: Ints, datum: Datum) -> Floats:
    """(2, 3) the least and greatest datum coordinates of faces, in mm; zeros where there are none."""
    points = surface.points_of(faces)
    if not len(points):
        return np.zeros((2, 3))
    inside = points @ datum.to_datum[:, :3].T + datum.to_datum[:, 3]
    return np.stack([inside.min(axis=0), inside.max(axis=0)])


def box_charts(rules: Floats, bounds: Floats) -> list[Chart]:
    """The six sides of a box laid by these rules (6, 2, 4), where the pick ends (bounds, from `reach`)."""
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
