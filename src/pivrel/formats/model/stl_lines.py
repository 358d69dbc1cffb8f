"""Text STL at the level of lines: compiled, so that a million facets read in seconds."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel
from pivrel.formats.model.text_numbers import Bytes, blank, line_end, number, skip

BAD_NUMBER, NOT_THREE = 1, 2

LOWER_CASE = 32
"""The bit that tells small letters from capitals; writers use both."""

_VERTEX = np.frombuffer(b"vertex", np.uint8)
_SOLID = np.frombuffer(b"solid", np.uint8)
_ENDLOOP = np.frombuffer(b"endloop", np.uint8)


@kernel
def _begins(data: Bytes, at: int, end: int, word: Bytes) -> bool:
    if end - at < len(word):
        return False
    for k in range(len(word)):
        if (data[at + k] | LOWER_CASE) != word[k]:
            return False
    return at + len(word) == end or blank(data[at + len(word)])


@kernel
def count_lines(data: Bytes) -> tuple[int, int]:
    """How many vertices and solids there are."""
    vertices = solids = 0
    at = 0
    while at < len(data):
        end = line_end(data, at)
        at = skip(data, at, end)
        if _begins(data, at, end, _VERTEX):
            vertices += 1
        elif _begins(data, at, end, _SOLID):
            solids += 1
        at = end + 1
    return vertices, solids


@kernel
def read_lines(data: Bytes, points: Floats, solids: Ints) -> tuple[int, int, int]:
    """Fills the arrays, sized by `count_lines`; returns (error, line, vertices) with error 0 if none.

    solids: (K, 3) byte range of each solid's name and the count of vertices before it.
    """
    v = k = 0
    at, line = 0, 0
    while at < len(data):
        line += 1
        end = line_end(data, at)
        at = skip(data, at, end)
        if _begins(data, at, end, _VERTEX):
            at += len(_VERTEX)
            for axis in range(3):
                at = skip(data, at, end)
                value, at = number(data, at, end)
                if not np.isfinite(value):
                    return BAD_NUMBER, line, v
                points[v, axis] = value
            v += 1
        elif _begins(data, at, end, _SOLID):
            solids[k, 0], solids[k, 1], solids[k, 2] = at + len(_SOLID), end, v
            k += 1
        elif _begins(data, at, end, _ENDLOOP) and v % 3:
            return NOT_THREE, line, v
        at = end + 1
    return 0, 0, v
