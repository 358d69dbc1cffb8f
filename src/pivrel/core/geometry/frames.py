"""The datum: the place and directions that a projection measures from."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.errors import InputError

Vector = tuple[float, float, float]


class FrameError(InputError):
    """Axes that do not span a frame."""


@dataclass(frozen=True)
class Datum:
    """Origin in mm and two directions, in the model's own coordinates (any length)."""

    origin_mm: Vector = (0.0, 0.0, 0.0)
    x_axis: Vector = (1.0, 0.0, 0.0)
    z_axis: Vector = (0.0, 0.0, 1.0)

    @cached_property
    def axes(self) -> Floats:
        """(3, 3) rows x, y, z: orthonormal, right-handed. FrameError for parallel or zero axes."""
        x, z = np.asarray(self.x_axis, float), np.asarray(self.z_axis, float)
        if not (np.isfinite(x).all() and np.isfinite(z).all() and x.any() and z.any()):
            raise FrameError("a datum's axes must be finite and not zero")
        x, z = x / np.abs(x).max(), z / np.abs(z).max()
        z = z / np.linalg.norm(z)
        across = x - (x @ z) * z
        if np.linalg.norm(across) < 1e-9 * np.linalg.norm(x):
            raise FrameError("a datum's x axis must not run along its z axis")
        x = across / np.linalg.norm(across)
        (x1, x2, x3), (z1, z2, z3) = x.tolist(), z.tolist()
        # np.cross takes longer for two vectors than all of the rest.
        return np.array([x, (z2 * x3 - z3 * x2, z3 * x1 - z1 * x3, z1 * x2 - z2 * x1), z])

    @cached_property
    def to_datum(self) -> Floats:
        """(3, 4) the map from model coordinates to datum coordinates, both in mm."""
        axes = self.axes
        return np.column_stack([axes, -axes @ np.asarray(self.origin_mm, float)])


def turned(datum: Datum, axis: str, degrees: float) -> Datum:
    """The datum turned about its own x, y or z axis, counter-clockwise as seen against the axis."""
    axes = datum.axes
    k = "xyz".index(axis)
    a, b = axes[(k + 1) % 3], axes[(k + 2) % 3]
    turn = np.radians(degrees)
    after = axes.copy()
    after[(k + 1) % 3] = np.cos(turn) * a + np.sin(turn) * b
    after[(k + 2) % 3] = np.cos(turn) * b - np.sin(turn) * a
    x, z = (np.round(after[i], 12) + 0.0 for i in (0, 2))
    return Datum(
        datum.origin_mm, (float(x[0]), float(x[1]), float(x[2])), (float(z[0]), float(z[1]), float(z[2]))
    )
