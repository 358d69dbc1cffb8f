"""What the eye sees of a model: faces in sight, and faces within an outline drawn over the view."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit, prange

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface

CUT, NEAR = 4, 5
"""Columns of clip coordinates beside x, y, z, w: how far a place lies on the drawn side of the cut, and how
far before the near plane (z + w)."""

SLIVER = 1e-9
"""Pixels on the edge that two triangles share must not fall between them."""

IN_SIGHT_PX = 3.0
"""A face without a pixel of its own counts as in sight where its middle lies less than this many pixels' size
behind what is drawn there."""

EDGE_ON = 1e-3
"""A face seen at a smaller cosine shows its edge only."""

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
def _halved(polygon: Floats, count: int, out: Floats, column: int) -> int:
    """The part of a polygon where its values in a column are not below zero; its corners' count."""
    kept = 0
    for k in range(count):
        a, b = polygon[k], polygon[(k + 1) % count]
        inside, next_inside = a[column] >= 0.0, b[column] >= 0.0
        if inside:
            out[kept] = a
            kept += 1
        if inside != next_inside:
            share = a[column] / (a[column] - b[column])
            out[kept] = a + share * (b - a)
            kept += 1
    return kept


@njit(cache=True)
def _on_screen(clip: Floats, triangle: Ints, width: int, height: int, first: Floats, second: Floats) -> int:
    """A triangle's outline in `first`: x right and y down in pixels, z in clip space over w; its corners' count.

    clip: (C, 6) clip coordinates by corner, `CUT` and `NEAR`.
    """
    for k in range(3):
        first[k] = clip[triangle[k]]
    count = _halved(first, 3, second, CUT)
    if count < 3:
        return 0
    count = _halved(second, count, first, NEAR)
    for k in range(count):
        w = first[k, 3]
        if not w > 0.0:
            # Of no camera: before the near plane everything lies before the eye.
            return 0
        first[k, 0] = (first[k, 0] / w + 1.0) / 2.0 * width
        first[k, 1] = (1.0 - first[k, 1] / w) / 2.0 * height
        first[k, 2] = first[k, 2] / w
    return count if count >= 3 else 0


@njit(cache=True)
def _draw(clip: Floats, triangles: Ints, faces: Ints, drawn: Mask, depth: Floats, ids: Ints) -> None:
    height, width = depth.shape
    first, second = np.empty((MAX_CORNERS, 6)), np.empty((MAX_CORNERS, 6))
    for t in range(len(triangles)):
        if not drawn[faces[t]]:
            continue
        count = _on_screen(clip, triangles[t], width, height, first, second)
        for k in range(1, count - 1):
            _fill(first[0], first[k], first[k + 1], faces[t], depth, ids)


@njit(cache=True)
def _fill(a: Floats, b: Floats, c: Floats, face: int, depth: Floats, ids: Ints) -> None:
    """Draws a triangle where it is nearer than what is there; pixels count by their middles."""
    height, width = depth.shape
    twice = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
    if not abs(twice) >= 1e-12 or twice == np.inf or twice == -np.inf:
        return
    # Kept within the picture before they become whole numbers: far outside they are larger than any of those.
    top = int(max(np.floor(min(a[1], b[1], c[1])), 0.0))
    bottom = int(min(np.ceil(max(a[1], b[1], c[1])), float(height)))
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
                ids[y, x] = face


def _clip_space(surface: Surface, eye: Eye) -> Floats:
    """(C, 6) clip coordinates of every corner, `CUT` and `NEAR`."""
    points = surface.mesh.points
    out = np.ones((len(points), 6))
    out[:, :4] = points @ eye.matrix[:, :3].T + eye.matrix[:, 3]
    out[:, NEAR] = out[:, 2] + out[:, 3]
    if eye.cut is not None:
        out[:, CUT] = eye.cut[3] - points @ eye.cut[:3]
    cornerwise: Floats = out[surface.mesh.corners]
    return cornerwise


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
    clip = _clip_space(surface, eye)
    depth, ids = np.full((height, width), np.inf), np.full((height, width), -1, np.int32)
    _draw(clip, surface.triangles, surface.triangle_face, drawn, depth, ids)
    seen = np.zeros(surface.mesh.face_count, bool)
    seen[ids[ids >= 0]] = True
    at, before = _middles(surface, eye)
    x, y = np.floor(at[:, 0]).astype(np.int64), np.floor(at[:, 1]).astype(np.int64)
    there = before & drawn & (x >= 0) & (x < width) & (y >= 0) & (y < height) & ~seen
    there &= _turned_to(surface, eye) > EDGE_ON
    there[there] = at[there, 2] <= depth[y[there], x[there]] + at[there, 3]
    return Sight(ids, seen | there)


def _middles(surface: Surface, eye: Eye) -> tuple[Floats, Mask]:
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


@njit(cache=True)
def _inside(x: float, y: float, outline: Floats) -> bool:
    """Whether a place lies within a closed outline (even-odd rule)."""
    inside = False
    j = len(outline) - 1
    for i in range(len(outline)):
        xi, yi, xj, yj = outline[i, 0], outline[i, 1], outline[j, 0], outline[j, 1]
        if (yi > y) != (yj > y) and x < (xj - xi) * (y - yi) / (yj - yi) + xi:
            inside = not inside
        j = i
    return inside


