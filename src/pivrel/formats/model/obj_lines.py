"""Wavefront OBJ at the level of lines: compiled, so that a million faces read in seconds."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel
from pivrel.formats.model.text_numbers import MINUS, NINE, SPACE, ZERO, Bytes, blank, line_end, number, skip

BAD_NUMBER, BAD_INDEX, FEW_CORNERS = 1, 2, 3

V, N, T, F, SLASH = 118, 110, 116, 102, 47


@kernel
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


@kernel
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


@kernel
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


class Lines(NamedTuple):
    """What the lines of a file with V points, N normals, T coordinates, F faces, C corners and K names hold."""

    points: Floats
    """(V, 3)"""
    normals: Floats
    """(N, 3)"""
    coordinates: Floats
    """(T, 2), NaN where a line cannot be read."""
    face_start: Ints
    """(F + 1,) the first corner of each face, and the count of corners."""
    corners: Ints
    """(C,) the point of each corner."""
    corner_normals: Ints
    """(C,) the normal of each corner, -1 where it names none."""
    corner_uv: Floats
    """(C, 2) the coordinates of each corner, NaN where it names none or one that is not there."""
    names: Ints
    """(K, 3) byte range of each naming line and the count of faces before it."""


def room_for(points: int, normals: int, faces: int, corners: int, names: int, coordinates: int) -> Lines:
    """Empty arrays for what `count_lines` has counted, in its order."""
    return Lines(
        points=np.empty((points, 3)),
        normals=np.empty((normals, 3)),
        coordinates=np.empty((coordinates, 2)),
        face_start=np.zeros(faces + 1, np.int32),
        corners=np.empty(corners, np.int32),
        corner_normals=np.empty(corners, np.int32),
        corner_uv=np.empty((corners, 2)),
        names=np.empty((names, 3), np.int64),
    )


@kernel(inline="always")
def _read_numbers(data: Bytes, at: int, end: int, out: Floats, row: int) -> bool:
    """Fills a row of out (R, N) with the numbers of a line; whether all of them could be read."""
    for axis in range(out.shape[1]):
        at = skip(data, at, end)
        value, at = number(data, at, end)
        if not np.isfinite(value):
            return False
        out[row, axis] = value
    return True


@kernel
def _from_zero(index: int, read: int) -> int:
    """The row that an index of the file names: from 1 on, or back from the last that was read; -1 for 0."""
    return index - 1 if index > 0 else read + index if index < 0 else -1


@kernel
def read_lines(data: Bytes, into: Lines) -> tuple[int, int, int]:
    """Fills the arrays, sized by `count_lines`; returns (error, line, what) with error 0 if none."""
    points, normals, coordinates, face_start, corners, corner_normals, corner_uv, names = into
    v = vn = vt = f = c = k = 0
    at, line = 0, 0
    while at < len(data):
        line += 1
        end = line_end(data, at)
        at = skip(data, at, end)
        kind = _kind(data, at, end)
        if kind == 1:
            if not _read_numbers(data, at + 1, end, points, v):
                return BAD_NUMBER, line, 0
            v += 1
        elif kind == 2:
            if not _read_numbers(data, at + 2, end, normals, vn):
                return BAD_NUMBER, line, 0
            vn += 1
        elif kind == 5:
            # One number is allowed; nothing is lost by one that cannot be read.
            coordinates[vt, 0], coordinates[vt, 1] = np.nan, 0.0
            _read_numbers(data, at + 2, end, coordinates, vt)
            vt += 1
        elif kind == 3:
            first, at = c, skip(data, at + 1, end)
            while at < end:
                index, at = _integer(data, at, end)
                corners[c] = _from_zero(index, v)
                if not 0 <= corners[c] < len(points):
                    return BAD_INDEX, line, index
                corner_normals[c] = -1
                corner_uv[c, 0] = corner_uv[c, 1] = np.nan
                if at < end and data[at] == SLASH:
                    index, at = _integer(data, at + 1, end)
                    row = _from_zero(index, vt)
                    if 0 <= row < vt:
                        corner_uv[c, 0], corner_uv[c, 1] = coordinates[row, 0], coordinates[row, 1]
                    if at < end and data[at] == SLASH:
                        index, at = _integer(data, at + 1, end)
                        corner_normals[c] = _from_zero(index, vn)
                        if not 0 <= corner_normals[c] < len(normals):
                            return BAD_INDEX, line, index
                if at < end and not blank(data[at]):
                    return BAD_NUMBER, line, 0
                c, at = c + 1, skip(data, at, end)
            if c - first < 3:
                return FEW_CORNERS, line, c - first
            f += 1
            face_start[f] = c
        elif kind == 4:
            names[k, 0], names[k, 1], names[k, 2] = at, end, f
            k += 1
        at = end + 1
    return 0, 0, 0
