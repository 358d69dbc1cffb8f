"""PLY, binary and text (G. Turk, "The PLY Polygon File Format", 1994), read with plyfile."""

from __future__ import annotations

from io import BytesIO

import numpy as np
from plyfile import PlyData, PlyElement, PlyHeaderParseError, PlyListProperty, PlyParseError

from pivrel.core.arrays import Floats, Floats32, Ints
from pivrel.core.geometry.mesh import Mesh, MeshError, checked
from pivrel.formats.bundle import FormatError
from pivrel.formats.model_format import FoundModel, GivenFile
from pivrel.formats.source_images import SourceImages

CORNER_LISTS = ("vertex_indices", "vertex_index")


def read_ply(data: bytes) -> tuple[Mesh, list[str]]:
    """The mesh in the file's own unit and axes, and what was found. FormatError says what is wrong."""
    if not data.startswith(b"ply"):
        raise FormatError("this is not a PLY file: it does not begin with 'ply'")
    try:
        header = PlyData._parse_header(BytesIO(data))
        _check_counts(header.elements, len(data))
        try:
            # Triangles alone read at once; mixed polygons face by face.
            lengths = {name: {list_name: 3} for name, list_name in _lists(header.elements)}
            ply = PlyData.read(BytesIO(data), mmap=False, known_list_len=lengths)
        except PlyParseError:
            ply = PlyData.read(BytesIO(data), mmap=False)
    except (PlyParseError, PlyHeaderParseError) as error:
        raise FormatError(f"the PLY is broken: {error}") from None
    except (
        ValueError,
        OverflowError,
        EOFError,
        TypeError,
        KeyError,
        IndexError,
        UnicodeDecodeError,
    ) as error:
        raise FormatError(f"the PLY is broken ({error})") from None
    return _mesh(ply)


def _lists(elements: tuple[PlyElement, ...]) -> list[tuple[str, str]]:
    return [
        (element.name, prop.name)
        for element in elements
        for prop in element.properties
        if isinstance(prop, PlyListProperty)
    ]


def _check_counts(elements: tuple[PlyElement, ...], size: int) -> None:
    """FormatError where the header announces more rows than the file has bytes for."""
    for element in elements:
        if element.count > size:
            raise FormatError(
                f"the header announces {element.count:,} rows of {element.name!r}, but the file has {size:,} bytes"
            )


def _mesh(ply: PlyData) -> tuple[Mesh, list[str]]:
    found: list[str] = []
    names = {element.name: element for element in ply.elements}
    if "vertex" not in names:
        raise FormatError("the file has no vertices")
    vertex = names["vertex"].data
    columns = vertex.dtype.names or ()
    if not {"x", "y", "z"} <= set(columns):
        raise FormatError("the vertices lack one of the coordinates x, y, z")
    if "face" not in names or not len(names["face"].data):
        raise FormatError("the file has no faces: a cloud of points cannot be laid")
    key = next((k for k in CORNER_LISTS if k in (names["face"].data.dtype.names or ())), None)
    if key is None:
        raise FormatError("the faces have no list 'vertex_indices'")
    corners, face_start = _corners(names["face"].data[key])
    if {"red", "green", "blue"} & set(columns):
        found.append("the colors of the vertices were left out")
    points = np.column_stack([vertex[k] for k in "xyz"]).astype(np.float64)
    if len(corners) and (corners.min() < 0 or corners.max() >= len(points)):
        face = (
            int(np.searchsorted(face_start, np.argmax((corners < 0) | (corners >= len(points))), "right")) - 1
        )
        raise FormatError(f"face {face} refers to a vertex that is not there; the file has {len(points):,}")
    mesh = Mesh(
        points=points,
        corners=corners,
        face_start=face_start,
        face_part=np.zeros(len(face_start) - 1, np.int32),
        part_names=("part",),
        normals=_normals(vertex, corners) if {"nx", "ny", "nz"} <= set(columns) else None,
        uv_sets=tuple(_uv(vertex, names)[corners] for names in UV_NAMES if set(names) <= set(columns))[:1],
    )
    try:
        return checked(mesh), found
    except MeshError as error:
        raise FormatError(str(error)) from None


UV_NAMES = (("texture_u", "texture_v"), ("s", "t"), ("u", "v"))
"""What programs call the texture coordinates of a vertex."""


def _uv(vertex: np.ndarray, names: tuple[str, str]) -> Floats:
    uv = np.column_stack([vertex[name] for name in names]).astype(np.float64)
    return np.where(np.isfinite(uv).all(axis=1, keepdims=True), uv, np.nan)


def _corners(lists: np.ndarray) -> tuple[Ints, Ints]:
    """Corners face after face, and where each face begins."""
    if lists.dtype != object:
        count, sides = lists.shape
        corners = lists.reshape(-1)
        starts = np.arange(0, count * sides + 1, sides)
    else:
        corners = np.concatenate(list(lists))
        starts = np.concatenate([[0], np.cumsum([len(row) for row in lists])])
    return np.clip(corners.astype(np.int64), -1, 2**31 - 1).astype(np.int32), starts.astype(np.int32)


def _normals(vertex: np.ndarray, corners: Ints) -> Floats32 | None:
    """(C, 3) unit normals, or None where one has no length."""
    normals = np.column_stack([vertex[k] for k in ("nx", "ny", "nz")]).astype(np.float64)
    length = np.linalg.norm(normals, axis=1, keepdims=True)
    if not np.isfinite(length).all() or (length < 1e-12).any():
        return None
    return (normals / length)[corners].astype(np.float32)


def read(given: GivenFile) -> FoundModel:
    """A PLY, text or binary."""
    mesh, found = read_ply(given.data)
    return FoundModel(mesh, images=SourceImages(found=found))
