"""Where a model is looked at from, and where its corners then lie on the screen."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.clipping import clip
from pivrel.core.geometry.surface import Surface

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


@njit(cache=True)
def outline_on_screen(
    places: Floats, triangle: Ints, width: int, height: int, first: Floats, second: Floats
) -> int:
    """A triangle's outline in `first`: x right and y down in pixels, z in clip space over w; its corners' count.

    places: (C, 6) clip coordinates by corner, `CUT` and `NEAR`.
    """
    for k in range(3):
        first[k] = places[triangle[k]]
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


def clip_space(surface: Surface, eye: Eye) -> Floats:
    """(C, 6) clip coordinates of every corner, `CUT` and `NEAR`."""
    points = surface.mesh.points
    out = np.ones((len(points), 6))
    out[:, :4] = points @ eye.matrix[:, :3].T + eye.matrix[:, 3]
    out[:, NEAR] = out[:, 2] + out[:, 3]
    if eye.cut is not None:
        out[:, CUT] = eye.cut[3] - points @ eye.cut[:3]
    cornerwise: Floats = out[surface.mesh.corners]
    return cornerwise
