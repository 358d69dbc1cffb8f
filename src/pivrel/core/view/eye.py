"""Where a model is looked at from, and where its corners then lie on the screen."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.clipping import clip
from pivrel.core.geometry.surface import Surface
from pivrel.core.kernels import kernel

CUT, NEAR = 4, 5
"""Columns of clip coordinates beside x, y, z, w: how far a place lies on the drawn side of the cut, and how
far before the near plane (z + w)."""

MAX_CORNERS = 8
"""A triangle cut by two planes has 5 corners at most."""


@dataclass(frozen=True)
class Eye:
    """Where the model is looked at from.

    matrix: (4, 4) from model coordinates in mm to clip space (x, y, z, w), as in OpenGL 4.6, section 13.8.
    size: the view's width and height in pixels. cut: (4,) of a plane; places p with
    cut[:3] @ p > cut[3] are not drawn.
    """

    matrix: Floats
    size: tuple[int, int]
    cut: Floats | None = None


@dataclass(frozen=True)
class OnScreen:
    """Where the points of a model lie for an eye.

    clip: (P, 6) clip coordinates, `CUT` and `NEAR`. pixel: (P, 3) x right and y down in pixels, z in clip space over w,
    of those that are whole: (P,) whether a point is neither cut away nor behind the near plane.
    """

    clip: Floats
    pixel: Floats
    whole: Mask


@kernel
def outline_on_screen(
    clipped: Floats, pixel: Floats, whole: Mask, triangle: Ints, width: int, height: int, first: Floats, second: Floats
) -> int:  # fmt: skip
    """A triangle's outline in `first`: x right and y down in pixels, z in clip space over w; its corners' count.

    clipped, pixel, whole: as `OnScreen` has them. triangle: (3,) points.
    """
    if whole[triangle[0]] and whole[triangle[1]] and whole[triangle[2]]:
        for k in range(3):
            for j in range(3):
                first[k, j] = pixel[triangle[k], j]
        return 3
    for k in range(3):
        first[k] = clipped[triangle[k]]
    count = clip(first, 3, second, CUT)
    if count < 3:
        return 0
    count = clip(second, count, first, NEAR)
    for k in range(count):
        w = first[k, 3]
        if not w > 0.0:
            # Of no camera: before the near plane everything lies before the eye.
            return 0
        first[k, 0] = (first[k, 0] / w + 1.0) / 2.0 * width
        first[k, 1] = (1.0 - first[k, 1] / w) / 2.0 * height
        first[k, 2] = first[k, 2] / w
    return count if count >= 3 else 0


@kernel(parallel=True)
def _placed(
    points: Floats, matrix: Floats, cut: Floats, width: int, height: int, clip: Floats, pixel: Floats, whole: Mask
) -> None:  # fmt: skip
    for p in prange(len(points)):
        x, y, z = points[p, 0], points[p, 1], points[p, 2]
        for k in range(4):
            clip[p, k] = matrix[k, 0] * x + matrix[k, 1] * y + matrix[k, 2] * z + matrix[k, 3]
        clip[p, CUT] = cut[3] - (cut[0] * x + cut[1] * y + cut[2] * z)
        clip[p, NEAR] = clip[p, 2] + clip[p, 3]
        w = clip[p, 3]
        whole[p] = clip[p, CUT] >= 0.0 and clip[p, NEAR] >= 0.0 and w > 0.0
        if whole[p]:
            pixel[p, 0] = (clip[p, 0] / w + 1.0) / 2.0 * width
            pixel[p, 1] = (1.0 - clip[p, 1] / w) / 2.0 * height
            pixel[p, 2] = clip[p, 2] / w


UNCUT = np.array([0.0, 0.0, 0.0, 1.0])


def on_screen(surface: Surface, eye: Eye) -> OnScreen:
    """Where every point of a model lies."""
    count = len(surface.mesh.points)
    out = OnScreen(np.empty((count, 6)), np.empty((count, 3)), np.empty(count, bool))
    cut = UNCUT if eye.cut is None else np.asarray(eye.cut, np.float64)
    _placed(surface.mesh.points, eye.matrix, cut, *eye.size, out.clip, out.pixel, out.whole)
    return out
