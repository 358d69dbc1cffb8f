"""The header of a PLY file: lines of words that say what each row of each element holds (G. Turk, 1994)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from pivrel.formats.bundle import FormatError

TYPES = {
    "char": "i1", "uchar": "u1", "short": "i2", "ushort": "u2", "int": "i4", "uint": "u4", "float": "f4", "double": "f8",
    "int8": "i1", "uint8": "u1", "int16": "i2", "uint16": "u2", "int32": "i4", "uint32": "u4", "float32": "f4",
    "float64": "f8",
}  # fmt: skip
"""The types of numbers by either of their names, as numpy writes them."""

ORDERS = {"ascii": "", "binary_little_endian": "<", "binary_big_endian": ">"}
"""The formats, and the order of the bytes of a number as numpy writes it; none in text."""

LARGEST_COUNT = 2**40


@dataclass(frozen=True)
class Property:
    """A number in each row, or, where it has a type of its count, a list of numbers."""

    name: str
    dtype: str
    count_dtype: str | None = None


@dataclass(frozen=True)
class Element:
    """A table: so many rows, each with these properties one after the other."""

    name: str
    rows: int
    properties: tuple[Property, ...]

    def fault(self, row: int, what: str, prop: Property | None = None) -> FormatError:
        """What is wrong with a row."""
        where = f"element {self.name!r}: row {row}: " + (f"property {prop.name!r}: " if prop else "")
        return FormatError(f"the PLY is broken: {where}{what}")


@dataclass(frozen=True)
class Header:
    """What a file holds.

    order: of a number's bytes, "" for text. body: where the first row begins. newline: what ends a line.
    """

    order: str
    elements: tuple[Element, ...]
    body: int
    newline: bytes


def read_header(data: bytes) -> Header:
    """The header of a file that begins with "ply". FormatError names the line that is wrong."""
    newline = next((end for end in (b"\r\n", b"\n", b"\r") if data[3:].startswith(end)), None)
    if newline is None:
        raise _fault(1, "expected 'ply' alone")
    order: str | None = None
    tables: list[tuple[str, int, list[Property]]] = []
    for number, words, body in _lines(data, newline):
        if not words or words[0] in ("comment", "obj_info"):
            continue
        if words == ["end_header"]:
            if order is None:
                raise _fault(number, "the format is not stated")
            elements = tuple(Element(name, rows, tuple(held)) for name, rows, held in tables)
            return Header(order, elements, body, newline)
        if words[0] == "format":
            order = _order(number, words)
        elif words[0] == "element":
            tables.append((*_element(number, words, {name for name, _, _ in tables}), []))
        elif words[0] == "property" and tables:
            held = tables[-1][2]
            held.append(_property(number, words, {one.name for one in held}))
        else:
            raise _fault(number, f"{words[0]!r} is not expected here")
    raise FormatError("the PLY is broken: its header does not end")


def _lines(data: bytes, newline: bytes) -> Iterator[tuple[int, list[str], int]]:
    """Of each line after the first: its number, its words, and where the next one begins."""
    at, number = 3 + len(newline), 1
    while (end := data.find(newline, at)) >= 0:
        number += 1
        line = data[at:end]
        at = end + len(newline)
        yield number, line.decode(errors="replace").split(), at


def _order(number: int, words: list[str]) -> str:
    if len(words) != 3 or words[1] not in ORDERS:
        raise _fault(number, f"expected 'format', one of {', '.join(ORDERS)}, and '1.0'")
    if words[2] != "1.0":
        raise _fault(number, f"version {words[2]!r} is not known, only 1.0")
    return ORDERS[words[1]]


def _element(number: int, words: list[str], names: set[str]) -> tuple[str, int]:
    if len(words) != 3 or not (words[2].isascii() and words[2].isdecimal()):
        raise _fault(number, "expected 'element', a name and a count")
    if words[1] in names:
        raise _fault(number, f"there are two elements {words[1]!r}")
    return words[1], int(words[2]) if len(words[2]) < 13 else LARGEST_COUNT


def _property(number: int, words: list[str], names: set[str]) -> Property:
    listed = words[1:2] == ["list"]
    types = words[2:-1] if listed else words[1:-1]
    if len(types) != (2 if listed else 1):
        raise _fault(
            number, "expected 'property', a type and a name, or 'property list', two types and a name"
        )
    for kind in types:
        if kind not in TYPES:
            raise _fault(number, f"{kind!r} is no type of a property; they are {', '.join(TYPES)}")
    if words[-1] in names:
        raise _fault(number, f"there are two properties {words[-1]!r} of one element")
    return Property(words[-1], TYPES[types[-1]], TYPES[types[0]] if listed else None)


def _fault(number: int, what: str) -> FormatError:
    return FormatError(f"the PLY is broken: line {number}: {what}")


@dataclass(frozen=True)
class Lists:
    """A list a row: (N,) all items, row after row, and (K + 1,) int64 where each row's begin."""

    items: np.ndarray
    starts: np.ndarray


Columns = dict[str, np.ndarray | Lists]
"""What an element has in each row, by the property's name."""
