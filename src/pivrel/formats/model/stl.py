"""STL, binary and text (3D Systems' StereoLithography Interface Specification, 1988; from memory)."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.mesh import Mesh, MeshError, checked
from pivrel.formats.bundle import FormatError
from pivrel.formats.found_model import FoundModel, GivenFile
from pivrel.formats.model.stl_lines import NOT_THREE, count_lines, read_lines

HEADER, RECORD = 84, 50
_FACET = np.dtype([("normal", "<f4", 3), ("points", "<f4", (3, 3)), ("attribute", "<u2")])


def read_stl(data: bytes) -> Mesh:
    """The mesh in the file's own unit and axes; each solid of a text file is a part.

    A facet's own normal is not read: its corners' order says the same, and more exactly.
    FormatError says what is wrong and where.
    """
    try:
        return checked(_binary(data) if is_binary(data) else _text(data))
    except MeshError as error:
        raise FormatError(str(error)) from None


def is_binary(data: bytes) -> bool:
    """Whether the length is that of the facets announced; some binary files begin with "solid" too."""
    if len(data) < HEADER:
        return False
    stated = facet_count(data)
    if len(data) == HEADER + RECORD * stated:
        return True
    return data.lstrip()[:5].lower() != b"solid" or b"\0" in data[:512]


def facet_count(data: bytes) -> int:
    """How many facets a binary STL announces."""
    return int.from_bytes(data[HEADER - 4 : HEADER], "little")


def _binary(data: bytes) -> Mesh:
    count, held = facet_count(data), (len(data) - HEADER) // RECORD
    if held < count or not count:
        raise FormatError(
            f"the header announces {count:,} facets, but the file holds {held:,}"
            if count
            else "the file announces no facets"
        )
    facets = np.frombuffer(data, _FACET, count, HEADER)
    return _triangles(facets["points"].reshape(-1, 3).astype(np.float64), np.array([0]), ("part",))


def _text(data: bytes) -> Mesh:
    if data.lstrip()[:5].lower() != b"solid":
        raise FormatError("this is not an STL file: it begins neither with 'solid' nor with a binary header")
    raw = np.frombuffer(data, np.uint8)
    vertices, count = count_lines(raw)
    points, solids = np.empty((vertices, 3)), np.empty((count, 3), np.int64)
    error, line, read = read_lines(raw, points, solids)
    if error == NOT_THREE or (not error and read % 3):
        where = f"the loop that ends in line {line}" if error else "the last loop"
        raise FormatError(f"{where} does not have 3 vertices")
    if error:
        raise FormatError(f"line {line} has something that is not a finite number")
    if not vertices:
        raise FormatError("the file has no facets")
    names = [
        data[begin:end].decode("utf-8", "replace").strip() or "part" for begin, end, _ in solids.tolist()
    ]
    first = solids[:, 2] // 3
    held = np.diff(np.append(first, vertices // 3)) > 0
    return _triangles(points, first[held], tuple(n for n, some in zip(names, held, strict=True) if some))


def _triangles(points: Floats, first: Ints, names: tuple[str, ...]) -> Mesh:
    """A mesh of unshared triangles; first: the triangle that each part begins with."""
    count = len(points) // 3
    lengths = np.diff(np.append(first, count))
    return Mesh(
        points=points,
        corners=np.arange(3 * count, dtype=np.int32),
        face_start=np.arange(0, 3 * count + 1, 3, dtype=np.int32),
        face_part=np.repeat(np.arange(len(names), dtype=np.int32), lengths),
        part_names=unique_names(names),
    )


def unique_names(names: tuple[str, ...] | list[str]) -> tuple[str, ...]:
    """The names, those used before told apart by a number, so that each part can be picked by its own."""
    taken, counts, out = set(), dict.fromkeys(names, 1), []
    for name in names:
        free = name
        while free in taken:
            counts[name] += 1
            free = f"{name} ({counts[name]})"
        taken.add(free)
        out.append(free)
    return tuple(out)


def read(given: GivenFile) -> FoundModel:
    """An STL, text or binary."""
    return FoundModel(read_stl(given.data))
