"""The tightest oriented box of a pick."""

from __future__ import annotations

import numpy as np
from scipy.spatial import ConvexHull, QhullError

from pivrel.core.arrays import Floats, distinct
from pivrel.core.geometry.fits.frame import UP, unit

MOST_SIDES = 3000
"""Hull sides tried at most; a smooth body has thousands that hardly differ."""


def tightest_axes(points: Floats) -> Floats:
    """(3, 3) rows x, y, z of the box of least volume with a side on the convex hull.

    For each side of the hull the least rectangle is found by turning it along each edge of the
    outline (H. Freeman and R. Shapira, "Determining the minimum-area encasing rectangle for an
    arbitrary closed curve", Communications of the ACM 18(7), 1975). z is the axis nearest to
    upright, x the one nearest to the model's x. points: (N, 3) in mm; flat and straight sets count too.
    """
    near = points - points.mean(axis=0)
    spread, directions = np.linalg.eigh(near.T @ near)
    if spread[1] <= 1e-12 * max(spread[2], 1e-300):
        return _named(np.stack([directions[:, 2], directions[:, 1], directions[:, 0]]))
    try:
        hull = ConvexHull(near)
        corners, sides = near[hull.vertices], hull.equations[:, :3]
    except QhullError:
        corners, sides = near, directions[:, :1].T
    sides = np.round(sides, 6) + 0.0
    # Two sides that face each other make the same box.
    leading = sides[np.arange(len(sides)), np.argmax(sides != 0, axis=1)]
    sides = np.unique(np.where(leading[:, None] < 0, -sides, sides), axis=0)[:MOST_SIDES]
    least, best = np.inf, np.eye(3)
    for side in sides:
        z = unit(side)
        x = unit(np.cross(z, np.eye(3)[np.argmin(np.abs(z))]))
        frame = np.stack([x, np.cross(z, x), z])
        inside = corners @ frame.T
        turn, area = _least_rectangle(inside[:, :2])
        volume = area * max(float(np.ptp(inside[:, 2])), 1e-9)
        if volume < least * (1 - 1e-9):
            c, s = np.cos(turn), np.sin(turn)
            least, best = volume, np.array([[c, s, 0], [-s, c, 0], [0, 0, 1]]) @ frame
    return _named(best)


def _least_rectangle(flat: Floats) -> tuple[float, float]:
    """The turn in radians and the area of the least rectangle round points (N, 2)."""
    try:
        outline = flat[ConvexHull(flat).vertices]
    except QhullError:
        outline = flat
    edges = np.roll(outline, -1, axis=0) - outline
    turns = distinct(np.round(np.arctan2(edges[:, 1], edges[:, 0]) % (np.pi / 2), 9))
    c, s = np.cos(turns), np.sin(turns)
    across = np.ptp(outline @ np.stack([c, s]), axis=0)
    upward = np.ptp(outline @ np.stack([-s, c]), axis=0)
    areas = across * upward
    best = int(np.argmin(areas))
    return float(turns[best]), float(areas[best])


def _named(axes: Floats) -> Floats:
    """The same three axes in the order x, y, z that reads most like the model's own."""
    z = axes[np.argmax(np.abs(axes @ UP))]
    z = z if z[2] >= 0 else -z
    rest = [a for a in axes if abs(a @ z) < 0.5]
    x = max(rest, key=lambda a: abs(a[0]))
    x = x if x[0] >= 0 else -x
    return np.stack([x, np.cross(z, x), z])
