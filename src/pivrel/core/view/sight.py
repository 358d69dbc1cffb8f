"""What the eye sees of a model: the face that each pixel shows, and the faces of which anything shows."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.core.kernels import kernel
from pivrel.core.view.eye import MAX_CORNERS, UNCUT, Eye, on_screen, outline_on_screen
from pivrel.core.view.rasterizer import bands, fill

IN_SIGHT_PX = 3.0
"""A face without a pixel of its own counts as in sight where its middle lies less than this many pixels' size
behind what is drawn there."""

EDGE_ON = 1e-3
"""A face seen at a smaller cosine shows its edge only."""


@kernel(parallel=True)
def _spans(
    pixel: Floats, whole: Mask, triangles: Ints, faces: Ints, drawn: Mask, height: int, spans: Ints
) -> None:
    """The rows (T, 2) that each triangle can show in, from the first to before the last; none where it is not drawn."""
    for t in prange(len(triangles)):
        spans[t, 0] = spans[t, 1] = 0
        if not drawn[faces[t]]:
            continue
        i, j, k = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        if whole[i] and whole[j] and whole[k]:
            a, b, c = pixel[i, 1], pixel[j, 1], pixel[k, 1]
            spans[t, 0] = int(min(max(min(a, b, c), 0.0), float(height)))
            spans[t, 1] = int(np.ceil(min(max(max(a, b, c), 0.0), float(height))))
        else:
            spans[t, 1] = height


@kernel(parallel=True)
def _draw(
    clipped: Floats, pixel: Floats, whole: Mask, triangles: Ints, faces: Ints, spans: Ints, rows: Ints, depth: Floats,
    ids: Ints,
) -> None:  # fmt: skip
    height, width = depth.shape
    for band in prange(len(rows) - 1):
        low, high = rows[band], rows[band + 1]
        first, second = np.empty((MAX_CORNERS, 6)), np.empty((MAX_CORNERS, 6))
        for t in range(len(triangles)):
            if spans[t, 0] >= high or spans[t, 1] <= low:
                continue
            count = outline_on_screen(clipped, pixel, whole, triangles[t], width, height, first, second)
            for corner in range(1, count - 1):
                fill(first[0], first[corner], first[corner + 1], faces[t], low, high, depth, ids)


@dataclass(frozen=True)
class Sight:
    """ids: (H, W) int32, the face that each pixel shows, or -1. seen: (F,) faces of which anything shows."""

    ids: Ints
    seen: Mask

    @property
    def nbytes(self) -> int:
        """What it takes in memory."""
        return self.ids.nbytes + self.seen.nbytes


def look(surface: Surface, eye: Eye, drawn: Mask) -> Sight:
    """What the eye sees; drawn: (F,) the faces that are not hidden away.

    A face smaller than a pixel is in sight where its middle is.
    """
    width, height = eye.size
    depth, ids = np.full((height, width), np.inf), np.full((height, width), -1, np.int32)
    at, triangles, faces = on_screen(surface, eye), surface.triangle_points, surface.triangle_face
    spans = np.empty((len(triangles), 2), np.int32)
    _spans(at.pixel, at.whole, triangles, faces, drawn, height, spans)
    _draw(at.clip, at.pixel, at.whole, triangles, faces, spans, bands(height), depth, ids)
    seen = np.zeros(surface.mesh.face_count, bool)
    seen[ids[ids >= 0]] = True
    _middles_in_sight(surface.centroids, surface.normals, *_given(eye), drawn, depth, seen)
    return Sight(ids, seen)


def _given(eye: Eye) -> tuple[Floats, Floats, Floats, Floats, float]:
    """What `_middle` goes by: the matrix, the cut, the eye's place or, where all lines of sight are parallel, their
    direction, with 1 or 0 behind it; which way is ahead; and the mm of a pixel where w is 1."""
    matrix = np.ascontiguousarray(eye.matrix, np.float64)
    cut = UNCUT if eye.cut is None else np.asarray(eye.cut, np.float64)
    # In perspective w grows straight ahead; in parallel projection it is 1, and z does.
    perspective = bool(matrix[3, :3].any())
    ahead = matrix[3, :3] if perspective else matrix[2, :3]
    ahead = np.ascontiguousarray(ahead / np.linalg.norm(ahead))
    rows = matrix[[0, 1, 3]]
    place = np.linalg.solve(rows[:, :3], -rows[:, 3]) if perspective else matrix[2, :3]
    pixel_mm = 2 / (eye.size[1] * float(np.linalg.norm(matrix[1, :3])))
    return matrix, cut, np.array([*place, float(perspective)]), ahead, pixel_mm


@kernel
def _middle(
    x: float,
    y: float,
    z: float,
    matrix: Floats,
    cut: Floats,
    ahead: Floats,
    pixel_mm: float,
    width: int,
    height: int,
) -> tuple[bool, float, float, float, float]:
    """Of a place: whether it lies before the eye and the cut, where in pixels, its depth, and how much deeper
    `IN_SIGHT_PX` is there."""
    w = matrix[3, 0] * x + matrix[3, 1] * y + matrix[3, 2] * z + matrix[3, 3]
    deep = matrix[2, 0] * x + matrix[2, 1] * y + matrix[2, 2] * z + matrix[2, 3]
    if not (w > 0.0 and deep + w > 0.0 and cut[0] * x + cut[1] * y + cut[2] * z <= cut[3]):
        return False, 0.0, 0.0, 0.0, 0.0
    across = matrix[0, 0] * x + matrix[0, 1] * y + matrix[0, 2] * z + matrix[0, 3]
    up = matrix[1, 0] * x + matrix[1, 1] * y + matrix[1, 2] * z + matrix[1, 3]
    grows = matrix[2, 0] * ahead[0] + matrix[2, 1] * ahead[1] + matrix[2, 2] * ahead[2]
    farther = matrix[3, 0] * ahead[0] + matrix[3, 1] * ahead[1] + matrix[3, 2] * ahead[2]
    deeper = abs(grows * w - deep * farther) / (w * w)
    return (
        True, (across / w + 1) / 2 * width, (1 - up / w) / 2 * height, deep / w, IN_SIGHT_PX * pixel_mm * w * deeper
    )  # fmt: skip


@kernel
def _is_edge_on(x: float, y: float, z: float, normal: Floats, place: Floats) -> bool:
    """Whether the line from a place to the eye lies in a face there, nearly."""
    x, y, z = place[0] - place[3] * x, place[1] - place[3] * y, place[2] - place[3] * z
    a, b, c = normal[0], normal[1], normal[2]
    size = np.sqrt((x * x + y * y + z * z) * (a * a + b * b + c * c))
    return not abs(x * a + y * b + z * c) > EDGE_ON * size


@kernel(parallel=True)
def _middles_in_sight(
    centroids: Floats, normals: Floats, matrix: Floats, cut: Floats, place: Floats, ahead: Floats, pixel_mm: float,
    drawn: Mask, depth: Floats, seen: Mask,
) -> None:  # fmt: skip
    """Adds to the faces that are seen those without a pixel of their own whose middle shows."""
    height, width = depth.shape
    for f in prange(len(centroids)):
        if seen[f] or not drawn[f]:
            continue
        x, y, z = centroids[f, 0], centroids[f, 1], centroids[f, 2]
        before, across, down, deep, more = _middle(x, y, z, matrix, cut, ahead, pixel_mm, width, height)
        if before and 0.0 <= across < width and 0.0 <= down < height:
            shows = deep <= depth[int(down), int(across)] + more
            seen[f] = shows and not _is_edge_on(x, y, z, normals[f], place)


@kernel(parallel=True)
def _each_middle(
    centroids: Floats, faces: Ints, matrix: Floats, cut: Floats, ahead: Floats, pixel_mm: float, width: int, height: int
) -> Floats:  # fmt: skip
    out = np.empty((len(faces), 2))
    for k in prange(len(faces)):
        x, y, z = centroids[faces[k], 0], centroids[faces[k], 1], centroids[faces[k], 2]
        _, out[k, 0], out[k, 1], _, _ = _middle(x, y, z, matrix, cut, ahead, pixel_mm, width, height)
    return out


def middles(surface: Surface, eye: Eye, faces: Ints) -> Floats:
    """(K, 2) pixels right and down, the middles of faces (K,) that lie before the eye."""
    matrix, cut, _, ahead, pixel_mm = _given(eye)
    found: Floats = _each_middle(surface.centroids, faces, matrix, cut, ahead, pixel_mm, *eye.size)
    return found
