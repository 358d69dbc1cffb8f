"""What a material's images show at a place on the sheet, and what triplanar blends of it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.frames import Datum
from pivrel.core.kernels import kernel
from pivrel.core.projection import Triplanar

Pair = tuple[float, float]


def bilinear(image: Floats, st: Floats, repeat_mm: Pair, rows: Ints | None = None) -> Floats:
    """(N, C) the repeating image (H, W, C) at (N, 2) mm, between the centres of its four nearest pixels.

    The sheet's origin is the image's bottom-left corner. rows: only some of the places.
    """
    st = st if rows is None or len(rows) == len(st) else st[rows]
    out = np.zeros((len(st), image.shape[2]))
    add_bilinear(out, np.arange(len(st)), np.ones(len(st)), image, st, repeat_mm)
    return out


def add_bilinear(out: Floats, rows: Ints, weight: Floats, image: Floats, st: Floats, repeat_mm: Pair) -> None:
    """Adds to some rows of out (N, C) what the image shows there, by weight (N,); st (N, 2) as for `bilinear`."""
    _add(image, st, float(repeat_mm[0]), float(repeat_mm[1]), weight, rows, out)


# Without Python's lock, so that two threads look up at once.
@kernel
def _add(
    image: Floats, st: Floats, along_mm: float, up_mm: float, weight: Floats, rows: Ints, out: Floats
) -> None:
    height, width, channels = image.shape
    for k in rows:
        x = st[k, 0] / along_mm * width - 0.5
        y = (1.0 - st[k, 1] / up_mm) * height - 0.5
        left, top = np.floor(x), np.floor(y)
        fx, fy = x - left, y - top
        i0, j0 = int(left) % width, int(top) % height
        i1, j1 = (i0 + 1) % width, (j0 + 1) % height
        for c in range(channels):
            upper = image[j0, i0, c] * (1 - fx) + image[j0, i1, c] * fx
            lower = image[j1, i0, c] * (1 - fx) + image[j1, i1, c] * fx
            out[k, c] += weight[k] * (upper * (1 - fy) + lower * fy)


@dataclass(frozen=True)
class Channel:
    """One channel of a triplanar finish, along x, y and z.

    images: three of (H, W, C), linear values; a normal map in 0 to 1 as stored. sheets: (3, 2, 3) raw
    to final. repeats_mm: width and height of each.
    """

    images: tuple[Floats, Floats, Floats]
    sheets: Floats
    repeats_mm: tuple[Pair, Pair, Pair]


def blended(projection: Triplanar, datum: Datum, channel: Channel, points: Floats, normals: Floats) -> Floats:
    """(N, C) a triplanar finish's channel at points with shading normals (N, 3), model coordinates."""
    st, weights = projection.at_points(points, normals, datum, channel.sheets)
    layers = np.stack(
        [bilinear(channel.images[axis], st[:, axis], channel.repeats_mm[axis]) for axis in range(3)], axis=1
    )
    total: Floats = np.einsum("na,nac->nc", weights, layers)
    return total


def blended_normals(
    projection: Triplanar, datum: Datum, channel: Channel, points: Floats, normals: Floats
) -> Floats:
    """(N, 3) unit normals in model coordinates, with the three normal maps of a channel blended in.

    Red points along s, green along t, blue out. Each map's slope becomes a gradient over the surface,
    which sums whatever way its sheet lies (M. Mikkelsen, "Surface Gradient-Based Bump Mapping
    Framework", Journal of Computer Graphics Techniques 9(3), 2020).
    """
    st, weights = projection.at_points(points, normals, datum, channel.sheets)
    unit = normals / np.linalg.norm(normals, axis=1, keepdims=True)
    gradient = np.zeros_like(unit)
    for axis in range(3):
        mapped = bilinear(channel.images[axis], st[:, axis], channel.repeats_mm[axis]) * 2 - 1
        slope = -mapped[:, :2] / np.maximum(mapped[:, 2:], 1e-3)
        along_s, along_t = projection.sheet_directions(normals, datum, channel.sheets[axis], axis)
        gradient += weights[:, axis, None] * (slope[:, :1] * along_s + slope[:, 1:] * along_t)
    gradient -= (gradient * unit).sum(axis=1, keepdims=True) * unit
    bent = unit - gradient
    out: Floats = bent / np.linalg.norm(bent, axis=1, keepdims=True)
    return out
