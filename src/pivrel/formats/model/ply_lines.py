"""Text PLY at the level of lines: compiled, so that a million faces read in a second."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from plyfile import PlyElement, PlyListProperty

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel
from pivrel.formats.model.text_numbers import Bytes, blank, line_end, number, skip


@dataclass(frozen=True)
class Lists:
    """A list a row: (N,) all items, row after row, and (K + 1,) int64 where each row's begin."""

    items: np.ndarray
    starts: Ints


Columns = dict[str, np.ndarray | Lists]
"""What an element has in each row, by the property's name."""


@kernel
def _count_words(data: Bytes, at: int, rows: int) -> tuple[int, int]:
    """How many words the next lines have, and where they end; -1 where there are not so many lines."""
    words = 0
    for _ in range(rows):
        if at >= len(data):
            return -1, at
        end = line_end(data, at)
        at = skip(data, at, end)
        while at < end:
            words += 1
            while at < end and not blank(data[at]):
                at += 1
            at = skip(data, at, end)
        at = end + 1
    return words, at


@kernel
def _read_words(data: Bytes, at: int, values: Floats, row_at: Ints) -> bool:
    """Fills in the numbers of lines, and where each line's begin; whether all words are numbers."""
    count = 0
    for row in range(len(row_at) - 1):
        row_at[row] = count
        end = line_end(data, at)
        at = skip(data, at, end)
        while at < end:
            value, at = number(data, at, end)
            if not np.isfinite(value):
                return False
            values[count] = value
            count += 1
            at = skip(data, at, end)
        at = end + 1
    row_at[-1] = count
    return True


def read_text(data: bytes, at: int, elements: Sequence[PlyElement]) -> dict[str, Columns] | None:
    """The elements of a file whose header ends at a byte; None where a line is not what the header says."""
    text = np.frombuffer(data, np.uint8)
    out = {}
    for element in elements:
        words, after = _count_words(text, at, element.count)
        if words < 0:
            return None
        values, row_at = np.empty(words), np.empty(element.count + 1, np.int64)
        if not _read_words(text, at, values, row_at):
            return None
        columns = _columns(element, values, row_at)
        if columns is None:
            return None
        out[element.name], at = columns, after
    return out


def _columns(element: PlyElement, values: Floats, row_at: Ints) -> Columns | None:
    """The numbers of an element's lines by property; None where a line has more or fewer than its lists say."""
    at, out = row_at[:-1].copy(), {}
    for prop in element.properties:
        found: np.ndarray | Lists | None
        if (at >= row_at[1:]).any():
            return None
        if isinstance(prop, PlyListProperty):
            count = values[at]
            at += 1
            if (count < 0).any() or (count != np.floor(count)).any() or (count > row_at[1:] - at).any():
                return None
            sides = count.astype(np.int64)
            starts = np.concatenate([[0], np.cumsum(sides)])
            own = np.repeat(at - starts[:-1], sides) + np.arange(starts[-1])
            items = _typed(values[own], prop.val_dtype)
            at += sides
            found = None if items is None else Lists(items, starts)
        else:
            found = _typed(values[at], prop.val_dtype)
            at += 1
        if found is None:
            return None
        out[prop.name] = found
    return out if np.array_equal(at, row_at[1:]) else None


def _typed(values: Floats, dtype: str) -> np.ndarray | None:
    """Numbers as a type holds them; None where one is out of its range, or no whole number where it must be."""
    if np.issubdtype(np.dtype(dtype), np.integer):
        held = np.iinfo(dtype)
        if len(values) and (
            values.min() < held.min or values.max() > held.max or (values != np.floor(values)).any()
        ):
            return None
    with np.errstate(over="ignore"):
        return values.astype(dtype)
