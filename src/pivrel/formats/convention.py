"""How a file measures, and its points to and from the model's own: millimetres, Z up."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.formats.units import MM


@dataclass(frozen=True)
class Convention:
    """mm: how many millimetres one of the file's units is. up: its upward axis, "y" or "z"."""

    mm: float = 1.0
    up: str = "z"

    @classmethod
    def of(cls, unit: str, up: str) -> Convention:
        return cls(MM[unit], up)


def to_model(points: np.ndarray, convention: Convention) -> Floats:
    """(…, 3) from a file's space: Y up (x, y, z) becomes Z up (x, -z, y)."""
    points = np.asarray(points)
    out = np.empty(points.shape)
    x, y, z = (0, 2, 1) if convention.up == "y" else (0, 1, 2)
    back = -convention.mm if convention.up == "y" else convention.mm
    for to, axis, factor in ((0, x, convention.mm), (1, y, back), (2, z, convention.mm)):
        np.multiply(points[..., axis], factor, out=out[..., to], dtype=np.float64)
    return out


def from_model(points: np.ndarray, convention: Convention) -> Floats:
    """(…, 3) to a file's space: Z up (x, y, z) becomes Y up (x, z, -y)."""
    points = points[..., [0, 2, 1]] * (1, 1, -1) if convention.up == "y" else points
    return np.asarray(points, np.float64) / convention.mm
