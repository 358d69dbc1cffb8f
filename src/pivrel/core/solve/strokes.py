"""Strokes: lines on the surface that the sheet's s follows, as what they ask of each triangle."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from pivrel.core.arrays import Floats, Ints, distinct
from pivrel.core.solve.region import Region

Stroke = tuple[tuple[float, float, float], ...]
"""Places on the surface, in mm, one after the other."""

REACH = 0.25
"""How far a stroke turns what lies round it, as a share of the square root of the area, unless stated."""

BAND = 0.04
"""How far a stroke is felt directly, as a share of the square root of the region's area."""

CROSSES = np.cos(np.radians(20.0))
"""Strokes that meet at a smaller angle run together rather than cross."""

STEPS = 4
"""Samples of a stroke to the width of its band."""


@dataclass(frozen=True)
class Felt:
    """What strokes ask of the triangles near them.

    near: (T,) from 1 on a stroke to 0 at the edge of its band, fading out at its ends; angle: (T,) radians of the stroke's
    direction in the triangle's own plane. stroke: (T,) which of them it is.
    """

    near: Floats
    angle: Floats
    stroke: Ints

    @property
    def any(self) -> bool:
        """Whether any triangle feels a stroke."""
        return bool((self.near > 0).any())


def felt(region: Region, strokes: Sequence[Stroke]) -> Felt:
    """What strokes ask of a region; those that run elsewhere ask nothing."""
    band = BAND * float(np.sqrt(region.areas.sum()))
    place, ahead, weight, number = _samples([np.array(stroke, float) for stroke in strokes], band)
    count = len(region.triangles)
    near, angle, stroke = np.zeros(count), np.zeros(count), np.zeros(count, np.int64)
    if not len(place):
        return Felt(near, angle, stroke)
    # A triangle may reach nearer to the stroke than its middle does.
    middle, reach = region.middles
    wide = band + float(reach.max())
    low, high = place.min(axis=0) - wide, place.max(axis=0) + wide
    rows = np.flatnonzero(((middle >= low) & (middle <= high)).all(axis=1))
    away, at = cKDTree(place).query(middle[rows], distance_upper_bound=wide)
    touched = away <= band + reach[rows]
    rows, away, at = rows[touched], away[touched], at[touched]
    a, b, c = (region.points[region.triangles[rows, k]] for k in range(3))
    along = (b - a) / np.linalg.norm(b - a, axis=1)[:, None]
    normal = np.cross(b - a, c - a)
    normal /= np.linalg.norm(normal, axis=1)[:, None]
    off = place[at] - middle[rows]
    height = np.abs(np.einsum("ij,ij->i", off, normal))
    direction = ahead[at]
    x = np.einsum("ij,ij->i", direction, along)
    y = np.einsum("ij,ij->i", direction, np.cross(normal, along))
    flat = np.hypot(x, y)
    # Beside the stroke, on its own sheet: not what lies under it or stands up from it.
    beside = np.maximum(away - reach[rows], 0.0)
    asks = (height <= band) & (flat > 0.5)
    near[rows] = np.where(asks, np.clip(1 - beside / band, 0, 1) * weight[at], 0.0)
    angle[rows], stroke[rows] = np.arctan2(y, x), number[at]
    return Felt(near, angle, stroke)


def _samples(strokes: list[Floats], band: float) -> tuple[Floats, Floats, Floats, Ints]:
    """(S, 3) places along strokes, (S, 3) their directions, (S,) 1 but for the ends, where it fades to 0, and (S,)
    which stroke it is."""
    places, aheads, weights, numbers = [], [], [], []
    for number, stroke in enumerate(strokes):
        sides = np.linalg.norm(np.diff(stroke, axis=0), axis=1)
        stroke = stroke[np.append(True, sides > 0)]
        at = np.concatenate([[0.0], np.cumsum(sides[sides > 0])])
        if len(stroke) < 2:
            continue
        count = max(int(np.ceil(at[-1] / band * STEPS)), 4)
        wanted = (np.arange(count) + 0.5) / count * at[-1]
        row = np.clip(np.searchsorted(at, wanted, side="right") - 1, 0, len(stroke) - 2)
        ahead = np.diff(stroke, axis=0) / np.diff(at)[:, None]
        places.append(stroke[row] + (wanted - at[row])[:, None] * ahead[row])
        # Of a direction that jumps at each corner a mean over the band is meant.
        before, after = (np.clip(wanted + way * band / 2, 0, at[-1]) for way in (-1, 1))
        smooth = np.stack(
            [np.interp(after, at, stroke[:, k]) - np.interp(before, at, stroke[:, k]) for k in range(3)],
            axis=1,
        )
        size = np.linalg.norm(smooth, axis=1)
        aheads.append(np.where(size[:, None] > 1e-9, smooth / np.maximum(size, 1e-300)[:, None], ahead[row]))
        weights.append(np.clip(np.minimum(wanted, at[-1] - wanted) / band, 0, 1))
        numbers.append(np.full(count, number))
    if not places:
        return np.empty((0, 3)), np.empty((0, 3)), np.empty(0), np.empty(0, np.int64)
    place, ahead, which = np.concatenate(places), np.concatenate(aheads), np.concatenate(numbers)
    return place, ahead, np.concatenate(weights) * _apart(place, ahead, which, band), which


def _apart(place: Floats, ahead: Floats, number: Ints, band: float) -> Floats:
    """(S,) 1, but for where a stroke crosses another at an angle: there neither can be followed, and both fade out."""
    out = np.ones(len(place))
    for one in distinct(number).tolist():
        own, others = np.flatnonzero(number == one), np.flatnonzero(number != one)
        if not len(others):
            continue
        away, at = cKDTree(place[others]).query(place[own])
        turned = np.abs(np.einsum("ij,ij->i", ahead[own], ahead[others[at]])) < CROSSES
        out[own] = np.where(turned, np.clip(away / (2 * band) - 0.5, 0, 1), 1.0)
    return out
