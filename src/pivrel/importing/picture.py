"""The picture of the import check: the model beside something whose size everybody knows."""

from __future__ import annotations

import numpy as np
import PIL.Image
import PIL.ImageDraw

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.picture import BARE_COLOR, PAPER, jpeg, pixels_a_mm, rasterize, view_axes

PERSON_MM, HAND_MM = 1750.0, 190.0
BUILDING_MM = 2500.0
"""From this size on a model stands beside a person, below it beside a hand."""

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


def draw_check(surface: Surface, marked: Ints, size: tuple[int, int] = (560, 360)) -> bytes:
    """JPEG bytes: the model from its front left with the marked faces in the warning color, at its left
    a person of 1.75 m, or a hand of 19 cm beside small things."""
    mesh = surface.mesh
    large = (size[0] * 2, size[1] * 2)
    axes = view_axes()
    xyz = mesh.points[mesh.corners] @ axes.T
    low, high = xyz[:, :2].min(axis=0), xyz[:, :2].max(axis=0)
    building = float(np.ptp(surface.bounds, axis=0).max()) > BUILDING_MM
    tall = PERSON_MM if building else HAND_MM
    # Seen a little from above, what stands upright is shortened.
    seen = tall * float(-axes[1, 2])
    # On the ground, left of the corner that is leftmost in the picture.
    foot = (surface.bounds[0] @ axes.T)[:2] - [0.5 * tall, 0]
    foot[0] = min(foot[0], low[0] - 0.35 * tall)
    low, high = np.minimum(low, foot - [0.3 * tall, seen]), np.maximum(high, foot)
    scale = pixels_a_mm(low, high, large)

    def to_pixels(at: Floats) -> Floats:
        out: Floats = (at - (low + high) / 2) * scale + np.array(large) / 2
        return out

    xyz[:, :2] = to_pixels(xyz[:, :2])
    atlas = np.empty((2, 1, 1, 3))
    atlas[0], atlas[1] = BARE_COLOR, WRONG_COLOR
    wrong = np.isin(surface.triangle_face, marked)
    out, through = (np.empty((large[1], large[0], 3)) for _ in range(2))
    out[:] = PAPER
    _shaded(surface, xyz, np.ones(len(wrong), bool), wrong, atlas, out)
    if wrong.any():
        # What lies on the far side shows through, paler.
        through[:] = -1
        _shaded(surface, xyz, wrong, wrong, atlas, through)
        behind = through[..., 0] >= 0
        out[behind] = 0.5 * out[behind] + 0.5 * through[behind]
    canvas = PIL.Image.fromarray(np.uint8(np.clip(out, 0, 1) * 255))
    _outline(canvas, PERSON if building else HAND, to_pixels(foot), tall * scale, seen / tall)
    return jpeg(np.asarray(canvas) / 255, size)


def _shaded(surface: Surface, xyz: Floats, drawn: Mask, wrong: Mask, atlas: Floats, out: Floats) -> None:
    rasterize(
        surface, xyz, np.zeros((len(xyz), 2)), wrong.astype(np.int32), atlas, np.ones((2, 2)), out, drawn
    )


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
