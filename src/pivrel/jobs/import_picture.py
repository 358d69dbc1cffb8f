"""The picture of the import check: the model beside something whose size everybody knows."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import PIL.Image
import PIL.ImageDraw

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.surface import Surface
from pivrel.project.picture import (
    BARE_COLOR,
    PAPER,
    affordable,
    in_view,
    jpeg,
    pixels_a_mm,
    rasterize,
    view_axes,
)

WRONG_COLOR = np.array([0.78, 0.22, 0.12])
SHADOW = (112, 106, 94)

Strokes = list[tuple[float, list[tuple[float, float]]]]

# Outlines in shares of the height, from the middle of the foot: strokes of (width, points).
PERSON: Strokes = [
    (0.115, [(0.0, 0.93), (0.0, 0.925)]),
    (0.15, [(0.0, 0.76), (0.0, 0.58)]),
    (0.055, [(-0.085, 0.785), (-0.125, 0.62), (-0.115, 0.46)]),
    (0.055, [(0.085, 0.785), (0.125, 0.62), (0.115, 0.46)]),
    (0.075, [(-0.04, 0.52), (-0.05, 0.27), (-0.055, 0.04)]),
    (0.075, [(0.04, 0.52), (0.05, 0.27), (0.055, 0.04)]),
]
HAND: Strokes = [
    (0.36, [(0.0, 0.30), (0.0, 0.36)]),
    (0.22, [(-0.01, 0.11), (0.01, 0.2)]),
    (0.095, [(-0.15, 0.45), (-0.20, 0.74)]),
    (0.095, [(-0.055, 0.47), (-0.07, 0.88)]),
    (0.095, [(0.045, 0.47), (0.05, 0.945)]),
    (0.095, [(0.14, 0.45), (0.165, 0.87)]),
    (0.105, [(0.14, 0.24), (0.27, 0.40), (0.31, 0.54)]),
]


COIN: Strokes = [(1.0, [(0.0, 0.5), (0.0, 0.5)])]


@dataclass(frozen=True)
class Beside:
    """Something whose size everybody knows. words: as the check names it; tall in mm."""

    words: str
    tall: float
    strokes: Strokes


BESIDE = (
    (8.0, None),
    (120.0, Beside("a coin of 23 mm", 23.0, COIN)),
    (2500.0, Beside("a hand of 19 cm", 190.0, HAND)),
    (60_000.0, Beside("a person of 1.75 m", 1750.0, PERSON)),
)
"""What a model up to each size stands beside. Where nothing familiar is near its size it stands alone, so that it
can always be seen."""


def beside(size_mm: float) -> Beside | None:
    """What a model with this largest side stands beside, or None."""
    return next((thing for most, thing in BESIDE if size_mm <= most), None)


def draw_check(
    surface: Surface, marked: Ints, colors: Floats | None = None, size: tuple[int, int] = (560, 360)
) -> bytes:
    """JPEG bytes: the model from its front left with the marked faces in the warning color, at its left
    something of its own order of size that everybody knows.

    colors: (S, 3) of the materials that it brings, as an image has them; plain where it brings none.
    """
    mesh = surface.mesh
    large = (size[0] * 2, size[1] * 2)
    axes = view_axes()
    xyz, low, high = in_view(surface)
    low, high = low[:2], high[:2]
    thing = beside(float(np.ptp(surface.bounds, axis=0).max()))
    # Seen a little from above, what stands upright is shortened.
    shortened = float(-axes[1, 2])
    foot = np.zeros(2)
    if thing is not None:
        # On the ground, left of the corner that is leftmost in the picture.
        foot = (surface.bounds[0] @ axes.T)[:2] - [0.5 * thing.tall, 0]
        foot[0] = min(foot[0], low[0] - 0.35 * thing.tall)
        low = np.minimum(low, foot - [0.3 * thing.tall, thing.tall * shortened])
        high = np.maximum(high, foot)
    large = affordable(surface, xyz, pixels_a_mm(low, high, large), large)
    scale = pixels_a_mm(low, high, large)

    def to_pixels(at: Floats) -> Floats:
        out: Floats = (at - (low + high) / 2) * scale + np.array(large) / 2
        return out

    xyz[:, :2] = to_pixels(xyz[:, :2])
    wrong = surface.held(marked)
    look = wrong.astype(np.int32)
    colors = np.zeros((0, 3)) if colors is None or mesh.face_source is None else colors
    atlas = np.concatenate([[BARE_COLOR, WRONG_COLOR], colors])[:, None, None, :]
    if mesh.face_source is not None and len(colors):
        brought = mesh.face_source
        look = np.where(~wrong & (brought >= 0), brought + 2, look).astype(np.int32)
    out, through = (np.empty((large[1], large[0], 3)) for _ in range(2))
    out[:] = PAPER
    rasterize(surface, xyz, look, atlas, out)
    if wrong.any():
        # What lies on the far side shows through, paler.
        through[:] = -1
        rasterize(surface, xyz, look, atlas, through, drawn=wrong[surface.triangle_face])
        behind = through[..., 0] >= 0
        out[behind] = 0.5 * out[behind] + 0.5 * through[behind]
    canvas = PIL.Image.fromarray(np.uint8(np.clip(out, 0, 1) * 255))
    if thing is not None:
        _outline(canvas, thing.strokes, to_pixels(foot), thing.tall * scale, shortened)
    return jpeg(np.asarray(canvas) / 255, size)


def _outline(canvas: PIL.Image.Image, strokes: Strokes, foot: Floats, tall: float, upright: float) -> None:
    """Draws the strokes as one body, `tall` pixels high before shortening; at least as a visible mark."""
    pen = PIL.ImageDraw.Draw(canvas)
    tall = max(tall, 6.0)
    for width, points in strokes:
        at = [(foot[0] + x * tall, foot[1] - y * tall * upright) for x, y in points]
        reach = width * tall / 2
        pen.line(at, fill=SHADOW, width=max(1, round(2 * reach)))
        for x, y in at:
            pen.ellipse((x - reach, y - reach, x + reach, y + reach), fill=SHADOW)
