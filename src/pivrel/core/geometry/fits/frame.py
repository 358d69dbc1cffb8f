"""From fitted axes to a datum: where its origin falls, and figures that read well."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.geometry.frames import Datum, Vector

UP = np.array([0.0, 0.0, 1.0])


def unit(v: Floats) -> Floats:
    """The direction of a vector that is not zero."""
    out: Floats = v / np.linalg.norm(v)
    return out


def vector(v: Floats) -> Vector:
    """A direction as plain numbers; noise of the last digits and -0.0 read badly."""
    v = np.round(v, 12) + 0.0
    return float(v[0]), float(v[1]), float(v[2])


def datum_at(origin: Floats, x: Floats, z: Floats) -> Datum:
    """The datum there, its origin to a tenth of a micrometre."""
    return Datum(vector(np.round(origin, 4)), vector(x), vector(z))


def at_lowest_corner(points: Floats, x: Floats, z: Floats, outermost: bool) -> Datum:
    """The frame with its origin where a tiler begins: least x and y, and least or greatest z."""
    axes = np.stack([x, np.cross(z, x), z])
    inside = points @ axes.T
    low = inside.min(axis=0)
    if outermost:
        low[2] = inside[:, 2].max()
    return datum_at(low @ axes, x, z)


def level_across(z: Floats) -> Floats:
    """The level direction from left to right on a surface that looks along z; the model's x on a floor."""
    across = np.cross(UP, z)
    if np.linalg.norm(across) > 1e-6:
        return unit(across)
    return unit(np.array([1.0, 0, 0]) - z[0] * z)


def made_upright(axis: Floats) -> Floats:
    """The axis the way round that points upwards; level ones along +x or +y."""
    for k in (2, 0, 1):
        if abs(axis[k]) > 1e-6:
            return axis if axis[k] > 0 else -axis
    return axis
