"""A small picture of a laid model, drawn on the processor: for project cards, without a browser."""

from __future__ import annotations

from io import BytesIO

import numpy as np
import PIL.Image

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE
from pivrel.core.view.rasterizer import barycentric, draw_triangles
from pivrel.materials.images import Image, decode

PAPER = np.array([0.902, 0.894, 0.871])
BARE_COLOR = np.array([0.80, 0.79, 0.76])
MAX_TRIANGLES = 400_000


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
    triangles = surface.triangles[chosen]
    height, width = out.shape[:2]
    depth, ids = np.full((height, width), np.inf), np.full((height, width), -1, np.int32)
    # The nearest is what is least deep.
    draw_triangles(xyz * (1.0, 1.0, -1.0), triangles, depth, ids)
    y, x, number, shares = barycentric(xyz, triangles, ids)
    row = look[chosen][number]
    at = np.einsum("nk,nkc->nc", shares, st[triangles[number]]) / repeats[row]
    side = atlas.shape[1]
    column, line = (np.floor(at * side).astype(np.int64) % side).T
    out[y, x] = atlas[row, side - 1 - line, column] * lights(surface)[chosen][number, None]


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
