"""Binary PLY: rows of one size read as one table, rows with lists of many sizes walked by compiled code."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Ints
from pivrel.core.kernels import kernel
from pivrel.formats.model.ply_header import Columns, Element, Header, Lists, Property
from pivrel.formats.model.text_numbers import Bytes

UNSIGNED, SIGNED, FLOATING = 0, 1, 2
"""What a list's count is; any of the types may be stated for it."""

KINDS = {"u": UNSIGNED, "i": SIGNED, "f": FLOATING}

ENDED, NO_COUNT = "the file ends early", "a list has no such number of items"


@kernel
def _count_at(data: Bytes, at: int, size: int, kind: int, big: bool) -> float:
    """The number of `size` bytes at a place."""
    bits = np.uint64(0)
    for k in range(size):
        byte = data[at + k] if big else data[at + size - 1 - k]
        bits = (bits << np.uint64(8)) | np.uint64(byte)
    if kind == FLOATING:
        if size == 4:
            return np.array([bits], np.uint64).astype(np.uint32).view(np.float32)[0]
        return np.array([bits], np.uint64).view(np.float64)[0]
    value = float(bits)
    if kind == SIGNED and value >= 2.0 ** (8 * size - 1):
        value -= 2.0 ** (8 * size)
    return value


@kernel
def _walk(
    data: Bytes, at: int, sizes: Ints, count_sizes: Ints, kinds: Ints, big: bool, places: Ints, counts: Ints
) -> tuple[int, int, int]:
    """Fills in where each row's values begin, and how many there are of each property.

    sizes: (P,) bytes of a value; count_sizes: of a list's count, 0 where there is no list. places, counts: (K, P).
    Returns where the last row ends; or the row and the property at which the file ends, with -1, or a list's count is
    none, with -2.
    """
    for row in range(len(places)):
        for prop in range(len(sizes)):
            count = 1
            if count_sizes[prop]:
                if at + count_sizes[prop] > len(data):
                    return -1, row, prop
                stated = _count_at(data, at, count_sizes[prop], kinds[prop], big)
                if not 0.0 <= stated < 2.0**32 or stated != np.floor(stated):
                    return -2, row, prop
                count = int(stated)
                at += count_sizes[prop]
            places[row, prop] = at
            counts[row, prop] = count
            at += count * sizes[prop]
            if at > len(data):
                return -1, row, prop
    return at, 0, 0


def read_binary(data: bytes, header: Header) -> dict[str, Columns]:
    """The elements of a binary file. FormatError names the row at which they are not what the header says."""
    at, out = header.body, {}
    for element in header.elements:
        columns, at = _of_one_size(data, at, element, header.order) or _of_many_sizes(
            data, at, element, header.order
        )
        out[element.name] = columns
    return out


def _of_one_size(data: bytes, at: int, element: Element, order: str) -> tuple[Columns, int] | None:
    """An element whose rows are as large as its first; None where one is not, or the file ends before."""
    fields: list[tuple[str, str, tuple[int, ...]]] = []
    lengths, offset = {}, at
    for prop in element.properties:
        sides: tuple[int, ...] = ()
        if prop.count_dtype:
            dtype = np.dtype(order + prop.count_dtype)
            if not element.rows or offset + dtype.itemsize > len(data):
                return None
            count = float(np.frombuffer(data, dtype, 1, offset)[0])
            # Longer lists are walked: a count that lies would ask for a table of any size.
            if not 0 <= count <= 255 or count != int(count):
                return None
            lengths[prop.name], sides = int(count), (int(count),)
            fields.append((f"count of {prop.name}", dtype.str, ()))
            offset += dtype.itemsize
        fields.append((prop.name, order + prop.dtype, sides))
        offset += (sides[0] if sides else 1) * np.dtype(prop.dtype).itemsize
    row = np.dtype(fields)
    end = at + element.rows * row.itemsize
    if end > len(data):
        return None
    table = np.frombuffer(data, row, element.rows, at) if row.itemsize else np.empty(element.rows, row)
    if any((table[f"count of {name}"] != count).any() for name, count in lengths.items()):
        return None
    out: Columns = {}
    for prop in element.properties:
        values = table[prop.name].astype(prop.dtype)
        if prop.name in lengths:
            starts = lengths[prop.name] * np.arange(element.rows + 1)
            out[prop.name] = Lists(values.reshape(-1), starts)
        else:
            out[prop.name] = values
    return out, end


def _of_many_sizes(data: bytes, at: int, element: Element, order: str) -> tuple[Columns, int]:
    """An element row by row, whatever its lists are."""
    held = element.properties
    sizes = np.array([np.dtype(prop.dtype).itemsize for prop in held], np.int64)
    counted = [np.dtype(prop.count_dtype or "u1") for prop in held]
    count_sizes = np.array(
        [kind.itemsize if prop.count_dtype else 0 for kind, prop in zip(counted, held, strict=True)], np.int64
    )
    kinds = np.array([KINDS[kind.kind] for kind in counted], np.int64)
    places = np.empty((element.rows, len(held)), np.int64)
    counts = np.empty_like(places)
    body = np.frombuffer(data, np.uint8)
    end, row, prop = _walk(body, at, sizes, count_sizes, kinds, order == ">", places, counts)
    if end < 0:
        raise element.fault(row, ENDED if end == -1 else NO_COUNT, held[prop])
    out: Columns = {}
    for k, one in enumerate(held):
        starts = np.concatenate([[0], np.cumsum(counts[:, k])])
        own = (
            np.repeat(places[:, k] - starts[:-1] * sizes[k], counts[:, k]) + np.arange(starts[-1]) * sizes[k]
        )
        items = _gathered(body, own, one, order)
        out[one.name] = Lists(items, starts) if one.count_dtype else items
    return out, end


def _gathered(body: np.ndarray, places: np.ndarray, prop: Property, order: str) -> np.ndarray:
    """The values of a property that begin at these bytes."""
    dtype = np.dtype(order + prop.dtype)
    found = body[places[:, None] + np.arange(dtype.itemsize)]
    return found.reshape(-1).view(dtype).astype(prop.dtype)
