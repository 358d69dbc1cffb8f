"""Wavefront OBJ at the level of lines: compiled, so that a million faces read in seconds."""

from __future__ import annotations

import numpy as np
from numba import njit

from pivrel.core.arrays import Floats, Ints
from pivrel.formats.model.text_numbers import MINUS, NINE, SPACE, ZERO, Bytes, blank, line_end, number, skip

BAD_NUMBER, BAD_INDEX, FEW_CORNERS = 1, 2, 3

NO_INDEX = 1 << 50
"""No index of any line: whole numbers are read up to 2**40."""

V, N, T, F, SLASH = 118, 110, 116, 102, 47


@njit(cache=True)
def _integer(data: Bytes, at: int, end: int) -> tuple[int, int]:
    """A whole number and the place behind it; 0 (which no OBJ index is) where there is none."""
    negative = at < end and data[at] == MINUS
    if negative:
        at += 1
    value = 0
    while at < end and ZERO <= data[at] <= NINE:
        value = min(value * 10 + (data[at] - ZERO), 1 << 40)
        at += 1
    return (-value if negative else value), at


@njit(cache=True)
def _kind(data: Bytes, at: int, end: int) -> int:
    """1 for v, 2 for vn, 3 for f, 4 for a line that names something, 5 for vt, 0 for what is not read."""
    if at >= end:
        return 0
    c = data[at]
    second = data[at + 1] if at + 1 < end else SPACE
    third = data[at + 2] if at + 2 < end else SPACE
    if c == V:
        if blank(second):
            return 1
        if not blank(third):
            return 0
        return 2 if second == N else 5 if second == T else 0
    if c == F:
        return 3 if blank(second) else 0
    # o, g, usemtl, mtllib
    if (c == 111 or c == 103) and blank(second):
        return 4
    return 4 if (c == 117 and second == 115) or (c == 109 and second == 116) else 0


@njit(cache=True)
def count_lines(data: Bytes) -> tuple[int, int, int, int, int, int]:
    """How many points, normals, faces, corners, naming lines and texture coordinates there are."""
    counts = np.zeros(6, np.int64)
    at = 0
    while at < len(data):
        end = line_end(data, at)
        at = skip(data, at, end)
        kind = _kind(data, at, end)
        if kind == 3:
            counts[2] += 1
            at += 1
            while at < end:
                at = skip(data, at, end)
                if at < end:
                    counts[3] += 1
                while at < end and not blank(data[at]):
                    at += 1
        elif kind >= 4:
            counts[kind] += 1
        elif kind > 0:
            counts[kind - 1] += 1
        at = end + 1
    return counts[0], counts[1], counts[2], counts[3], counts[4], counts[5]


@njit(cache=True)
def _read_numbers(data: Bytes, at: int, end: int, out: Floats) -> int:
    """Fills out (N,) with the numbers of a line, those that cannot be read not finite; where reading stopped."""
    for axis in range(len(out)):
        at = skip(data, at, end)
        out[axis], at = number(data, at, end)
    return at


@njit(cache=True)
def _read_corner(
    data: Bytes, at: int, end: int, counts: Ints, limits: Ints, coordinates: Floats, uv: Floats
) -> tuple[int, int, int, int]:
    """A corner of a face: where it ends, its point, its normal (-1 for none), and an index that is wrong, or NO_INDEX.

    counts: how many points, coordinates and normals have been read; limits: how many points and normals there are.
    """
    index, at = _integer(data, at, end)
    point = index - 1 if index > 0 else counts[0] + index
    uv[0] = uv[1] = np.nan
    if index == 0 or point < 0 or point >= limits[0]:
        return at, point, -1, index
    normal = -1
    if at < end and data[at] == SLASH:
        index, at = _integer(data, at + 1, end)
        row = index - 1 if index > 0 else counts[1] + index
        if index != 0 and 0 <= row < counts[1]:
            uv[0], uv[1] = coordinates[row, 0], coordinates[row, 1]
        if at < end and data[at] == SLASH:
            index, at = _integer(data, at + 1, end)
            normal = index - 1 if index > 0 else counts[2] + index
            if index == 0 or normal < 0 or normal >= limits[1]:
                return at, point, normal, index
    return at, point, normal, NO_INDEX


@njit(cache=True)
def _read_face(
    data: Bytes, at: int, end: int, counts: Ints, limits: Ints, c: int, corners: Ints, corner_normals: Ints,
    coordinates: Floats, corner_uv: Floats,
) -> tuple[int, int, int]:  # fmt: skip
    """Fills in the corners of a face from row c on; (error, what, the row after them)."""
    first = c
    while True:
        at = skip(data, at, end)
        if at >= end:
            break
        at, point, normal, wrong = _read_corner(data, at, end, counts, limits, coordinates, corner_uv[c])
        if wrong != NO_INDEX:
            return BAD_INDEX, wrong, c
        corners[c], corner_normals[c] = point, normal
        if at < end and not blank(data[at]):
            return BAD_NUMBER, 0, c
        c += 1
    return (FEW_CORNERS, c - first, c) if c - first < 3 else (0, 0, c)


@njit(cache=True)
def read_lines(
    data: Bytes,
    points: Floats,
    normals: Floats,
    face_start: Ints,
    corners: Ints,
    corner_normals: Ints,
    names: Ints,
    coordinates: Floats,
    corner_uv: Floats,
) -> tuple[int, int, int]:
    """Fills the arrays, sized by `count_lines`; returns (error, line, what) with error 0 if none.

    names: (K, 3) byte range of each naming line and the count of faces before it.
    corner_normals: -1 where a corner names none. coordinates: (VT, 2) scratch for the file's list;
    corner_uv: (C, 2) those of each corner, NaN where it names none or one that is not there.
    """
    counts, limits = np.zeros(3, np.int64), np.array([len(points), len(normals)])
    at, line, f, c, k = 0, 0, 0, 0, 0
    face_start[0] = 0
    while at < len(data):
        line += 1
        end = line_end(data, at)
        at = skip(data, at, end)
        kind = _kind(data, at, end)
        if kind == 1 or kind == 2:
            which = 0 if kind == 1 else 2
            row = points[counts[0]] if kind == 1 else normals[counts[2]]
            _read_numbers(data, at + kind, end, row)
            for axis in range(3):
                if not np.isfinite(row[axis]):
                    return BAD_NUMBER, line, axis
            counts[which] += 1
        elif kind == 5:
            row = coordinates[counts[1]]
            _read_numbers(data, at + 2, end, row)
            # One number is allowed; nothing is lost by one that cannot be read.
            row[0] = row[0] if np.isfinite(row[0]) else np.nan
            row[1] = row[1] if np.isfinite(row[1]) else 0.0
            counts[1] += 1
        elif kind == 3:
            error, what, c = _read_face(
                data, at + 1, end, counts, limits, c, corners, corner_normals, coordinates, corner_uv
            )
            if error:
                return error, line, what
            f += 1
            face_start[f] = c
        elif kind == 4:
            names[k, 0], names[k, 1], names[k, 2] = at, end, f
            k += 1
        at = end + 1
    return 0, 0, 0
