"""Which of a pick's faces lie on one cylinder or cone: shoulders, chamfers, flanges and caps told apart.

A face lies on it where its normal points away from the axis at the shape's own angle and its middle is
at the shape's distance. Axes are first found from the normals alone, each refined on the faces that
agree with it, as a weighted least-squares line of the normals' image (H. Pottmann and J. Wallner,
"Computational Line Geometry", Springer 2001, on surfaces of revolution); then the centre, from the lines
along the normals, and the radius that holds most of the area.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from pivrel.core.arrays import Floats, Mask
from pivrel.core.geometry.runs import heaviest
from pivrel.core.kernels import kernel

WIDTHS = (0.3, 0.12, 0.05, 0.02)
"""How far a face may be off the angle that the others have to the axis, narrowed step by step (sine)."""

WINDOW = 0.012
"""Faces whose distances from the axis differ by less than this share of the radius lie on one cylinder."""

RADIAL = np.cos(np.radians(8.0))
"""The normal of a face on it points away from the axis, to within this cosine."""

TRIES = 24


@dataclass(frozen=True)
class Middles:
    """Faces by their middles: places (N, 3), unit normals (N, 3), weights (N,) that sum to 1."""

    places: Floats
    normals: Floats
    weights: Floats


@dataclass(frozen=True)
class Consensus:
    """What a shape's faces agree on. slope: the sine of a cone's half angle; held: (N,) its faces."""

    axis: Floats
    slope: float
    centre: Floats
    held: Mask
    share: float


def refined_axes(middles: Middles, starts: Floats, cone: bool) -> tuple[Floats, Floats]:
    """(D, 3) the axes near starts (D, 3) to which most of the normals stand at one angle, and (D,) its sine."""
    axes, slopes = starts.copy(), np.zeros(len(starts))
    normals = middles.normals
    products = (normals[:, :, None] * normals[:, None, :]).reshape(-1, 9)
    for width in WIDTHS:
        off = axes @ normals.T - slopes[:, None]
        weight = middles.weights * np.exp(-((off / width) ** 2))
        total = weight.sum(axis=1)
        on = total > 1e-9
        weight = weight[on] / total[on, None]
        mean = weight @ normals if cone else np.zeros((len(weight), 3))
        spread = (weight @ products).reshape(-1, 3, 3) - mean[:, :, None] * mean[:, None, :]
        found = np.linalg.eigh(spread)[1][:, :, 0]
        axes[on] = np.where((found * axes[on]).sum(axis=1)[:, None] >= 0, found, -found)
        slopes[on] = (mean * axes[on]).sum(axis=1)
    return axes, slopes


def agreed(middles: Middles, axis: Floats, slope: float) -> Consensus:
    """The faces that lie on the one cylinder or cone about a direction that holds most of the area.

    On a cone, distances are those to the axis along the normal, less what the slope adds with height.
    """
    off = np.abs(middles.normals @ axis - slope)
    candidates = off <= WIDTHS[-1] * 2
    u = np.cross(axis, np.eye(3)[np.argmin(np.abs(axis))])
    u = u / np.linalg.norm(u)
    flat = np.stack([u, np.cross(axis, u)])
    nobody = Consensus(axis, slope, np.zeros(3), np.zeros(len(off), bool), 0.0)
    if candidates.sum() < 3:
        return nobody
    places, height = middles.places @ flat.T, middles.places @ axis
    normals = middles.normals @ flat.T
    size = np.linalg.norm(normals, axis=1)
    normals = normals / np.maximum(size, 1e-12)[:, None]
    # Along a cone's normal the axis is further away by 1 / cos, and the radius falls with the height.
    tangent = slope / np.sqrt(max(1 - slope * slope, 1e-9))
    sides = Sides(places, normals, height * tangent, middles.weights, candidates)
    best: Floats = np.zeros(2)
    held_best, share_best = nobody.held, 0.0
    for start in _centres(places[candidates], normals[candidates], middles.weights[candidates]):
        centre, held, share = centred(sides, start)
        if share > share_best:
            best, held_best, share_best = centre, held, share
    return Consensus(axis, slope, best @ flat, held_best, share_best)


class Sides(NamedTuple):
    """Faces as they are seen along an axis: places and unit normals (N, 2), how much less far out each lies by its height
    (N,), weights (N,), and those that stand along the axis (N,)."""

    places: Floats
    normals: Floats
    falls: Floats
    weights: Floats
    upright: Mask


@kernel
def centred(sides: Sides, centre: Floats) -> tuple[Floats, Mask, float]:
    """The centre (2,) near a start that most agree on, (N,) the faces that lie about it, and their share."""
    for _ in range(3):
        held = _on_it(sides, centre)
        if held.sum() < 3:
            break
        centre = _crossing(sides.places, sides.normals, held * sides.weights)
    held = _on_it(sides, centre)
    return centre, held, (sides.weights * held).sum()


@kernel
def _crossing(places: Floats, normals: Floats, weights: Floats) -> Floats:
    """(2,) the place nearest to the lines along the normals, by weighted least squares; the nearest to 0 of several."""
    a = b = d = s = t = 0.0
    for k in range(len(places)):
        x, y = -normals[k, 1], normals[k, 0]
        along = x * places[k, 0] + y * places[k, 1]
        a += weights[k] * x * x
        b += weights[k] * x * y
        d += weights[k] * y * y
        s += weights[k] * x * along
        t += weights[k] * y * along
    # The eigenvalues of [[a, b], [b, d]].
    half, apart = (a + d) / 2, np.hypot((a - d) / 2, b)
    large, small = half + apart, half - apart
    out = np.zeros(2)
    if small > 1e-9 * large:
        det = a * d - b * b
        out[0], out[1] = (d * s - b * t) / det, (a * t - b * s) / det
    elif large > 0:
        # Lines of one direction cross nowhere.
        angle = np.arctan2(b, (a - d) / 2) / 2
        x, y = np.cos(angle), np.sin(angle)
        out[0], out[1] = x * (x * s + y * t) / large, y * (x * s + y * t) / large
    return out


def _centres(places: Floats, normals: Floats, weights: Floats) -> list[Floats]:
    """Places where the normals of two faces cross, for faces taken by their area; and where all do."""
    out = [_crossing(places, normals, weights)]
    # A fixed seed: the same pick must give the same datum every time.
    rng = np.random.default_rng(1)
    chances = weights / weights.sum()
    for i, j in rng.choice(len(places), (TRIES, 2), p=chances):
        turn = normals[i, 0] * normals[j, 1] - normals[i, 1] * normals[j, 0]
        if abs(turn) < 0.3:
            continue
        gap = places[j] - places[i]
        along = (gap[0] * normals[j, 1] - gap[1] * normals[j, 0]) / turn
        out.append(places[i] + along * normals[i])
    return out


@kernel
def _on_it(sides: Sides, centre: Floats) -> Mask:
    """(N,) the faces at the distance from the centre that most of the area has, and that look away from it."""
    count = len(sides.places)
    held, level, far = np.zeros(count, np.bool_), np.empty(count), np.empty(count)
    rows = np.empty(count, np.int64)
    radial = 0
    for k in range(count):
        if not sides.upright[k]:
            continue
        x, y = sides.places[k, 0] - centre[0], sides.places[k, 1] - centre[1]
        along = x * sides.normals[k, 0] + y * sides.normals[k, 1]
        far[k] = max(np.hypot(x, y), 1e-12)
        if abs(along) < RADIAL * far[k]:
            continue
        # Seen from inside the normals look to the axis; both ways may not be mixed on one shape.
        level[k] = np.copysign(far[k], along) + sides.falls[k]
        rows[radial] = k
        radial += 1
    if not radial:
        return held
    rows = rows[:radial]
    rows = rows[np.argsort(level[rows])]
    values = level[rows]
    begin, end = heaviest(values, values + 2 * WINDOW * far[rows], sides.weights[rows])
    for row in rows:
        held[row] = values[begin] - 1e-9 <= level[row] <= values[end - 1] + 1e-9
    return held
