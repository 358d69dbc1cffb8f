"""Short strokes along the grain, evenly spaced over the faces, for a look at its direction."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.surface import Surface
from pivrel.core.kernels import kernel
from pivrel.core.laying import Settled, lay_raw, strongest_axes
from pivrel.core.laying.finish import AXES, Finish

LENGTH = 0.55
"""Length of a stroke, as a share of the spacing."""

MOST = 60_000
"""More strokes than this no view draws at ease."""


@kernel
def _strokes(
    points: Floats, corners: Ints, triangles: Ints, face: Ints, raw: Floats, angle: Floats, areas: Floats,
    spacing: float, out: Floats,
) -> int:  # fmt: skip
    """Fills out (N, 2, 3) and returns how many strokes there are; beyond N they are only counted.

    angle: (T,) radians of the grain, counter-clockwise from +s.
    """
    count = 0
    t = 0
    while t < len(triangles):
        before, first = count, t
        while t < len(triangles) and face[t] == face[first]:
            i, j, k = triangles[t, 0], triangles[t, 1], triangles[t, 2]
            c, s = np.cos(angle[t]), np.sin(angle[t])
            # In the grain's own frame, u runs along it.
            u0, v0 = c * raw[i, 0] + s * raw[i, 1], c * raw[i, 1] - s * raw[i, 0]
            u1, v1 = c * raw[j, 0] + s * raw[j, 1] - u0, c * raw[j, 1] - s * raw[j, 0] - v0
            u2, v2 = c * raw[k, 0] + s * raw[k, 1] - u0, c * raw[k, 1] - s * raw[k, 0] - v0
            twice = u1 * v2 - v1 * u2
            if abs(twice) > 1e-9 * spacing * spacing:
                low = int(np.ceil((v0 + min(0.0, v1, v2)) / spacing - 0.5))
                high = int(np.floor((v0 + max(0.0, v1, v2)) / spacing - 0.5))
                for row in range(low, high + 1):
                    # Every other row is shifted by half, as bricks are.
                    shift = 0.5 * (row & 1)
                    begin = int(np.ceil((u0 + min(0.0, u1, u2)) / spacing - shift))
                    end = int(np.floor((u0 + max(0.0, u1, u2)) / spacing - shift))
                    for column in range(begin, end + 1):
                        u = (column + shift) * spacing - u0
                        v = (row + 0.5) * spacing - v0
                        b, d = (u * v2 - v * u2) / twice, (u1 * v - v1 * u) / twice
                        if b >= 0.0 and d >= 0.0 and b + d < 1.0:
                            count = _put(points, corners, i, j, k, b, d, v2 / twice, -v1 / twice, spacing,
                                         out, count)  # fmt: skip
            t += 1
        # A face of some size that no place of the grid falls on still shows its grain.
        if count == before and areas[face[first]] > 0.25 * spacing * spacing:
            i, j, k = triangles[first, 0], triangles[first, 1], triangles[first, 2]
            c, s = np.cos(angle[first]), np.sin(angle[first])
            u1 = c * (raw[j, 0] - raw[i, 0]) + s * (raw[j, 1] - raw[i, 1])
            v1 = c * (raw[j, 1] - raw[i, 1]) - s * (raw[j, 0] - raw[i, 0])
            u2 = c * (raw[k, 0] - raw[i, 0]) + s * (raw[k, 1] - raw[i, 1])
            v2 = c * (raw[k, 1] - raw[i, 1]) - s * (raw[k, 0] - raw[i, 0])
            twice = u1 * v2 - v1 * u2
            if abs(twice) > 1e-9 * spacing * spacing:
                third = 1.0 / 3.0
                count = _put(points, corners, i, j, k, third, third, v2 / twice, -v1 / twice, spacing,
                             out, count)  # fmt: skip
    return count


@kernel
def _put(
    points: Floats, corners: Ints, i: int, j: int, k: int, b: float, d: float, db: float, dd: float,
    spacing: float, out: Floats, count: int,
) -> int:  # fmt: skip
    """Puts one stroke at barycentric (b, d) of a triangle; (db, dd) is one mm along the grain there."""
    if count < len(out):
        p, q, r = corners[i], corners[j], corners[k]
        along = np.empty(3)
        for m in range(3):
            along[m] = db * (points[q, m] - points[p, m]) + dd * (points[r, m] - points[p, m])
        length = np.sqrt(along[0] ** 2 + along[1] ** 2 + along[2] ** 2)
        if length <= 0.0:
            return count
        half = 0.5 * LENGTH * spacing / length
        for m in range(3):
            at = points[p, m] + b * (points[q, m] - points[p, m]) + d * (points[r, m] - points[p, m])
            out[count, 0, m] = at - half * along[m]
            out[count, 1, m] = at + half * along[m]
    return count + 1


def grain_strokes(
    surface: Surface, finish: Finish, faces: Ints, settled: Settled, spacing_mm: float
) -> Floats:
    """(N, 2, 3) ends in mm of strokes along the grain of a finish, in model coordinates.

    They stand in rows `spacing_mm` apart on the sheet as it is laid, before scale, so where the
    finish is true to scale they are as far apart on the model. A face of at least a quarter of
    spacing_mm squared that none falls on has one at its middle.
    """
    mesh = surface.mesh
    raw = np.zeros((mesh.corner_count, 2))
    raw[surface.corners_of(faces)] = lay_raw(surface, faces, settled)
    own = np.flatnonzero(surface.held(faces)[surface.triangle_face])
    face = surface.triangle_face[own]
    of_face = np.zeros(mesh.face_count)
    of_face[faces] = grain_angles_on(surface, finish, faces, settled)
    angle = of_face[face]
    area = float(surface.face_areas[faces].sum())
    room = int(2 * area / spacing_mm**2) + 2 * len(faces) + 16
    given = (mesh.points, mesh.corners, surface.triangles[own], face, raw, angle, surface.face_areas)
    out = np.empty((min(room, MOST), 2, 3))
    count = _strokes(*given, spacing_mm, out)
    return out[: min(count, len(out))]


def grain_angles_on(surface: Surface, finish: Finish, faces: Ints, settled: Settled) -> Floats:
    """(K,) radians of a finish's grain on each face, counter-clockwise from raw +s."""
    if settled.sheets is not None:
        maps = settled.sheets.matrix[:, :, :2]
        angles = np.array([_back(m, finish.material.grain_deg) for m in maps])
        out: Floats = angles[settled.sheets.group[np.searchsorted(settled.sheets.faces, faces)]]
        return out
    angles = np.array([grain_angle(finish, axis) for axis in AXES])
    if finish.projection.blends:
        by_axis: Floats = angles[strongest_axes(surface, faces, settled)]
        return by_axis
    return np.full(len(faces), angles[0])


def grain_angle(finish: Finish, axis: int = 0) -> float:
    """Radians of a finish's grain on the face, counter-clockwise from raw +s."""
    return _back(finish.sheets[axis][:, :2], finish.material_of(axis).grain_deg)


def _back(to_sheet: Floats, grain_deg: float) -> float:
    """Radians on the raw laying of a direction on the sheet; to_sheet: (2, 2)."""
    grain = np.radians(grain_deg)
    # By least squares: on a face where the sheet is smeared the map cannot be turned round.
    along = np.linalg.pinv(to_sheet) @ np.array([np.cos(grain), np.sin(grain)])
    return float(np.arctan2(along[1], along[0]))
