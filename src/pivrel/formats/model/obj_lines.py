"""Wavefront OBJ at the level of lines: compiled, so that a million faces read in seconds."""

from __future__ import annotations

import numpy as np
from numba import njit

from pivrel.core.arrays import Floats, Ints
from pivrel.formats.model.text_numbers import MINUS, NINE, SPACE, ZERO, Bytes, blank, line_end, number, skip

BAD_NUMBER, BAD_INDEX, FEW_CORNERS = 1, 2, 3

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
    v = vn = vt = f = c = k = 0
    at, line = 0, 0
    face_start[0] = 0
    while at < len(data):
        line += 1
        end = line_end(data, at)
        at = skip(data, at, end)
        kind = _kind(data, at, end)
        if kind == 1 or kind == 2:
            at += kind
            for axis in range(3):
                at = skip(data, at, end)
                value, at = number(data, at, end)
                if not np.isfinite(value):
                    return BAD_NUMBER, line, axis
                if kind == 1:
                    points[v, axis] = value
                else:
                    normals[vn, axis] = value
            if kind == 1:
                v += 1
            else:
                vn += 1
        elif kind == 5:
            at += 2
            for axis in range(2):
                at = skip(data, at, end)
                value, at = number(data, at, end)
                # One number is allowed; nothing is lost by one that cannot be read.
                coordinates[vt, axis] = value if np.isfinite(value) else (0.0 if axis else np.nan)
            vt += 1
        elif kind == 3:
            at += 1
            first = c
            while True:
                at = skip(data, at, end)
                if at >= end:
                    break
                index, at = _integer(data, at, end)
                corners[c] = index - 1 if index > 0 else v + index
                if index == 0 or corners[c] < 0 or corners[c] >= len(points):
                    return BAD_INDEX, line, index
                corner_normals[c] = -1
                corner_uv[c, 0] = corner_uv[c, 1] = np.nan
                if at < end and data[at] == SLASH:
                    index, at = _integer(data, at + 1, end)
                    row = index - 1 if index > 0 else vt + index
                    if index != 0 and 0 <= row < vt:
                        corner_uv[c, 0], corner_uv[c, 1] = coordinates[row, 0], coordinates[row, 1]
                    if at < end and data[at] == SLASH:
                        index, at = _integer(data, at + 1, end)
                        corner_normals[c] = index - 1 if index > 0 else vn + index
                        if index == 0 or corner_normals[c] < 0 or corner_normals[c] >= len(normals):
                            return BAD_INDEX, line, index
                if at < end and not blank(data[at]):
                    return BAD_NUMBER, line, 0
                c += 1
            if c - first < 3:
                return FEW_CORNERS, line, c - first
            f += 1
            face_start[f] = c
        elif kind == 4:
            names[k, 0], names[k, 1], names[k, 2] = at, end, f
            k += 1
        at = end + 1
    return 0, 0, 0
