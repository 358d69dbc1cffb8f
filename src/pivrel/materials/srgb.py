"""Colors coded as images hold them, and their linear light (IEC 61966-2-1, sRGB)."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats


def coded(linear: Floats) -> Floats:
    """sRGB values of linear ones, each component 0 to 1, in any shape."""
    out: Floats = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)
    return out


def decoded(srgb: Floats) -> Floats:
    """Linear values of sRGB ones, each component 0 to 1, in any shape."""
    out: Floats = np.where(srgb <= 0.04045, srgb / 12.92, ((srgb + 0.055) / 1.055) ** 2.4)
    return out
