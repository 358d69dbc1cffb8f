"""Laying by the angle round an axis: the kernel that cylindrical and spherical share."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
from numba import prange, uintp

from pivrel.core.arrays import Floats, Ints, Mask, Precision
from pivrel.core.geometry.corner_rows import corner_rows
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.runs import heaviest_run
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.vectors import unit_rows
from pivrel.core.kernels import kernel
from pivrel.core.projection.affine import composed
from pivrel.core.projection.box import BOTTOM, RULES, TOP

ON_AXIS_MM = 1e-3
"""A corner this near to the axis has no angle of its own: a micrometre, as vertices count as one place."""

CYLINDRICAL, SPHERICAL = 0, 1

BLOCK = 256
"""Faces laid together: enough for the processor to take several angles at once, few enough to stay in its cache."""

STRIP = 16 * BLOCK
"""Faces that one thread lays with the same scratch memory: threads that ask for memory wait for each other."""

FAST: Mapping[str, Any] = {"error_model": "numpy", "fastmath": {"contract"}}


@kernel(**FAST)
def angles(up: Floats, across: Floats, out: Floats) -> None:
    """(N,) the angles of (across, up) in (-pi, pi], to the last figure or two; 0 for (0, 0).

    One straight line of arithmetic without branches or calls, so that the compiler takes several at
    once, which the library's atan2 cannot. Polynomial and range are those of fdlibm's atan (Sun
    Microsystems, 1993; coefficients from memory, held to the library's by a test).
    """
    for k in range(len(out)):
        y, x = up[k], across[k]
        ay, ax = abs(y), abs(x)
        high = ay if ay > ax else ax
        low = ax if ay > ax else ay
        steep = low > 0.4142135623730950 * high
        # One division for both: tan(a - 45°) = (tan a - 1) / (tan a + 1).
        over = low - high if steep else low
        under = low + high if steep else high
        q = over / (under if under > 0.0 else 1.0)
        z = q * q
        w = z * z
        even = z * (3.33333333333329318027e-01 + w * (1.42857142725034663711e-01 + w * (
            9.09088713343650656196e-02 + w * (6.66107313738753120669e-02 + w * (
                4.97687799461593236017e-02 + w * 1.62858201153657823623e-02)))))  # fmt: skip
        odd = w * (-1.99999999998764832476e-01 + w * (-1.11111104054623557880e-01 + w * (
            -7.69187620504482999495e-02 + w * (
                -5.83357013379057348645e-02 + w * -3.65315727442169155270e-02))))  # fmt: skip
        angle = q - q * (even + odd)
        angle = angle + 0.7853981633974483 if steep else angle
        angle = 1.5707963267948966 - angle if ay > ax else angle
        angle = 3.141592653589793 - angle if x < 0.0 else angle
        out[k] = -angle if y < 0.0 else angle


@kernel(parallel=True, **FAST)
def _lay(
    points: Floats,
    corners: Ints,
    face_start: Ints,
    centroids: Floats,
    normals: Floats,
    faces: Ints,
    row: Ints,
    to_datum: Floats,
    sheet: Floats,
    cap_maps: Floats,
    cap_least: float,
    along: float,
    upward: float,
    kind: int,
    out: Floats,
) -> None:
    for strip in prange((len(faces) + STRIP - 1) // STRIP):
        start, stop = strip * STRIP, min((strip + 1) * STRIP, len(faces))
        most = 0
        for begin in range(start, stop, BLOCK):
            most = max(most, row[min(begin + BLOCK, stop)] - row[begin])
        scratch, of_face = np.empty((6, most)), np.empty((3, BLOCK))
        for begin in range(start, stop, BLOCK):
            end = min(begin + BLOCK, stop)
            count, held = row[end] - row[begin], end - begin
            px, py, pz, angle = scratch[0, :count], scratch[1, :count], scratch[2, :count], scratch[3, :count]
            mx, my, middle = of_face[0, :held], of_face[1, :held], of_face[2, :held]
            _gather(
                points, corners, face_start, centroids, faces, row, to_datum, begin, end, px, py, pz, mx, my
            )
            angles(my, mx, middle)
            angles(py, px, angle)
            if kind == SPHERICAL:
                _to_latitudes(px, py, pz, upward, scratch[4, :count], scratch[5, :count])
            _put(px, py, pz, angle, middle, row, begin, end, along, sheet, out)
            if cap_least < 1.0:
                _put_caps(points, corners, face_start, normals, faces, row, to_datum[2], cap_maps, cap_least,
                          begin, end, out)  # fmt: skip


@kernel(**FAST)
def _gather(
    points: Floats, corners: Ints, face_start: Ints, centroids: Floats, faces: Ints, row: Ints, m: Floats,
    begin: int, end: int, px: Floats, py: Floats, pz: Floats, mx: Floats, my: Floats,
) -> None:  # fmt: skip
    """Corners and middles of a block in datum coordinates; a middle on the axis looks along +x."""
    a, b, c, d = m[0, 0], m[0, 1], m[0, 2], m[0, 3]
    e, f, g, h = m[1, 0], m[1, 1], m[1, 2], m[1, 3]
    i, j, k, n = m[2, 0], m[2, 1], m[2, 2], m[2, 3]
    base = uintp(row[begin])
    for q in range(uintp(end - begin)):
        face, at = uintp(faces[uintp(begin) + q]), uintp(row[uintp(begin) + q]) - base
        x, y, z = centroids[face, 0], centroids[face, 1], centroids[face, 2]
        u, v = a * x + b * y + c * z + d, e * x + f * y + g * z + h
        on_axis = u * u + v * v <= ON_AXIS_MM * ON_AXIS_MM
        mx[q], my[q] = 1.0 if on_axis else u, 0.0 if on_axis else v
        first, last = uintp(face_start[face]), uintp(face_start[face + uintp(1)])
        for corner in range(last - first):
            p, to = uintp(corners[first + uintp(corner)]), at + uintp(corner)
            x, y, z = points[p, 0], points[p, 1], points[p, 2]
            px[to] = a * x + b * y + c * z + d
            py[to] = e * x + f * y + g * z + h
            pz[to] = i * x + j * y + k * z + n


@kernel(**FAST)
def _to_latitudes(
    px: Floats, py: Floats, pz: Floats, upward: float, flat: Floats, latitude: Floats
) -> None:  # fmt: skip
    """Heights become mm above the equator: asin(pz / r), by the two sides that lose no figures at the poles."""
    for k in range(len(pz)):
        flat[k] = np.sqrt(px[k] * px[k] + py[k] * py[k])
    angles(pz, flat, latitude)
    for k in range(len(pz)):
        pz[k] = upward * latitude[k]


@kernel(**FAST)
def _put(
    px: Floats, py: Floats, pz: Floats, angle: Floats, middle: Floats, row: Ints, begin: int, end: int,
    along: float, sheet: Floats, out: Floats,
) -> None:  # fmt: skip
    """Final (s', t'): each corner's angle at the turn nearest to its face's middle, so no face wraps back."""
    s0, s1, s2 = along * sheet[0, 0], sheet[0, 1], sheet[0, 2]
    t0, t1, t2 = along * sheet[1, 0], sheet[1, 1], sheet[1, 2]
    base = uintp(row[begin])
    for q in range(uintp(end - begin)):
        near = middle[q]
        first, last = uintp(row[uintp(begin) + q]), uintp(row[uintp(begin) + q + uintp(1)])
        for corner in range(last - first):
            to = first + uintp(corner)
            k = to - base
            gap = angle[k] - near
            turn = angle[k] - (2 * np.pi if gap > np.pi else (-2 * np.pi if gap < -np.pi else 0.0))
            turn = turn if px[k] * px[k] + py[k] * py[k] > ON_AXIS_MM * ON_AXIS_MM else near
            out[to, 0] = s0 * turn + s1 * pz[k] + s2
            out[to, 1] = t0 * turn + t1 * pz[k] + t2


@kernel(**FAST)
def _put_caps(
    points: Floats, corners: Ints, face_start: Ints, normals: Floats, faces: Ints, row: Ints, axis: Floats,
    maps: Floats, least: float, begin: int, end: int, out: Floats,
) -> None:  # fmt: skip
    """Lays those faces of a block flat that look along the axis; maps: (2, 2, 4) for up and down."""
    for q in range(begin, end):
        face = uintp(faces[q])
        u, v, w = normals[face, 0], normals[face, 1], normals[face, 2]
        lean = axis[0] * u + axis[1] * v + axis[2] * w
        if lean * lean > least * (u * u + v * v + w * w):
            cap = uintp(0) if lean >= 0.0 else uintp(1)
            first, last = uintp(face_start[face]), uintp(face_start[face + uintp(1)])
            for corner in range(last - first):
                p, to = uintp(corners[first + uintp(corner)]), uintp(row[q]) + uintp(corner)
                x, y, z = points[p, 0], points[p, 1], points[p, 2]
                for k in range(2):
                    out[to, k] = (
                        maps[cap, k, 0] * x + maps[cap, k, 1] * y + maps[cap, k, 2] * z + maps[cap, k, 3]
                    )


def lay_turned(
    surface: Surface, faces: Ints, datum: Datum, sheet: Floats, kind: int, along: float, upward: float,
    cap_angle_deg: float | None, dtype: Precision,
) -> Floats:  # fmt: skip
    """(K, 2) mm for the corners of `faces` (int32, ascending), face after face.

    along, upward: mm of sheet for each radian round the axis and (spherical) above the equator.
    cap_angle_deg: faces with |n.z| > cos of it are laid as a box's top and bottom; None for none.
    """
    mesh = surface.mesh
    rows = corner_rows(mesh, faces)
    out = np.empty((int(rows[-1]), 2), dtype)
    _lay(
        mesh.points, mesh.corners, mesh.face_start, surface.centroids, surface.normals, faces, rows,
        datum.to_datum, sheet, composed(RULES[[TOP, BOTTOM]], datum, sheet), _least_lean(cap_angle_deg),
        along, upward, kind, out,
    )  # fmt: skip
    return out


def _least_lean(cap_angle_deg: float | None) -> float:
    """The square of the cosine beyond which a face is a cap; infinite where there are none."""
    return np.inf if cap_angle_deg is None else float(np.cos(np.radians(cap_angle_deg)) ** 2)


def cap_sides(normals: Floats, datum: Datum, cap_angle_deg: float | None) -> Ints:
    """(N,) int8: 1 and 2 for faces laid as a box's top and bottom, 0 for the rest; normals (N, 3) of any length."""
    if cap_angle_deg is None:
        return np.zeros(len(normals), np.int8)
    lean = normals @ datum.axes[2]
    cap = lean**2 > _least_lean(cap_angle_deg) * (normals**2).sum(axis=1)
    return (cap * np.where(lean >= 0, 1, 2)).astype(np.int8)


def mean_radius(
    surface: Surface, faces: Ints, datum: Datum, cap_angle_deg: float | None, from_centre: bool
) -> float:
    """The area-weighted mean distance in mm of the faces' centroids from the axis, or from the centre.

    Caps do not count, unless there is nothing else. Nor do shoulders, flanges and chamfers, where most of
    the sides lie on one cylinder (`DOMINANT`): its own radius is what a label or a tile goes round. 1 mm
    where the faces have no area or all lie on the axis: there is no radius to measure then.
    """
    normals = surface.normals[faces]
    caps = cap_sides(normals, datum, cap_angle_deg) > 0
    sides = faces if caps.all() else faces[~caps]
    inside = surface.centroids[sides] @ datum.to_datum[:, :3].T + datum.to_datum[:, 3]
    weight = surface.face_areas[sides]
    distance = np.linalg.norm(inside if from_centre else inside[:, :2], axis=1)
    if not from_centre:
        weight = np.where(_on_one_cylinder(normals_of(surface, sides, datum), inside, weight), weight, 0.0)
    total = float(weight.sum())
    radius = float((weight * distance).sum()) / total if total > 0 else 0.0
    return radius if radius > ON_AXIS_MM else 1.0


DOMINANT = 0.4
"""A cylinder that holds this share of the sides' area is the shape that the sheet is rolled round."""

STRAIGHT, RADIAL, WINDOW = np.sin(np.radians(3.0)), np.cos(np.radians(15.0)), 0.012
"""Faces of a cylinder stand along its axis, look away from it, and are equally far to within this share; the
middles of flat strips lie nearer to the axis than their edges, and their normals are exact."""


def normals_of(surface: Surface, faces: Ints, datum: Datum) -> Floats:
    """(K, 3) unit normals in datum coordinates."""
    return unit_rows(surface.normals[faces] @ datum.axes.T)


def _on_one_cylinder(normals: Floats, inside: Floats, weight: Floats) -> Mask:
    """(K,) the faces on the cylinder about the axis that holds most of the area; all where none holds enough."""
    every = np.ones(len(weight), bool)
    distance = np.linalg.norm(inside[:, :2], axis=1)
    along = (normals[:, :2] * inside[:, :2]).sum(axis=1)
    straight = (
        (np.abs(normals[:, 2]) <= STRAIGHT) & (np.abs(along) >= RADIAL * distance) & (distance > ON_AXIS_MM)
    )
    rows = np.flatnonzero(straight)
    if not len(rows) or weight[rows].sum() < DOMINANT * weight.sum():
        return every
    rows = rows[np.argsort(distance[rows], kind="stable")]
    run, held = heaviest_run(distance[rows], distance[rows] * (1 + 2 * WINDOW), weight[rows])
    if held < DOMINANT * weight.sum():
        return every
    out = np.zeros(len(weight), bool)
    out[rows[run]] = True
    return out
