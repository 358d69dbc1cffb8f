"""Text PLY at the level of lines: compiled, so that a million faces read in a second."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.kernels import kernel
from pivrel.formats.model.ply_header import Columns, Element, Header, Lists, Property
from pivrel.formats.model.text_numbers import Bytes, blank, line_end, number, skip


@kernel
def _count_words(data: Bytes, at: int, rows: int) -> tuple[int, int, int]:
    """How many words the next lines have, where they end, and how many lines there are of those asked for."""
    words = 0
    for row in range(rows):
        if at >= len(data):
            return words, at, row
        end = line_end(data, at)
        at = skip(data, at, end)
        while at < end:
            words += 1
            while at < end and not blank(data[at]):
                at += 1
            at = skip(data, at, end)
        at = end + 1
    return words, at, rows


@kernel
def _read_words(data: Bytes, at: int, values: Floats, row_at: Ints) -> tuple[int, int]:
    """Fills in the numbers of lines, and where each line's begin; the first row and byte of what is no number, or -1.

    NaN and infinities, as programs write them, are numbers here.
    """
    count = 0
    for row in range(len(row_at) - 1):
        row_at[row] = count
        end = line_end(data, at)
        at = skip(data, at, end)
        while at < end:
            begun = at
            value, at = number(data, at, end)
            if np.isnan(value):
                value, at = _named(data, begun, end)
                if at < 0:
                    return row, begun
            values[count] = value
            count += 1
            at = skip(data, at, end)
        at = end + 1
    row_at[-1] = count
    return -1, -1


@kernel
def _named(data: Bytes, at: int, end: int) -> tuple[float, int]:
    """The value of a word such as nan or -inf, and the place behind it; -1 where the word is neither."""
    negative = data[at] == 45
    if data[at] == 45 or data[at] == 43:
        at += 1
    begun = at
    while at < end and not blank(data[at]):
        at += 1
    # Lower-case letters: i n f, n a n.
    first, second, third = 0, 0, 0
    if at - begun >= 3:
        first, second, third = data[begun] | 32, data[begun + 1] | 32, data[begun + 2] | 32
    if first == 105 and second == 110 and third == 102:
        return (-np.inf if negative else np.inf), at
    if first == 110 and second == 97 and third == 110:
        return np.nan, at
    return 0.0, -1


def read_text(data: bytes, header: Header) -> dict[str, Columns]:
    """The elements of a text file. FormatError names the row at which they are not what the header says."""
    if header.newline == b"\r":
        data = data.replace(b"\r", b"\n")
    text, at, out = np.frombuffer(data, np.uint8), header.body, {}
    for element in header.elements:
        words, after, rows = _count_words(text, at, element.rows)
        if rows < element.rows:
            raise element.fault(rows, "the file ends early")
        values, row_at = np.empty(words), np.empty(element.rows + 1, np.int64)
        row, place = _read_words(text, at, values, row_at)
        if row >= 0:
            raise element.fault(row, f"{_word(data, place)!r} is no number")
        out[element.name], at = _columns(element, values, row_at), after
    return out


def _word(data: bytes, place: int) -> str:
    """The word that begins at a byte, shortened."""
    return data[place : place + 40].split()[0].decode(errors="replace")


def _columns(element: Element, values: Floats, row_at: Ints) -> Columns:
    """The numbers of an element's lines by property. FormatError where a line has more or fewer than its lists say."""
    at, ends = row_at[:-1].copy(), row_at[1:]
    out: Columns = {}

    def check(wrong: Mask, what: str, prop: Property | None = None) -> None:
        if wrong.any():
            raise element.fault(int(np.argmax(wrong)), what, prop)

    for prop in element.properties:
        check(at >= ends, "the line ends early", prop)
        if prop.count_dtype is None:
            out[prop.name] = _typed(element, prop, values[at], np.arange(len(at)))
            at += 1
            continue
        count = values[at]
        at += 1
        check(~(count >= 0) | (count != np.floor(count)), "a list has no such number of items", prop)
        check(count > ends - at, "the line ends early", prop)
        sides = count.astype(np.int64)
        starts = np.concatenate([[0], np.cumsum(sides)])
        own = np.repeat(at - starts[:-1], sides) + np.arange(starts[-1])
        rows = np.repeat(np.arange(len(at)), sides)
        out[prop.name] = Lists(_typed(element, prop, values[own], rows), starts)
        at += sides
    check(at != ends, "the line goes on where it should end")
    return out


def _typed(element: Element, prop: Property, values: Floats, rows: Ints) -> np.ndarray:
    """Numbers as a type holds them. FormatError where one is out of its range, or no whole number where it must be."""
    if np.issubdtype(np.dtype(prop.dtype), np.integer):
        held = np.iinfo(prop.dtype)
        wrong = ~((values >= held.min) & (values <= held.max)) | (values != np.floor(values))
        if wrong.any():
            at = int(np.argmax(wrong))
            what = f"{values[at]:g} is no whole number between {held.min} and {held.max}"
            raise element.fault(int(rows[at]), what, prop)
    with np.errstate(over="ignore"):
        return values.astype(prop.dtype)
