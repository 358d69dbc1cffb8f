"""What is read off an image: the direction of its grain, and how much its borders show where it repeats."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats

SCALES = (1.0, 2.0, 4.0, 8.0, 16.0)
"""Widths in pixels, of an image of about a thousand, at which a grain may show: from pores to boards."""

WORKING = 1024
"""Images are brought to about this many pixels; finer detail says nothing more of a direction."""

SMALLEST = 8
"""In fewer pixels either way there is no direction to be seen."""

CONFIDENT = 0.3
"""Below this coherence an image has no grain: terrazzo comes to 0.1, a checker with its figures to 0.25."""


@dataclass(frozen=True)
class GrainRead:
    """grain_deg: counter-clockwise from level, 0 to 180; None where the image has no direction.

    confidence: 0 to 1, how much more there is to see across the grain than along it.
    """

    grain_deg: float | None
    confidence: float


@dataclass(frozen=True)
class WrapRead:
    """How much the two wraps show: the step across a border beside those within the image, 1 for none.

    along: from the right border to the left; up: from the top border to the bottom.
    """

    along: float
    up: float


WRAPS_BELOW = 1.6
"""A step this many times what is usual within the image shows as a line (our own trials with the built-in
materials and with cut ones; no source)."""


def grey_of(pixels: Floats) -> Floats:
    """(H, W) of (H, W) or (H, W, 3) values, by the weights of Rec. 709."""
    return pixels if pixels.ndim == 2 else pixels @ np.array([0.2126, 0.7152, 0.0722])


def _shrunk(grey: Floats) -> Floats:
    """The image at about WORKING pixels, by whole blocks, so that nothing is invented."""
    by = max(1, round(max(grey.shape) / WORKING))
    h, w = (side // by * by for side in grey.shape)
    out: Floats = grey[:h, :w].reshape(h // by, by, w // by, by).mean(axis=(1, 3))
    return out


def read_grain(pixels: Floats, repeat_mm: tuple[float, float] | None = None) -> GrainRead:
    """The direction in which an image varies least, over several scales.

    The structure tensor (J. Bigun and G. Granlund, "Optimal orientation detection of linear symmetry",
    ICCV 1987) at each scale, within a round window so that the borders say nothing. pixels: (H, W) or
    (H, W, 3), first row on top. repeat_mm: its real size, where pixels are not square.
    """
    grey = _shrunk(grey_of(pixels))
    h, w = grey.shape
    if min(h, w) < SMALLEST:
        return GrainRead(None, 0.0)
    wide, high = repeat_mm or (float(w), float(h))
    y, x = np.mgrid[0:h, 0:w]
    radius = np.hypot((x + 0.5) / w - 0.5, (y + 0.5) / h - 0.5) * 2
    window = np.where(radius < 1, np.cos(radius * np.pi / 2) ** 2, 0.0)
    power, angle, frequency = _spectrum((grey - (window * grey).sum() / window.sum()) * window, wide, high)
    best, strongest, at = 0j, 0.0, SCALES[0]
    for scale in SCALES:
        if scale * 8 > min(h, w):
            break
        # In the spectrum smoothing is a product, and the gradient another.
        energy = power * frequency**2 * np.exp(-((2 * np.pi * scale * frequency * wide / w) ** 2))
        total = float(energy.sum())
        if total <= 1e-12 * float(power.sum()) or not total:
            continue
        # Directions are doubled, so that one and its opposite add up.
        turned = complex((energy * np.exp(2j * angle)).sum()) / total
        if abs(turned) > strongest:
            best, strongest, at = turned, abs(turned), scale
    if strongest < CONFIDENT:
        return GrainRead(None, strongest)
    energy = power * frequency**2 * np.exp(-((2 * np.pi * at * frequency * wide / w) ** 2))
    across = _sharpened(energy, angle, np.angle(best) / 2)
    # What varies most lies across the grain.
    return GrainRead(float((np.degrees(across) + 90) % 180), strongest)


def _spectrum(image: Floats, wide: float, high: float) -> tuple[Floats, Floats, Floats]:
    """The power of an image's waves, their directions in radians (t upwards) and their frequency per mm."""
    h, w = image.shape
    power = np.abs(np.fft.rfft2(image)) ** 2
    fs = np.fft.rfftfreq(w, wide / w)[None, :]
    ft = -np.fft.fftfreq(h, high / h)[:, None]
    return power, np.arctan2(ft, fs), np.hypot(fs, ft)


def _sharpened(energy: Floats, angle: Floats, about: float) -> float:
    """The direction of the strongest waves near a first guess, which others may have pulled aside."""
    for within in (20.0, 12.0, 8.0, 5.0, 5.0):
        off = (angle - about + np.pi / 2) % np.pi - np.pi / 2
        weight = energy * np.exp(-((np.degrees(off) / within) ** 2))
        about += float((weight * off).sum() / max(float(weight.sum()), 1e-300))
    return about


def _step(grey: Floats) -> float:
    """The step from the last column to the first, beside what is usual from a column to the next.

    Over one column on each side, and over a few: shades that do not meet show more from afar.
    """
    h, w = grey.shape
    worst = 0.0
    for reach in (1, 2, 4):
        if w < 8 * reach:
            break
        sums = np.concatenate([np.zeros((h, 1)), np.cumsum(grey, axis=1)], axis=1)
        means = (sums[:, reach:] - sums[:, :-reach]) / reach
        # Mean and not square: a line through all rows counts for more than a joint in some of them.
        within = np.abs(means[:, reach:] - means[:, :-reach]).mean(axis=0)
        across = float(np.abs(means[:, 0] - means[:, -1]).mean())
        # Where a joint lies at the border, it is as lively there as at the other joints.
        beside = float(np.concatenate([within[:3], within[-3:]]).mean())
        worst = max(worst, across / (max(float(np.percentile(within, 99)), beside) + 1e-4))
    return worst


def read_wrap(pixels: Floats) -> WrapRead:
    """How much each wrap of an image shows. pixels: (H, W) or (H, W, 3)."""
    grey = grey_of(pixels)
    return WrapRead(_step(grey), _step(grey.T))
