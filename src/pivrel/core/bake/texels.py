"""Texels: what of the surface each pixel of an image shows, and what is filled in beside it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from scipy.ndimage import distance_transform_edt

from pivrel.core.arrays import Floats, Ints
from pivrel.core.bake.pages import Pages
from pivrel.core.kernels import kernel
from pivrel.core.view.rasterizer import draw_triangles, shares_at

RING = 2
"""So many pixels beside a chart still show what its nearest triangle would, so that looking up between pixels at its border
is right."""

FAR = 8.0
"""Shares of a triangle beyond this come from one thinner than a pixel; they are brought back into it."""


@dataclass(frozen=True)
class Texels:
    """The pixels of one image, first row on top.

    triangle: (H, W) int32 the row of the surface's triangle that each shows, -1 for none: those within charts and a ring
    about them. source: (H, W) int32 the flat index of the nearest pixel within a chart.
    """

    pages: Pages
    triangle: Ints
    source: Ints

    def rows(self, count: int) -> Iterator[tuple[Ints, Ints]]:
        """Up to `count` pixels at a time: flat index (N,) and triangle (N,)."""
        shown = np.flatnonzero(self.triangle >= 0)
        for start in range(0, len(shown), count):
            flat = shown[start : start + count]
            yield flat, self.triangle.reshape(-1)[flat]

    def shares(self, flat: Ints, within: tuple[float, float] = (0.5, 0.5)) -> Floats:
        """(N, 3) the shares of the corners of its triangle in each pixel, at a place within it from its upper left."""
        height, width = self.triangle.shape
        triangle = self.triangle.reshape(-1)[flat]
        place = np.column_stack([flat % width + within[0], height - flat // width - within[1]])
        out = shares_at(self.pages.px, self.pages.charts.surface.triangles[triangle], place)
        wild = np.abs(out).max(axis=1) > FAR
        if wild.any():
            kept = np.clip(out[wild], 0, 1)
            out[wild] = kept / kept.sum(axis=1, keepdims=True)
        return out


def texels_of(pages: Pages, number: int) -> Texels:
    """The pixels of an image by its number."""
    width, height = pages.sizes[number]
    surface = pages.charts.surface
    own = np.flatnonzero(pages.face_page[surface.triangle_face] == number)
    places = np.zeros((len(pages.px), 3))
    places[:, :2] = pages.px * (1, -1) + (0, height)
    depth, ids = np.full((height, width), np.inf), np.full((height, width), -1, np.int32)
    draw_triangles(places, surface.triangles[own], depth, ids)
    triangle = np.append(own, -1).astype(np.int32)[ids]
    empty = triangle < 0
    # A chart thinner than a pixel meets the middle of none; it has no pixel of its own.
    if empty.all():
        return Texels(pages, triangle, np.zeros((height, width), np.int32))
    y, x = distance_transform_edt(empty, return_distances=False, return_indices=True)
    source = (y * np.int32(width) + x).astype(np.int32)
    ring = triangle.copy()
    for _ in range(RING):
        ring = _grown(ring, triangle.reshape(-1), source)
    return Texels(pages, ring, source)


@kernel
def _grown(triangle: Ints, own: Ints, source: Ints) -> Ints:
    """Triangles with the pixels beside them taking the triangle of their nearest pixel."""
    height, width = triangle.shape
    out = triangle.copy()
    for y in range(height):
        for x in range(width):
            if triangle[y, x] >= 0:
                continue
            for dy in range(-1, 2):
                for dx in range(-1, 2):
                    j, i = y + dy, x + dx
                    if 0 <= j < height and 0 <= i < width and triangle[j, i] >= 0:
                        out[y, x] = own[source[y, x]]
    return out
