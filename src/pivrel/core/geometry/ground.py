"""What of a model is the ground that the rest stands on: as wide as all of it, and low down."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface


def bounds_by(surface: Surface, of_face: Ints, count: int) -> Floats:
    """(count, 2, 3) mm, the least and greatest corner of the faces of each number; NaN where there is none.

    of_face: (F,) from 0 to count - 1.
    """
    mesh = surface.mesh
    of_corner = np.repeat(of_face, np.diff(mesh.face_start))
    order = np.argsort(of_corner, kind="stable")
    points = mesh.points[mesh.corners[order]]
    used, starts = np.unique(of_corner[order], return_index=True)
    out: Floats = np.full((count, 2, 3), np.nan)
    if len(used):
        out[used, 0] = np.minimum.reduceat(points, starts)
        out[used, 1] = np.maximum.reduceat(points, starts)
    return out


def as_ground(surface: Surface, bounds: Floats, share: float) -> Mask:
    """(N,) which of the bounds (N, 2, 3) reach over this share of the model's plan, in its lower half."""
    low, high = surface.bounds
    wide: Mask = ((bounds[:, 1] - bounds[:, 0])[:, :2] >= share * (high - low)[:2]).all(axis=1)
    return wide & (bounds[:, 1, 2] < (low[2] + high[2]) / 2)
