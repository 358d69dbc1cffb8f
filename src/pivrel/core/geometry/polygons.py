"""Polygons as triangles and normals: concave faces, collinear and repeated corners included."""

from __future__ import annotations

import numpy as np
from numba import njit, prange

from pivrel.core.arrays import Floats, Ints


@njit(cache=True, parallel=True)
def face_normals(points: Floats, corners: Ints, face_start: Ints) -> Floats:
    """(F, 3) area vectors in mm²: the direction a face looks, as long as its area.

    Newell's sum over the polygon (M. Newell, in Sutherland, Sproull and Schumacker, "A
    Characterization of Ten Hidden-Surface Algorithms", 1974), taken about the face's first
    corner so that models far from the origin keep their precision.
    """
    count = len(face_start) - 1
    out = np.empty((count, 3))
    for f in prange(count):
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


@njit(cache=True, parallel=True)
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


@njit(cache=True)
def _turn(flat: Floats, a: int, b: int, c: int) -> float:
    return float(
        (flat[b, 0] - flat[a, 0]) * (flat[c, 1] - flat[b, 1])
        - (flat[b, 1] - flat[a, 1]) * (flat[c, 0] - flat[b, 0])
    )


@njit(cache=True)
def _inside(flat: Floats, a: int, b: int, c: int, p: int) -> bool:
    """Whether p lies in the triangle or on its rim; a corner's own place does not count."""
    for q in (a, b, c):
        if flat[p, 0] == flat[q, 0] and flat[p, 1] == flat[q, 1]:
            return False
    return bool(_turn(flat, a, b, p) >= 0 and _turn(flat, b, c, p) >= 0 and _turn(flat, c, a, p) >= 0)


@njit(cache=True)
def _flatten(points: Floats, corners: Ints, first: int, n: int, normal: Floats) -> Floats:
    """(n, 2) the polygon seen along its dominant axis, counter-clockwise, about its first corner."""
    axis = np.argmax(np.abs(normal))
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


@njit(cache=True)
def _clip_ears(flat: Floats, first: int, out: Ints, at: int, tiny: float) -> int:
    """Writes the triangles of one polygon (corner ids from `first`) and returns the next free row.

    Ear clipping (G. H. Meisters, "Polygons Have Ears", 1975). Ears with no area are left to the
    end and dropped: a corner on a straight edge is an ear of no area until a better ear takes it in.
    """
    n = len(flat)
    before = np.empty(n, np.int64)
    after = np.empty(n, np.int64)
    for k in range(n):
        before[k], after[k] = (k - 1) % n, (k + 1) % n
    left, here, idle = n, 0, 0
    while left > 3:
        a, c = before[here], after[here]
        ear = _turn(flat, a, here, c) > tiny
        if ear:
            p = after[c]
            while p != a and ear:
                # Only a corner that turns inward can lie in an ear.
                if _turn(flat, before[p], p, after[p]) <= 0 and _inside(flat, a, here, c, p):
                    ear = False
                p = after[p]
        if not ear and idle <= left:
            here = c
            idle += 1
            continue
        # After a whole idle round nothing is a true ear (collinear or crossing edges): clip anyway.
        if ear or abs(_turn(flat, a, here, c)) > tiny:
            out[at, 0], out[at, 1], out[at, 2] = first + a, first + here, first + c
            at += 1
        after[a], before[c] = c, a
        left -= 1
        here, idle = c, 0
    a, c = before[here], after[here]
    if abs(_turn(flat, a, here, c)) > tiny:
        out[at, 0], out[at, 1], out[at, 2] = first + a, first + here, first + c
        at += 1
    return at


@njit(cache=True)
def _triangulate(points: Floats, corners: Ints, face_start: Ints, normals: Floats) -> tuple[Ints, Ints]:
    faces = len(face_start) - 1
    room = len(corners) - 2 * faces
    out = np.empty((room, 3), np.int32)
    face_of = np.empty(room, np.int32)
    at = 0
    for f in range(faces):
        first = face_start[f]
        n = face_start[f + 1] - first
        begin = at
        if n == 3:
            out[at, 0], out[at, 1], out[at, 2] = first, first + 1, first + 2
            at += 1
        else:
            flat = _flatten(points, corners, first, n, normals[f])
            tiny = 1e-12 * np.abs(flat).max() ** 2
            convex = n == 4
            for k in range(n):
                if convex and _turn(flat, (k - 1) % n, k, (k + 1) % n) <= tiny:
                    convex = False
            if convex:
                out[at, 0], out[at, 1], out[at, 2] = first, first + 1, first + 2
                out[at + 1, 0], out[at + 1, 1], out[at + 1, 2] = first, first + 2, first + 3
                at += 2
            else:
                at = _clip_ears(flat, first, out, at, tiny)
        face_of[begin:at] = f
    return out[:at].copy(), face_of[:at].copy()


def triangulate(points: Floats, corners: Ints, face_start: Ints, normals: Floats) -> tuple[Ints, Ints]:
    """Triangles (T, 3) of corner ids and (T,) the face of each, in face order.

    normals: (F, 3) from `face_normals`. A triangle stays one triangle even without area, so that
    triangle meshes keep their count; polygons give no triangles without area.
    """
    triangles, face_of = _triangulate(points, corners, face_start, normals)
    return triangles, face_of


@njit(cache=True, parallel=True)
def triangle_areas(points: Floats, corners: Ints, triangles: Ints) -> Floats:
    """(T,) areas in mm²."""
    out = np.empty(len(triangles))
    for t in prange(len(triangles)):
        a = points[corners[triangles[t, 0]]]
        b = points[corners[triangles[t, 1]]]
        c = points[corners[triangles[t, 2]]]
        ux, uy, uz = b[0] - a[0], b[1] - a[1], b[2] - a[2]
        vx, vy, vz = c[0] - a[0], c[1] - a[1], c[2] - a[2]
        x, y, z = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        out[t] = np.sqrt(x * x + y * y + z * z) / 2
    return out
