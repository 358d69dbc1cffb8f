"""Polygons as triangles and normals: concave faces, collinear and repeated corners included."""

from __future__ import annotations

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.mesh import MeshError
from pivrel.core.kernels import kernel


@kernel
def face_normals(points: Floats, corners: Ints, face_start: Ints) -> Floats:
    """(F, 3) area vectors in mm²: the direction a face looks, as long as its area.

    Newell's sum over the polygon (M. Newell, in Sutherland, Sproull and Schumacker, "A
    Characterization of Ten Hidden-Surface Algorithms", 1974), taken about the face's first
    corner so that models far from the origin keep their precision.
    """
    count = len(face_start) - 1
    out = np.empty((count, 3))
    for f in range(count):
        first, last = face_start[f], face_start[f + 1]
        o = points[corners[first]]
        nx = ny = nz = 0.0
        ax = points[corners[first + 1], 0] - o[0]
        ay = points[corners[first + 1], 1] - o[1]
        az = points[corners[first + 1], 2] - o[2]
        for c in range(first + 2, last):
            p = points[corners[c]]
            bx, by, bz = p[0] - o[0], p[1] - o[1], p[2] - o[2]
            nx += ay * bz - az * by
            ny += az * bx - ax * bz
            nz += ax * by - ay * bx
            ax, ay, az = bx, by, bz
        out[f, 0], out[f, 1], out[f, 2] = nx / 2, ny / 2, nz / 2
    return out


@kernel(parallel=True)
def face_centroids(points: Floats, corners: Ints, face_start: Ints, normals: Floats) -> Floats:
    """(F, 3) in mm: the centre of each polygon's area, concave ones included.

    normals: (F, 3) area vectors. A face without area has the mean of its corners.
    """
    count = len(face_start) - 1
    out = np.empty((count, 3))
    for f in prange(count):
        first, last = face_start[f], face_start[f + 1]
        o = points[corners[first]]
        n = normals[f]
        twice = n[0] * n[0] + n[1] * n[1] + n[2] * n[2]
        x = y = z = total = 0.0
        for c in range(first + 1, last - 1):
            a, b = points[corners[c]], points[corners[c + 1]]
            ax, ay, az = a[0] - o[0], a[1] - o[1], a[2] - o[2]
            bx, by, bz = b[0] - o[0], b[1] - o[1], b[2] - o[2]
            # A fan's triangles, each counted by its area as the whole polygon faces.
            area = (ay * bz - az * by) * n[0] + (az * bx - ax * bz) * n[1] + (ax * by - ay * bx) * n[2]
            x, y, z = x + area * (ax + bx), y + area * (ay + by), z + area * (az + bz)
            total += area
        if total > 1e-12 * twice and total > 0.0:
            out[f, 0] = o[0] + x / (3.0 * total)
            out[f, 1] = o[1] + y / (3.0 * total)
            out[f, 2] = o[2] + z / (3.0 * total)
        else:
            for k in range(3):
                mean = 0.0
                for c in range(first, last):
                    mean += points[corners[c], k]
                out[f, k] = mean / (last - first)
    return out


@kernel
def _turn(flat: Floats, a: int, b: int, c: int) -> float:
    return float(
        (flat[b, 0] - flat[a, 0]) * (flat[c, 1] - flat[b, 1])
        - (flat[b, 1] - flat[a, 1]) * (flat[c, 0] - flat[b, 0])
    )


@kernel
def _inside(flat: Floats, a: int, b: int, c: int, p: int) -> bool:
    """Whether p lies in the triangle or on its rim; a corner's own place does not count."""
    for q in (a, b, c):
        if flat[p, 0] == flat[q, 0] and flat[p, 1] == flat[q, 1]:
            return False
    return bool(_turn(flat, a, b, p) >= 0 and _turn(flat, b, c, p) >= 0 and _turn(flat, c, a, p) >= 0)


@kernel
def _flatten(points: Floats, corners: Ints, first: int, n: int, normal: Floats) -> Floats:
    """(n, 2) the polygon seen along its dominant axis, counter-clockwise, about its first corner."""
    axis = 0
    for k in range(1, 3):
        if abs(normal[k]) > abs(normal[axis]):
            axis = k
    i, j = (axis + 1) % 3, (axis + 2) % 3
    if normal[axis] < 0:
        i, j = j, i
    o = points[corners[first]]
    flat = np.empty((n, 2))
    for k in range(n):
        p = points[corners[first + k]]
        flat[k, 0] = p[i] - o[i]
        flat[k, 1] = p[j] - o[j]
    return flat


STEPS = 150_000_000
"""How many corners may be looked at for one model: some seconds. Outlines that do not cross themselves need a
thousandth of it; a hundred thousand corners in a tangle would take for ever."""

GRID_FROM = 48
"""Polygons of more corners find those near an ear by a grid."""


