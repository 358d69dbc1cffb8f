"""The one rasterizer: triangles into a buffer of depths and numbers, on the processor."""

from __future__ import annotations

import numpy as np
from numba import get_num_threads, prange

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel

SLIVER = 1e-9
"""Pixels on the edge that two triangles share must not fall between them."""


@kernel
def fill(
    a: Floats, b: Floats, c: Floats, number: int, first_row: int, last_row: int, depth: Floats, ids: Ints
) -> None:
    """Draws a triangle where it is nearer than what is there; pixels count by their middles.

    a, b, c: x right and y down in pixels, and the depth. Only the rows from first_row to before last_row are drawn.
    depth, ids: (H, W), what is nearest so far and its number.
    """
    width = depth.shape[1]
    twice = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
    if not abs(twice) >= 1e-12 or twice == np.inf or twice == -np.inf:
        return
    # Kept within the picture before they become whole numbers: far outside they are larger than any of those.
    top = int(max(np.floor(min(a[1], b[1], c[1])), float(first_row)))
    bottom = int(min(np.ceil(max(a[1], b[1], c[1])), float(last_row)))
    left = int(max(np.floor(min(a[0], b[0], c[0])), 0.0))
    right = int(min(np.ceil(max(a[0], b[0], c[0])), float(width)))
    for y in range(top, bottom):
        py = y + 0.5
        for x in range(left, right):
            px = x + 0.5
            v = ((px - a[0]) * (c[1] - a[1]) - (py - a[1]) * (c[0] - a[0])) / twice
            w = ((b[0] - a[0]) * (py - a[1]) - (b[1] - a[1]) * (px - a[0])) / twice
            if v < -SLIVER or w < -SLIVER or v + w > 1.0 + SLIVER:
                continue
            z = a[2] + v * (b[2] - a[2]) + w * (c[2] - a[2])
            if z < depth[y, x]:
                depth[y, x] = z
                ids[y, x] = number


BANDS_A_THREAD, LEAST_ROWS = 4, 16


def bands(height: int) -> Ints:
    """(B + 1,) the rows at which a picture is divided into bands, so that every thread draws into its own."""
    count = max(min(get_num_threads() * BANDS_A_THREAD, height // LEAST_ROWS), 1)
    return np.linspace(0, height, count + 1).astype(np.int64)


@kernel(parallel=True)
def _draw(places: Floats, triangles: Ints, rows: Ints, depth: Floats, ids: Ints) -> None:
    for band in prange(len(rows) - 1):
        first, last = rows[band], rows[band + 1]
        for t in range(len(triangles)):
            a, b, c = places[triangles[t, 0]], places[triangles[t, 1]], places[triangles[t, 2]]
            if min(a[1], b[1], c[1]) < last and max(a[1], b[1], c[1]) > first:
                fill(a, b, c, t, first, last, depth, ids)


def draw_triangles(places: Floats, triangles: Ints, depth: Floats, ids: Ints) -> None:
    """Draws triangles (T, 3) of places (C, 3) that lie before the eye; ids takes their rows."""
    _draw(places, triangles, bands(len(depth)), depth, ids)


def barycentric(places: Floats, triangles: Ints, ids: Ints) -> tuple[Ints, Ints, Ints, Floats]:
    """What each pixel that a triangle covers shows: its row, column and triangle (N,), and (N, 3) the corners' shares.

    ids: (H, W) as `draw_triangles` leaves it, -1 where nothing was drawn.
    """
    y, x = np.nonzero(ids >= 0)
    number = ids[y, x]
    return y, x, number, shares_at(places, triangles[number], np.column_stack([x + 0.5, y + 0.5]))


def shares_at(places: Floats, corners: Ints, at: Floats) -> Floats:
    """(N, 3) the shares of the corners (N, 3) of triangles of places (C, 2 or more) in places (N, 2) of the plane."""
    a, b, c = (places[corners[:, k], :2] for k in range(3))
    u, v, p = b - a, c - a, at - a
    twice = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]
    second = (p[:, 0] * v[:, 1] - p[:, 1] * v[:, 0]) / twice
    third = (u[:, 0] * p[:, 1] - u[:, 1] * p[:, 0]) / twice
    return np.column_stack([1.0 - second - third, second, third])
