"""PLY, binary and text (G. Turk, "The PLY Polygon File Format", 1994), by its bytes or its lines."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from pivrel.core.arrays import Floats, Floats32, Ints
from pivrel.core.geometry.mesh import Mesh, MeshError, checked
from pivrel.formats.bundle import FormatError
from pivrel.formats.found_model import FoundModel, GivenFile
from pivrel.formats.model.ply_bytes import read_binary
from pivrel.formats.model.ply_header import Columns, Element, Lists, read_header
from pivrel.formats.model.ply_lines import read_text
from pivrel.formats.source_images import SourceImages

CORNER_LISTS = ("vertex_indices", "vertex_index")


def read_ply(data: bytes) -> tuple[Mesh, list[str]]:
    """The mesh in the file's own unit and axes, and what was found. FormatError says what is wrong."""
    if not data.startswith(b"ply"):
        raise FormatError("this is not a PLY file: it does not begin with 'ply'")
    header = read_header(data)
    _check_counts(header.elements, len(data))
    return _mesh(read_binary(data, header) if header.order else read_text(data, header))


def _check_counts(elements: tuple[Element, ...], size: int) -> None:
    """FormatError where the header announces more rows than the file has bytes for."""
    for element in elements:
        if element.rows > size:
            raise FormatError(
                f"the header announces {element.rows:,} rows of {element.name!r}, but the file has {size:,} bytes"
            )


def _mesh(elements: dict[str, Columns]) -> tuple[Mesh, list[str]]:
    found: list[str] = []
    if "vertex" not in elements:
        raise FormatError("the file has no vertices")
    vertex = {name: column for name, column in elements["vertex"].items() if not isinstance(column, Lists)}
    if not {"x", "y", "z"} <= set(vertex):
        raise FormatError("the vertices lack one of the coordinates x, y, z")
    faces = elements.get("face", {})
    lists = next((held for key in CORNER_LISTS if isinstance(held := faces.get(key), Lists)), None)
    if not any(_rows(column) for column in faces.values()):
        raise FormatError("the file has no faces: a cloud of points cannot be laid")
    if lists is None:
        raise FormatError("the faces have no list 'vertex_indices'")
    corners = np.clip(lists.items.astype(np.int64), -1, 2**31 - 1).astype(np.int32)
    face_start = lists.starts.astype(np.int32)
    if {"red", "green", "blue"} & set(vertex):
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
        normals=_normals(vertex, corners) if {"nx", "ny", "nz"} <= set(vertex) else None,
        uv_sets=tuple(_uv(vertex, names)[corners] for names in UV_NAMES if set(names) <= set(vertex))[:1],
    )
    try:
        return checked(mesh), found
    except MeshError as error:
        raise FormatError(str(error)) from None


UV_NAMES = (("texture_u", "texture_v"), ("s", "t"), ("u", "v"))
"""What programs call the texture coordinates of a vertex."""


def _uv(vertex: Mapping[str, np.ndarray], names: tuple[str, str]) -> Floats:
    uv = np.column_stack([vertex[name] for name in names]).astype(np.float64)
    return np.where(np.isfinite(uv).all(axis=1, keepdims=True), uv, np.nan)


def _rows(column: np.ndarray | Lists) -> int:
    return len(column.starts) - 1 if isinstance(column, Lists) else len(column)


def _normals(vertex: Mapping[str, np.ndarray], corners: Ints) -> Floats32 | None:
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