@kernel
def _gridded(flat: Floats, alive: Mask, left: int) -> tuple[Ints, Ints, Floats, float, int]:
    """(first, after, low, cell, high): the corners that are left by the square cells of a grid of about as many
    cells, each cell's as a chain that ends with -1."""
    low, top = np.full(2, np.inf), np.full(2, -np.inf)
    for k in range(len(flat)):
        if alive[k]:
            for axis in range(2):
                low[axis], top[axis] = min(low[axis], flat[k, axis]), max(top[axis], flat[k, axis])
    across, up = top[0] - low[0], top[1] - low[1]
    cell = max(np.sqrt(across * up / left), max(across, up) / left)
    cell = cell if cell > 0.0 else 1.0
    wide, high = int(across / cell) + 1, int(up / cell) + 1
    first, after = np.full(wide * high, -1, np.int64), np.full(len(flat), -1, np.int64)
    for k in range(len(flat)):
        if alive[k]:
            i, j = int((flat[k, 0] - low[0]) / cell), int((flat[k, 1] - low[1]) / cell)
            after[k] = first[i * high + j]
            first[i * high + j] = k
    return first, after, low, cell, high


@kernel
def _span(a: float, b: float, c: float, low: float, cell: float) -> tuple[int, int]:
    """The first and the last cell that three places reach along one side of the grid."""
    return int((min(a, b, c) - low) / cell), int((max(a, b, c) - low) / cell)


@kernel
def _rise(flat: Floats, a: int, b: int, c: int, left: float, right: float) -> tuple[float, float]:
    """From where to where a triangle reaches upwards between two places across."""
    low, top = np.inf, -np.inf
    for p, q in ((a, b), (b, c), (c, a)):
        if flat[p, 0] > flat[q, 0]:
            p, q = q, p
        x0, x1 = flat[p, 0], flat[q, 0]
        if x1 < left or x0 > right:
            continue
        slope = (flat[q, 1] - flat[p, 1]) / (x1 - x0) if x1 > x0 else 0.0
        begin = flat[p, 1] + slope * (left - x0) if x0 < left else flat[p, 1]
        end = flat[p, 1] + slope * (right - x0) if x1 > right else flat[q, 1]
        low, top = min(low, begin, end), max(top, begin, end)
    return low, top


@kernel
def _holds_corner(
    flat: Floats, a: int, b: int, c: int, before: Ints, after: Ints, alive: Mask,
    heads: Ints, chain: Ints, low: Floats, cell: float, high: int, steps: Ints,
) -> bool:  # fmt: skip
    """Whether a corner that turns inward lies in a triangle, by the cells of the grid that it reaches."""
    x0, x1 = _span(flat[a, 0], flat[b, 0], flat[c, 0], low[0], cell)
    y0, y1 = _span(flat[a, 1], flat[b, 1], flat[c, 1], low[1], cell)
    for i in range(x0, x1 + 1):
        begin, end = _rise(flat, a, b, c, low[0] + i * cell, low[0] + (i + 1) * cell)
        # A cell more either way, against rounding; a strip that only touches the triangle has no range.
        j0 = max(int((begin - low[1]) / cell) - 1, y0) if begin <= end else y0
        j1 = min(int((end - low[1]) / cell) + 1, y1) if begin <= end else y1
        for j in range(j0, j1 + 1):
            steps[0] -= 1
            p = heads[i * high + j]
            while p >= 0:
                steps[0] -= 1
                free = alive[p] and p != a and p != b and p != c
                if free and _inside(flat, a, b, c, p) and _turn(flat, before[p], p, after[p]) <= 0:
                    return True
                p = chain[p]
    return False


@kernel
def _clip_ears(flat: Floats, first: int, out: Ints, at: int, tiny: float, steps: Ints) -> int:
    """Writes the triangles of one polygon (corner ids from `first`) and returns the next free row, or -1 where
    `steps` is used up.

    Ear clipping (G. H. Meisters, "Polygons Have Ears", 1975). Ears with no area are left to the
    end and dropped: a corner on a straight edge is an ear of no area until a better ear takes it in.
    """
    n = len(flat)
    before = np.empty(n, np.int64)
    after = np.empty(n, np.int64)
    alive = np.ones(n, np.bool_)
    for k in range(n):
        before[k], after[k] = (k - 1) % n, (k + 1) % n
    by_grid = n > GRID_FROM
    gridded = n
    if by_grid:
        heads, chain, low, cell, high = _gridded(flat, alive, n)
    left, here, idle = n, 0, 0
    while left > 3:
        if by_grid and 2 * left < gridded:
            # Fewer corners need fewer cells: the ears grow.
            heads, chain, low, cell, high = _gridded(flat, alive, left)
            gridded = left
        a, c = before[here], after[here]
        ear = _turn(flat, a, here, c) > tiny
        # Only a corner that turns inward can lie in an ear.
        if ear and by_grid:
            ear = not _holds_corner(
                flat, a, here, c, before, after, alive, heads, chain, low, cell, high, steps
            )
        elif ear:
            p = after[c]
            while p != a and ear:
                steps[0] -= 1
                if _turn(flat, before[p], p, after[p]) <= 0 and _inside(flat, a, here, c, p):
                    ear = False
                p = after[p]
        steps[0] -= 1
        if steps[0] < 0:
            return -1
        if not ear and idle <= left:
            here = c
            idle += 1
            continue
        # After a whole idle round nothing is a true ear (collinear or crossing edges): clip anyway. In large
        # polygons without another round for each, until there is a true ear again.
        if ear or abs(_turn(flat, a, here, c)) > tiny:
            out[at, 0], out[at, 1], out[at, 2] = first + a, first + here, first + c
            at += 1
        after[a], before[c] = c, a
        alive[here] = False
        left -= 1
        # In large polygons the next ear is sought one corner on: a fan of slivers would reach over all of it.
        here = after[c] if by_grid else c
        idle = left + 1 if by_grid and not ear else 0
    a, c = before[here], after[here]
    if abs(_turn(flat, a, here, c)) > tiny:
        out[at, 0], out[at, 1], out[at, 2] = first + a, first + here, first + c
        at += 1
    return at


