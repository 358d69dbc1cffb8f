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


MOST_DRAWN = 1_500_000_000
"""Pixels that are drawn of a picture, counted anew for each triangle that lies over them: some seconds' work."""


def affordable(surface: Surface, xyz: Floats, scale: float, size: tuple[int, int]) -> tuple[int, int]:
    """The size of a picture, or a smaller one where so many triangles lie over each other that it would take too long.

    xyz: (P, 3) places in the view, in mm; scale: pixels a mm of a picture of this size.
    """
    flat = xyz[:, :2] * scale
    a, b, c = (flat[surface.triangle_points[:, k]] for k in range(3))
    boxes = np.maximum(np.maximum(a, b), c) - np.minimum(np.minimum(a, b), c)
    drawn = float(np.minimum(boxes, size).prod(axis=1).sum())
    share = min(1.0, (MOST_DRAWN / max(drawn, 1.0)) ** 0.5)
    return max(round(size[0] * share), 1), max(round(size[1] * share), 1)


def lights(surface: Surface, faces: Ints) -> Floats:
    """(N,) how light each of some faces is, lit from the upper left."""
    normals = surface.normals[faces]
    normals = normals / np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    facing = np.where((normals @ view_axes()[2])[:, None] < 0, -normals, normals)
    out: Floats = 0.55 + 0.5 * np.clip(facing @ (np.array([-0.9, -0.5, 1.0]) / 1.435), 0, 1)
    return out


def in_view(surface: Surface) -> tuple[Floats, Floats, Floats]:
    """(P, 3) every point's place right, down and towards the viewer in mm; and (3,) the least and greatest of them."""
    xyz = surface.mesh.points @ view_axes().T
    used = xyz if surface.mesh.uses_every_point else xyz[surface.mesh.used_points]
    return xyz, np.array([c.min() for c in used.T]), np.array([c.max() for c in used.T])


def rasterize(
    surface: Surface,
    xyz: Floats,
    look: Ints,
    atlas: Floats,
    out: Floats,
    sheet: tuple[Floats, Floats] | None = None,
    drawn: Mask | None = None,
) -> None:
    """Draws the triangles over a picture (height, width, 3); look: (F,) the tile of the atlas of each face.

    xyz: (P, 3) pixels right and down, and towards the viewer. sheet: (C, 2) mm by corner, and the repeat of each tile in
    mm; None where every tile is of one color. drawn: (T,) the triangles, all where None.
    """
    chosen = slice(None) if drawn is None else np.flatnonzero(drawn)
    height, width = out.shape[:2]
    depth, ids = np.full((height, width), np.inf), np.full((height, width), -1, np.int32)
    # The nearest is what is least deep.
    triangles = surface.triangle_points[chosen]
    draw_triangles(xyz * (1.0, 1.0, -1.0), triangles, depth, ids)
    y, x, number, shares = barycentric(xyz, triangles, ids)
    face = surface.triangle_face[chosen][number]
    row, column, line = look[face], np.zeros(1, np.int64), np.zeros(1, np.int64)
    side = atlas.shape[1]
    if sheet is not None:
        st, repeats = sheet
        corners = surface.triangles[chosen][number]
        at = np.einsum("nk,nkc->nc", shares, np.nan_to_num(st[corners])) / repeats[row]
        column, line = (np.floor(at * side).astype(np.int64) % side).T
    out[y, x] = atlas[row, side - 1 - line, column] * lights(surface, face)[:, None]


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
    large = (size[0] * 2, size[1] * 2)
    xyz, low, high = in_view(surface)
    large = affordable(surface, xyz, pixels_a_mm(low, high, large), large)
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
    look = np.where(face_finish == BARE, len(swatches), face_finish).astype(np.int32)
    out = np.empty((large[1], large[0], 3))
    out[:] = PAPER
    rasterize(surface, xyz, look, atlas, out, (st, np.array([*repeats, (1.0, 1.0)], float)))
    return jpeg(out, size)