@njit(cache=True)
def _cross(a: Floats, b: Floats, c: Floats, d: Floats) -> bool:
    """Whether two lines from a to b and from c to d cross."""
    ab_c = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
    ab_d = (b[0] - a[0]) * (d[1] - a[1]) - (b[1] - a[1]) * (d[0] - a[0])
    cd_a = (d[0] - c[0]) * (a[1] - c[1]) - (d[1] - c[1]) * (a[0] - c[0])
    cd_b = (d[0] - c[0]) * (b[1] - c[1]) - (d[1] - c[1]) * (b[0] - c[0])
    return ab_c * ab_d < 0.0 and cd_a * cd_b < 0.0


@njit(cache=True)
def _touches(polygon: Floats, count: int, outline: Floats) -> bool:
    """Whether a convex polygon and an outline have any place in common."""
    for k in range(count):
        if _inside(polygon[k, 0], polygon[k, 1], outline):
            return True
    if _inside(outline[0, 0], outline[0, 1], polygon[:count]):
        return True
    for k in range(count):
        a, b = polygon[k], polygon[(k + 1) % count]
        for i in range(len(outline)):
            if _cross(a, b, outline[i], outline[(i + 1) % len(outline)]):
                return True
    return False


@njit(cache=True)
def _wholly(polygon: Floats, count: int, outline: Floats) -> bool:
    """Whether a polygon lies within an outline."""
    for k in range(count):
        if not _inside(polygon[k, 0], polygon[k, 1], outline):
            return False
        a, b = polygon[k], polygon[(k + 1) % count]
        for i in range(len(outline)):
            if _cross(a, b, outline[i], outline[(i + 1) % len(outline)]):
                return False
    return True


@njit(parallel=True, cache=True)
def _judged(
    clip: Floats, triangles: Ints, width: int, height: int, outline: Floats, touched: Mask, whole: Mask
) -> None:
    """For each triangle whether it touches the outline, and whether all of it lies within."""
    low_x, low_y = outline[:, 0].min(), outline[:, 1].min()
    high_x, high_y = outline[:, 0].max(), outline[:, 1].max()
    for t in prange(len(triangles)):
        first, second = np.empty((MAX_CORNERS, 6)), np.empty((MAX_CORNERS, 6))
        count = _on_screen(clip, triangles[t], width, height, first, second)
        if count == 0:
            continue
        x, y = first[:count, 0], first[:count, 1]
        if x.max() < low_x or x.min() > high_x or y.max() < low_y or y.min() > high_y:
            continue
        touched[t] = _touches(first, count, outline)
        whole[t] = touched[t] and _wholly(first, count, outline)


def within(surface: Surface, eye: Eye, outline: Floats, drawn: Mask, through: bool, whole: bool) -> Mask:
    """(F,) the faces within an outline (N, 2) in pixels.

    through: those behind others too; else only what is seen. whole: faces that lie within the outline
    with all that the cut leaves of them; else those that it touches, or that show within it.
    """
    count = surface.mesh.face_count
    width, height = eye.size
    face = surface.triangle_face
    touched, inside = np.zeros(len(face), bool), np.zeros(len(face), bool)
    clip = _clip_space(surface, eye)
    _judged(clip, surface.triangles, width, height, np.ascontiguousarray(outline), touched, inside)
    some = np.bincount(face, touched, count) > 0
    all_of_it = some & (np.bincount(face, inside, count) == np.bincount(face, minlength=count))
    out: Mask = (all_of_it if whole else some) & drawn
    if through:
        return out
    sight = look(surface, eye, drawn)
    if whole:
        return out & sight.seen
    showing = np.zeros(count, bool)
    y, x = np.nonzero(sight.ids >= 0)
    near = (x + 0.5 >= outline[:, 0].min()) & (x + 0.5 <= outline[:, 0].max())
    near &= (y + 0.5 >= outline[:, 1].min()) & (y + 0.5 <= outline[:, 1].max())
    x, y = x[near], y[near]
    held = _each_inside(x + 0.5, y + 0.5, np.ascontiguousarray(outline))
    showing[sight.ids[y[held], x[held]]] = True
    # Faces too small for a pixel of their own count by their middles.
    small = sight.seen & ~_drawn_anywhere(sight.ids, count)
    at, _ = _middles(surface, eye)
    small[small] = _each_inside(at[small, 0].copy(), at[small, 1].copy(), np.ascontiguousarray(outline))
    return (showing | small) & out


@njit(cache=True)
def _each_inside(x: Floats, y: Floats, outline: Floats) -> Mask:
    out = np.empty(len(x), np.bool_)
    for k in range(len(x)):
        out[k] = _inside(x[k], y[k], outline)
    return out


def _drawn_anywhere(ids: Ints, count: int) -> Mask:
    out = np.zeros(count, bool)
    out[ids[ids >= 0]] = True
    return out