@kernel
def _plain(
    points: Floats, corners: Ints, face_start: Ints, normals: Floats, face: int, out: Ints, at: int
) -> int:
    """Writes a triangle, or the two of a convex quad, and returns the next free row; -1 where the face is neither."""
    first = face_start[face]
    n = face_start[face + 1] - first
    if n == 3:
        out[at, 0], out[at, 1], out[at, 2] = first, first + 1, first + 2
        return at + 1
    if n != 4:
        return -1
    flat = _flatten(points, corners, first, n, normals[face])
    tiny = _tiny(flat)
    for k in range(n):
        if _turn(flat, (k - 1) % n, k, (k + 1) % n) <= tiny:
            return -1
    out[at, 0], out[at, 1], out[at, 2] = first, first + 1, first + 2
    out[at + 1, 0], out[at + 1, 1], out[at + 1, 2] = first, first + 2, first + 3
    return at + 2


@kernel
def _tiny(flat: Floats) -> float:
    """What counts as no area in a polygon."""
    largest = 0.0
    for k in range(len(flat)):
        largest = max(largest, abs(flat[k, 0]), abs(flat[k, 1]))
    return 1e-12 * largest**2


@kernel
def _triangulate_plain(
    points: Floats, corners: Ints, face_start: Ints, normals: Floats, out: Ints, face_of: Ints
) -> int:
    """Fills in triangles and the face of each as long as all faces are triangles and convex quads; how many, or -1.

    By itself, for most models have no other faces, and clipping ears takes ten seconds to compile.
    """
    at = 0
    for f in range(len(face_start) - 1):
        begin = at
        at = _plain(points, corners, face_start, normals, f, out, at)
        if at < 0:
            return -1
        face_of[begin:at] = f
    return at


@kernel
def _triangulate(
    points: Floats, corners: Ints, face_start: Ints, normals: Floats, steps: Ints, out: Ints, face_of: Ints
) -> tuple[int, int]:
    """Fills in triangles and the face of each; how many, and the face at which `steps` was used up, or -1."""
    at = 0
    for f in range(len(face_start) - 1):
        first = face_start[f]
        begin = at
        at = _plain(points, corners, face_start, normals, f, out, begin)
        if at < 0:
            flat = _flatten(points, corners, first, face_start[f + 1] - first, normals[f])
            at = _clip_ears(flat, first, out, begin, _tiny(flat), steps)
            if at < 0:
                return 0, f
        face_of[begin:at] = f
    return at, -1


def triangulate(points: Floats, corners: Ints, face_start: Ints, normals: Floats) -> tuple[Ints, Ints]:
    """Triangles (T, 3) of corner ids and (T,) the face of each, in face order. MeshError for outlines in a tangle.

    normals: (F, 3) from `face_normals`. A triangle stays one triangle even without area, so that
    triangle meshes keep their count; polygons give no triangles without area.
    """
    room = len(corners) - 2 * (len(face_start) - 1)
    out, face_of, tangled = np.empty((room, 3), np.int32), np.empty(room, np.int32), -1
    count = _triangulate_plain(points, corners, face_start, normals, out, face_of)
    if count < 0:
        steps = np.array([STEPS])
        count, tangled = _triangulate(points, corners, face_start, normals, steps, out, face_of)
    if tangled >= 0:
        sides = int(face_start[tangled + 1] - face_start[tangled])
        raise MeshError(
            f"face {tangled} has {sides:,} corners in an outline that is too intricate for one face; divide it"
        )
    return out[:count].copy(), face_of[:count].copy()


@kernel
def triangle_areas(points: Floats, corners: Ints, triangles: Ints) -> Floats:
    """(T,) areas in mm²."""
    out = np.empty(len(triangles))
    for t in range(len(triangles)):
        a = points[corners[triangles[t, 0]]]
        b = points[corners[triangles[t, 1]]]
        c = points[corners[triangles[t, 2]]]
        ux, uy, uz = b[0] - a[0], b[1] - a[1], b[2] - a[2]
        vx, vy, vz = c[0] - a[0], c[1] - a[1], c[2] - a[2]
        x, y, z = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        out[t] = np.sqrt(x * x + y * y + z * z) / 2
    return out
