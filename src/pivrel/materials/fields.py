"""Periodic fields: the noise, cells and relief that the built-in materials are made of.

Every field wraps without a break, so whatever is made of them alone is seamless to the pixel.
Arrays are (H, W) with the first row on top; lengths are in mm.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from pivrel.core.arrays import Floats, Ints


@dataclass(frozen=True)
class Canvas:
    """A sheet of material: its repeat in mm and its size in pixels."""

    repeat_mm: tuple[float, float]
    pixels: tuple[int, int]

    @property
    def s(self) -> Floats:
        """(H, W) mm from the left, at pixel centres."""
        w, h = self.pixels
        return np.broadcast_to((np.arange(w) + 0.5) / w * self.repeat_mm[0], (h, w))

    @property
    def t(self) -> Floats:
        """(H, W) mm from the bottom, at pixel centres."""
        w, h = self.pixels
        return np.broadcast_to(((h - 0.5 - np.arange(h)) / h * self.repeat_mm[1])[:, None], (h, w))

    def noise(self, seed: int, size_mm: float | tuple[float, float], roughness: float = 1.0) -> Floats:
        """(H, W) smooth noise of mean 0 and deviation 1, with features of about `size_mm`.

        Random phases under a power law (spectral synthesis; Saupe, in "The Science of Fractal
        Images", 1988). `size_mm` may differ along s and t; a higher `roughness` adds fine detail.
        """
        w, h = self.pixels
        along, up = (size_mm, size_mm) if isinstance(size_mm, int | float) else size_mm
        f = np.fft.rfftfreq(w, self.repeat_mm[0] / w)[None, :] * along
        g = np.fft.fftfreq(h, self.repeat_mm[1] / h)[:, None] * up
        power = (1.0 + f * f + g * g) ** (-2.0 / max(roughness, 0.05))
        power[0, 0] = 0.0
        white = np.fft.rfft2(np.random.default_rng(seed).standard_normal((h, w)))
        field = np.fft.irfft2(white * np.sqrt(power), s=(h, w))
        return field / max(float(field.std()), 1e-12)

    def cells(self, points: Floats, count: int = 2) -> tuple[Floats, Ints]:
        """(H, W, count) distances in mm to the nearest points, wrapped, and which they are."""
        tree = cKDTree(points % self.repeat_mm, boxsize=self.repeat_mm)
        at = np.stack([self.s, self.t], axis=-1).reshape(-1, 2)
        distance, index = tree.query(at, k=count, workers=-1)
        w, h = self.pixels
        return distance.reshape(h, w, count), index.reshape(h, w, count).astype(np.int32)

    def scatter(self, seed: int, count: int) -> Floats:
        """(count, 2) points in mm, spread evenly rather than at random (jittered golden lattice)."""
        i = np.arange(count)
        at = np.stack([(i + 0.5) / count, (i * 0.6180339887498949) % 1.0], axis=1)
        jitter = np.random.default_rng(seed).uniform(-0.5, 0.5, (count, 2)) / np.sqrt(count)
        return (at + jitter) % 1.0 * self.repeat_mm

    def normal(self, height_mm: Floats, strength: float = 1.0) -> Floats:
        """(H, W, 3) tangent-space normal map (+Y up the image), 0 to 1, of a relief in mm."""
        dx = self.repeat_mm[0] / self.pixels[0]
        dy = self.repeat_mm[1] / self.pixels[1]
        slope_s = (np.roll(height_mm, -1, 1) - np.roll(height_mm, 1, 1)) / (2 * dx)
        slope_t = (np.roll(height_mm, 1, 0) - np.roll(height_mm, -1, 0)) / (2 * dy)
        n = np.stack([-slope_s * strength, -slope_t * strength, np.ones_like(height_mm)], axis=-1)
        return n / np.linalg.norm(n, axis=-1, keepdims=True) / 2 + 0.5


def smoothstep(low: float, high: float, x: Floats) -> Floats:
    """0 below `low`, 1 above `high`, smooth between."""
    t = np.clip((x - low) / (high - low), 0, 1)
    return t * t * (3 - 2 * t)


def blend(a: Floats, b: Floats, amount: Floats) -> Floats:
    """a where amount is 0, b where it is 1; colors (…, 3), amount (…)."""
    return a + (b - a) * amount[..., None]


def rgb(code: str) -> Floats:
    """(3,) from "c0a080"."""
    return np.array([int(code[i : i + 2], 16) for i in (0, 2, 4)]) / 255


def ramp(codes: list[str], x: Floats) -> Floats:
    """(…, 3) colors along a ramp of codes, x from 0 to 1."""
    stops = np.linspace(0, 1, len(codes))
    colors = np.stack([rgb(c) for c in codes])
    return np.stack([np.interp(x, stops, colors[:, k]) for k in range(3)], axis=-1)


def per_item(seed: int, ids: Ints, low: float = 0.0, high: float = 1.0) -> Floats:
    """The same random number for the same id."""
    values = np.random.default_rng(seed).uniform(low, high, int(ids.max()) + 1)
    return values[ids]


def rounded_rectangle(x: Floats, y: Floats, half: tuple[float, float], radius: float) -> Floats:
    """Signed distance in mm to a rounded rectangle about the origin; negative inside."""
    dx, dy = np.abs(x) - half[0] + radius, np.abs(y) - half[1] + radius
    outside = np.hypot(np.maximum(dx, 0), np.maximum(dy, 0))
    return outside + np.minimum(np.maximum(dx, dy), 0) - radius
