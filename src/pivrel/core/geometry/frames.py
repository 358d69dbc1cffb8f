"""The datum: the place and directions that a projection measures from."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats

Vector = tuple[float, float, float]


class FrameError(ValueError):
    """Axes that do not span a frame."""


@dataclass(frozen=True)
class Datum:
    """Origin in mm and two directions, in the model's own coordinates (any length)."""

    origin_mm: Vector = (0.0, 0.0, 0.0)
    x_axis: Vector = (1.0, 0.0, 0.0)
    z_axis: Vector = (0.0, 0.0, 1.0)

    @property
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
        return np.stack([x, np.cross(z, x), z])

    @property
    def to_datum(self) -> Floats:
        """(3, 4) the map from model coordinates to datum coordinates, both in mm."""
        axes = self.axes
        return np.column_stack([axes, -axes @ np.asarray(self.origin_mm, float)])
