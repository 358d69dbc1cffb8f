"""What the eye sees of a model: the face that each pixel shows, and the faces of which anything shows."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.core.view.eye import MAX_CORNERS, Eye, clip_space, outline_on_screen
from pivrel.core.view.rasterizer import fill

IN_SIGHT_PX = 3.0
"""A face without a pixel of its own counts as in sight where its middle lies less than this many pixels' size
behind what is drawn there."""

EDGE_ON = 1e-3
"""A face seen at a smaller cosine shows its edge only."""


@njit(cache=True)
def _draw(places: Floats, triangles: Ints, faces: Ints, drawn: Mask, depth: Floats, ids: Ints) -> None:
    height, width = depth.shape
    first, second = np.empty((MAX_CORNERS, 6)), np.empty((MAX_CORNERS, 6))
    for t in range(len(triangles)):
        if not drawn[faces[t]]:
            continue
        count = outline_on_screen(places, triangles[t], width, height, first, second)
        for k in range(1, count - 1):
            fill(first[0], first[k], first[k + 1], faces[t], depth, ids)


@dataclass(frozen=True)
class Sight:
    """ids: (H, W) int32, the face that each pixel shows, or -1. seen: (F,) faces of which anything shows."""

    ids: Ints
    seen: Mask


def look(surface: Surface, eye: Eye, drawn: Mask) -> Sight:
    """What the eye sees; drawn: (F,) the faces that are not hidden away.

    A face smaller than a pixel is in sight where its middle is.
    """
    width, height = eye.size
    places = clip_space(surface, eye)
    depth, ids = np.full((height, width), np.inf), np.full((height, width), -1, np.int32)
    _draw(places, surface.triangles, surface.triangle_face, drawn, depth, ids)
    seen = np.zeros(surface.mesh.face_count, bool)
    seen[ids[ids >= 0]] = True
    at, before = middles(surface, eye)
    x, y = np.floor(at[:, 0]).astype(np.int64), np.floor(at[:, 1]).astype(np.int64)
    there = before & drawn & (x >= 0) & (x < width) & (y >= 0) & (y < height) & ~seen
    there &= _turned_to(surface, eye) > EDGE_ON
    there[there] = at[there, 2] <= depth[y[there], x[there]] + at[there, 3]
    return Sight(ids, seen | there)


def middles(surface: Surface, eye: Eye) -> tuple[Floats, Mask]:
    """(F, 4) each face's middle in pixels, its depth and how much deeper `IN_SIGHT_PX` is; and (F,) whether
    it lies before the eye and the cut."""
    middle, matrix = surface.centroids, eye.matrix
    clip = middle @ matrix[:, :3].T + matrix[:, 3]
    before = clip[:, 2] + clip[:, 3] > 0
    if eye.cut is not None:
        before &= middle @ eye.cut[:3] <= eye.cut[3]
    before &= clip[:, 3] > 0
    w = np.where(before, clip[:, 3], 1.0)
    x = (clip[:, 0] / w + 1) / 2 * eye.size[0]
    y = (1 - clip[:, 1] / w) / 2 * eye.size[1]
    # In perspective w grows straight ahead; in parallel projection it is 1, and z does.
    ahead = matrix[3, :3] if matrix[3, :3].any() else matrix[2, :3]
    ahead = ahead / np.linalg.norm(ahead)
    pixel_mm = 2 * w / (eye.size[1] * np.linalg.norm(matrix[1, :3]))
    deeper = np.abs(matrix[2, :3] @ ahead * w - clip[:, 2] * (matrix[3, :3] @ ahead)) / w**2
    depths = clip[:, 2] / w, IN_SIGHT_PX * pixel_mm * deeper
    return np.stack([np.clip(x, -1e9, 1e9), np.clip(y, -1e9, 1e9), *depths], axis=1), before


def _turned_to(surface: Surface, eye: Eye) -> Floats:
    """(F,) the cosine between each face's normal and the line from its middle to the eye, either way."""
    matrix = eye.matrix
    if matrix[3, :3].any():
        rows = matrix[[0, 1, 3]]
        towards = surface.centroids - np.linalg.solve(rows[:, :3], -rows[:, 3])
    else:
        towards = np.broadcast_to(matrix[2, :3], surface.centroids.shape)
    sizes = np.linalg.norm(towards, axis=1) * np.linalg.norm(surface.normals, axis=1)
    turned = np.abs(np.einsum("ij,ij->i", towards, surface.normals))
    out: Floats = turned / np.where(sizes > 0, sizes, 1.0)
    return out
