"""A small picture of a laid model, drawn on the processor: for project cards, without a browser."""

from __future__ import annotations

from io import BytesIO

import numpy as np
import PIL.Image
from numba import njit

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE
from pivrel.materials.images import Image, decode

PAPER = np.array([0.902, 0.894, 0.871])
BARE_COLOR = np.array([0.80, 0.79, 0.76])
MAX_TRIANGLES = 400_000


@njit(cache=True)
def _rasterize(
    xyz: Floats,
    st: Floats,
    triangles: Ints,
    look: Ints,
    light: Floats,
    atlas: Floats,
    repeat: Floats,
    out: Floats,
) -> None:
    """Depth-buffered triangles, each pixel colored from the (look)th tile of the atlas."""
    height, width = out.shape[0], out.shape[1]
    depth = np.full((height, width), -np.inf)
    side = atlas.shape[1]
    for t in range(len(triangles)):
        i, j, k = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        ax, ay, bx, by, cx, cy = xyz[i, 0], xyz[i, 1], xyz[j, 0], xyz[j, 1], xyz[k, 0], xyz[k, 1]
        twice = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
        if abs(twice) < 1e-9:
            continue
        for y in range(max(int(min(ay, by, cy)), 0), min(int(max(ay, by, cy)) + 2, height)):
            for x in range(max(int(min(ax, bx, cx)), 0), min(int(max(ax, bx, cx)) + 2, width)):
                px, py = x + 0.5, y + 0.5
                v = ((px - ax) * (cy - ay) - (py - ay) * (cx - ax)) / twice
                w = ((bx - ax) * (py - ay) - (by - ay) * (px - ax)) / twice
                u = 1.0 - v - w
                if u < -1e-6 or v < -1e-6 or w < -1e-6:
                    continue
                z = u * xyz[i, 2] + v * xyz[j, 2] + w * xyz[k, 2]
                if z <= depth[y, x]:
                    continue
                depth[y, x] = z
                row = look[t]
                s = u * st[i, 0] + v * st[j, 0] + w * st[k, 0]
                q = u * st[i, 1] + v * st[j, 1] + w * st[k, 1]
                column = int(np.floor(s / repeat[row, 0] * side)) % side
                line = side - 1 - int(np.floor(q / repeat[row, 1] * side)) % side
                for c in range(3):
                    out[y, x, c] = atlas[row, line, column, c] * light[t]


def view_axes() -> Floats:
    """(3, 3) rows right, down and towards the viewer, who stands above the model's front left."""
    eye = np.array([-0.62, -1.0, 0.52])
    eye /= np.linalg.norm(eye)
    right = np.cross([0, 0, 1], eye)
    right /= np.linalg.norm(right)
    return np.stack([right, -np.cross(eye, right), eye])


def pixels_a_mm(low: Floats, high: Floats, size: tuple[int, int]) -> float:
    """The scale at which a rectangle in the view, in mm, fills most of a picture of this size."""
    return 0.88 * float(min(size[0] / max(high[0] - low[0], 1e-9), size[1] / max(high[1] - low[1], 1e-9)))


def lights(surface: Surface) -> Floats:
    """(T,) how light each triangle is, lit from the upper left."""
    normals = surface.normals[surface.triangle_face]
    normals = normals / np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    facing = np.where((normals @ view_axes()[2])[:, None] < 0, -normals, normals)
    out: Floats = 0.55 + 0.5 * np.clip(facing @ (np.array([-0.9, -0.5, 1.0]) / 1.435), 0, 1)
    return out


def rasterize(
    surface: Surface,
    xyz: Floats,
    st: Floats,
    look: Ints,
    atlas: Floats,
    repeats: Floats,
    out: Floats,
    drawn: Mask | None = None,
) -> None:
    """Draws the triangles over a picture (height, width, 3); look: (T,) the tile of the atlas of each.

    xyz: (C, 3) pixels right and down, and towards the viewer. drawn: (T,), all where None.
    A picture this small does not need every triangle of a huge model.
    """
    chosen = np.arange(len(look)) if drawn is None else np.flatnonzero(drawn)
    chosen = chosen[:: max(1, len(chosen) // MAX_TRIANGLES)]
    triangles, light = surface.triangles[chosen], lights(surface)[chosen]
    _rasterize(xyz, st, triangles, look[chosen], light, atlas, repeats, out)


def jpeg(out: Floats, size: tuple[int, int]) -> bytes:
    """A picture drawn larger, as JPEG bytes of this size."""
    picture = PIL.Image.fromarray(np.uint8(np.clip(out, 0, 1) * 255)).resize(size, PIL.Image.Resampling.BOX)
    data = BytesIO()
    picture.save(data, "JPEG", quality=88)
    return data.getvalue()


def draw(
    surface: Surface,
    face_finish: Ints,
    st: Floats,
    swatches: list[Image | None],
    repeats: list[tuple[float, float]],
    size: tuple[int, int] = (480, 320),
) -> bytes:
    """JPEG bytes of the model from above its front left, in parallel projection.

    st: (C, 2) mm by corner id. swatches: a small base color image a finish.
    """
    mesh = surface.mesh
    large = (size[0] * 2, size[1] * 2)
    xyz = mesh.points[mesh.corners] @ view_axes().T
    low, high = xyz.min(axis=0), xyz.max(axis=0)
    xyz[:, :2] = (xyz[:, :2] - (low + high)[:2] / 2) * pixels_a_mm(low, high, large) + np.array(large) / 2

    side = 64
    atlas = np.empty((len(swatches) + 1, side, side, 3))
    atlas[-1] = BARE_COLOR
    for row, swatch in enumerate(swatches):
        if swatch:
            small = PIL.Image.fromarray(np.uint8(decode(swatch) * 255)).resize((side, side))
            atlas[row] = np.asarray(small) / 255
        else:
            atlas[row] = BARE_COLOR
    chosen = face_finish[surface.triangle_face]
    look = np.where(chosen == BARE, len(swatches), chosen).astype(np.int32)
    out = np.empty((large[1], large[0], 3))
    out[:] = PAPER
    rasterize(surface, xyz, np.nan_to_num(st), look, atlas, np.array([*repeats, (1.0, 1.0)], float), out)
    return jpeg(out, size)
