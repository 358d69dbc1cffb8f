"""What holds of a setting-out: courses that are level, cuts that are equal, joints on corners and edges.

Everything is read off the laying itself, so that each step of a setting-out can say what it gave up.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.core.set_out.cuts import WHOLE_MM, units_of
from pivrel.core.sheet import Material

LEVEL_MM = 0.01
"""Joints on neighbouring sides that differ by no more in height are level."""

EQUAL_MM = 0.1
"""Cuts that differ by no more are equal."""

ON_MM = 0.05
"""A joint lies on a corner or an edge that it misses by no more than this."""


@dataclass(frozen=True)
class Side:
    """A side of a finish. faces: (N,) int32. low, high: (2,) its ends on the sheet in mm.

    plumb: which way of the sheet (0 along, 1 up) runs straight up a standing side, so that its joints are
    level; None where none does. final = slope * z + zero that way, z in mm of the model.
    """

    faces: Ints
    low: Floats
    high: Floats
    plumb: int | None
    slope: float = 1.0
    zero: float = 0.0


@dataclass(frozen=True)
class Row:
    """A row of units as it lies: the cuts at both ends, without joints, and the whole units between joints.

    Where no joint falls within, whole is -1 and both cuts are the whole length. is_uncut: joints lie on
    both ends, so every unit is whole. All in mm of sheet.
    """

    first_mm: float
    last_mm: float
    whole: int
    is_uncut: bool = False

    @property
    def equal(self) -> bool:
        return self.whole < 0 or abs(self.first_mm - self.last_mm) <= EQUAL_MM


def upright(surface: Surface, faces: Ints) -> Mask:
    """(K,) the faces that stand: within 45 degrees of plumb."""
    normals = surface.normals[faces]
    size = np.maximum(np.linalg.norm(normals, axis=1), 1e-300)
    out: Mask = np.abs(normals[:, 2]) < size * np.sqrt(0.5)
    return out


def sides_of(
    surface: Surface, material: Material, final: Floats, faces: Ints, side: Ints, picked: Mask | None = None
) -> list[Side]:
    """The sides of a finish on its faces (K,), by the number of the side of each (K,), in order.

    final: (C, 2) by corner id. picked: (F,), where only these faces are measured; sides without any are left
    out. A side stands level where one way of the sheet is a straight line of the height (least squares).
    """
    order = np.argsort(side, kind="stable")
    faces, side = faces[order], side[order]
    measured = np.ones(len(faces), bool) if picked is None else picked[faces]
    if not measured.any():
        return []
    numbers, first = np.unique(side[measured], return_index=True)
    own = faces[measured]
    start, sizes = surface.mesh.face_start[own], np.diff(surface.mesh.face_start)[own]
    begin = np.cumsum(sizes) - sizes
    corners = np.repeat(start - begin, sizes) + np.arange(int(sizes.sum()))
    at = begin[first]
    place, z = final[corners], surface.mesh.points[surface.mesh.corners[corners], 2]
    low, high = np.minimum.reduceat(place, at), np.maximum.reduceat(place, at)
    stands = np.logical_and.reduceat(upright(surface, own), first)
    stands &= np.maximum.reduceat(z, at) - np.minimum.reduceat(z, at) >= 1.0
    lines = [_line_over_height(z, place[:, way], at) for way in (0, 1)]
    sheared = material.joints is not None and material.joints.bond != 0
    begins, ends = (np.searchsorted(side, numbers, side=end) for end in ("left", "right"))
    out = []
    for k in range(len(numbers)):
        plumb, slope, zero = None, 1.0, 0.0
        for way in (1, 0):
            slopes, zeros, off = lines[way]
            if stands[k] and off[k] <= LEVEL_MM / 10 and abs(slopes[k]) > 1e-6 and not (way == 0 and sheared):
                plumb, slope, zero = way, float(slopes[k]), float(zeros[k])
                break
        out.append(Side(np.sort(faces[begins[k] : ends[k]]), low[k], high[k], plumb, slope, zero))
    return out


def _line_over_height(z: Floats, values: Floats, at: Ints) -> tuple[Floats, Floats, Floats]:
    """(S,) slope and zero of the line of least squares of values over heights, and the greatest distance from it.

    z, values: (N,), group after group; at: (S,) where each begins.
    """
    count = np.diff([*at, len(z)])
    mean_z, mean = np.add.reduceat(z, at) / count, np.add.reduceat(values, at) / count
    dz, dv = z - np.repeat(mean_z, count), values - np.repeat(mean, count)
    spread = np.add.reduceat(dz * dz, at)
    slope = np.add.reduceat(dz * dv, at) / np.maximum(spread, 1e-12)
    off = np.maximum.reduceat(np.abs(dv - np.repeat(slope, count) * dz), at)
    return slope, mean - slope * mean_z, off


def heights(side: Side, material: Material) -> tuple[float, float]:
    """(pitch, height of one joint modulo it) in mm of the model, of the level joints of a side."""
    assert side.plumb is not None
    unit = units_of(material)[side.plumb]
    at = material.joints.at_mm[side.plumb] if material.joints else 0.0
    pitch = unit / abs(side.slope)
    return pitch, ((at - side.zero) / side.slope) % pitch


def is_level(one: Side, other: Side, material: Material) -> bool:
    """Whether the level joints of two sides lie at the same heights."""
    if one.plumb is None or other.plumb is None:
        return False
    (pitch, z), (other_pitch, other_z) = heights(one, material), heights(other, material)
    gap = z - other_z
    gap -= pitch * np.round(gap / pitch)
    return abs(pitch - other_pitch) <= 1e-6 * pitch and abs(gap) <= LEVEL_MM


def all_level(sides: list[Side], material: Material) -> bool:
    """Whether the courses of all standing sides run on at the same heights; true of fewer than two."""
    standing = [side for side in sides if side.plumb is not None]
    return all(is_level(standing[0], side, material) for side in standing[1:])


def first_joint(low: float, unit: float, at: float) -> float:
    """The number of the first joint at or above an end; joints lie at `at` and every `unit` from there."""
    return float(np.ceil((low - at - WHOLE_MM) / unit))


def row_of(low: float, high: float, unit: float, at: float, joint: float) -> Row:
    """The row of units between two ends, joints lying at `at` and every `unit` from there."""
    first = at + unit * first_joint(low, unit, at)
    last = at + unit * np.floor((high - at + WHOLE_MM) / unit)
    if last < first - WHOLE_MM:
        return Row(high - low, high - low, -1)
    whole = round((last - first) / unit)
    cuts = [first - low, high - last]
    if max(cuts) <= WHOLE_MM:
        return Row(unit - joint, unit - joint, whole, True)
    # An end on a joint is no cut: the unit beside it is whole.
    told = [unit - joint if cut <= WHOLE_MM else cut - joint / 2 for cut in cuts]
    return Row(float(told[0]), float(told[1]), whole)


def rows_of(side: Side, material: Material) -> tuple[Row, Row]:
    """The row along the lowest course of a side, and the column up, as they lie."""
    unit, joints = units_of(material), material.joints
    at = joints.at_mm if joints else (0.0, 0.0)
    joint = joints.width_mm if joints else 0.0
    up = row_of(float(side.low[1]), float(side.high[1]), unit[1], at[1], joint)
    shift = 0.0
    if joints is not None and joints.bond:
        # Joints along lie where the first level joint above the lower end has them.
        shift = joints.bond * unit[0] * first_joint(float(side.low[1]), unit[1], at[1])
    along = row_of(float(side.low[0]), float(side.high[0]), unit[0], at[0] + shift, joint)
    return along, up
