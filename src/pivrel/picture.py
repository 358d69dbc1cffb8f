"""A small picture of a laid model, drawn on the processor: for project cards, without a browser."""

from __future__ import annotations

from io import BytesIO

import numpy as np
import PIL.Image
from numba import njit

from pivrel.core.arrays import Floats, Ints
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
    width, height = size[0] * 2, size[1] * 2
    eye = np.array([-0.62, -1.0, 0.52])
    eye /= np.linalg.norm(eye)
    right = np.cross([0, 0, 1], eye)
    right /= np.linalg.norm(right)
    view = np.stack([right, -np.cross(eye, right), eye])
    xyz = mesh.points[mesh.corners] @ view.T
    low, high = xyz.min(axis=0), xyz.max(axis=0)
    scale = 0.88 * min(width / max(high[0] - low[0], 1e-9), height / max(high[1] - low[1], 1e-9))
    xyz[:, :2] = (xyz[:, :2] - (low + high)[:2] / 2) * scale + np.array([width, height]) / 2

    side = 64
    atlas = np.empty((len(swatches) + 1, side, side, 3))
    atlas[-1] = BARE_COLOR
    for row, swatch in enumerate(swatches):
        if swatch:
            small = PIL.Image.fromarray(np.uint8(decode(swatch) * 255)).resize((side, side))
            atlas[row] = np.asarray(small) / 255
        else:
            atlas[row] = BARE_COLOR
    face = surface.triangle_face
    normals = surface.normals[face]
    normals = normals / np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    facing = np.where((normals @ eye)[:, None] < 0, -normals, normals)
    light = 0.55 + 0.5 * np.clip(facing @ (np.array([-0.9, -0.5, 1.0]) / 1.435), 0, 1)
    look = np.where(face_finish[face] == BARE, len(swatches), face_finish[face]).astype(np.int32)
    # A picture this small does not need every triangle of a huge model.
    step = max(1, len(face) // MAX_TRIANGLES)
    out = np.empty((height, width, 3))
    out[:] = PAPER
    _rasterize(
        xyz, np.nan_to_num(st), surface.triangles[::step], look[::step], light[::step], atlas,
        np.array([*repeats, (1.0, 1.0)], float), out,
    )  # fmt: skip
    picture = PIL.Image.fromarray(np.uint8(np.clip(out, 0, 1) * 255)).resize(size, PIL.Image.Resampling.BOX)
    data = BytesIO()
    picture.save(data, "JPEG", quality=88)
    return data.getvalue()
