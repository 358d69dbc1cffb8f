"""A mesh as bytes, and back. A reader's process writes them too, so that this module loads no more than it needs."""

from __future__ import annotations

import json
import mmap
import re
import zipfile
from dataclasses import asdict
from io import BytesIO
from typing import Any

import numpy as np

from pivrel.bounded_json import read_json
from pivrel.core.geometry.exact import ExactSurface
from pivrel.core.geometry.mesh import Mesh, MeshError, SourceMaterial, SourceTexture


def mesh_data(mesh: Mesh) -> bytes:
    """A mesh as the bytes of a NumPy archive; `read_mesh` reads them."""
    stated = {
        "parts": mesh.part_names,
        "sources": [asdict(source) for source in mesh.sources],
        "exact": [asdict(surface) for surface in mesh.exact],
        "elements": mesh.part_elements,
        "storeys": mesh.part_storeys,
    }
    arrays: dict[str, Any] = {
        "points": mesh.points,
        "corners": mesh.corners,
        "face_start": mesh.face_start,
        "face_part": mesh.face_part,
        "names": np.frombuffer(json.dumps(stated).encode(), np.uint8),
    }
    optional = {"normals": mesh.normals, "face_source": mesh.face_source, "face_patch": mesh.face_patch}
    arrays |= {name: array for name, array in optional.items() if array is not None}
    arrays |= {f"uv_{k}": uv for k, uv in enumerate(mesh.uv_sets)}
    out = BytesIO()
    np.savez(out, **arrays)
    return out.getvalue()


def read_mesh(data: bytes | mmap.mmap) -> Mesh:
    """A mesh from the bytes that `mesh_data` made."""
    _check_arrays(data)
    with np.load(BytesIO(data), allow_pickle=False) as arrays:
        names = read_json(arrays["names"].tobytes(), most_bytes=len(data), own=True)
        optional = {k: arrays[k] if k in arrays else None for k in ("normals", "face_source", "face_patch")}
        return Mesh(
            points=arrays["points"],
            corners=arrays["corners"],
            face_start=arrays["face_start"],
            face_part=arrays["face_part"],
            part_names=tuple(names["parts"]),
            sources=tuple(_source(stated) for stated in names["sources"]),
            # A mesh kept by an earlier version has none of these.
            exact=tuple(_exact(stated) for stated in names.get("exact", ())),
            part_elements=tuple(names.get("elements", ())),
            part_storeys=tuple(names.get("storeys", ())),
            uv_sets=tuple(arrays[name] for name in _uv_names(arrays)),
            **optional,
        )


_ARRAYS = {
    "points": ("f", 2),
    "corners": ("i", 1),
    "face_start": ("i", 1),
    "face_part": ("i", 1),
    "names": ("u", 1),
    "normals": ("f", 2),
    "face_source": ("i", 1),
    "face_patch": ("i", 1),
    "uv": ("f", 2),
}
"""Kind of numbers and dimensions of each array of a mesh."""


def _check_arrays(data: bytes | mmap.mmap) -> None:
    """MeshError where the bytes are not the arrays of a mesh; nothing is unpacked for it."""
    with zipfile.ZipFile(BytesIO(data)) as archive:
        for entry in archive.infolist():
            name = entry.filename.removesuffix(".npy")
            if entry.compress_type != zipfile.ZIP_STORED or entry.file_size > len(data):
                raise MeshError(f"the model's array {name!r} is packed, which Pivrel's own never are")
            with archive.open(entry) as file:
                version = np.lib.format.read_magic(file)
                read = (
                    np.lib.format.read_array_header_1_0
                    if version == (1, 0)
                    else np.lib.format.read_array_header_2_0
                )
                shape, _, dtype = read(file)
            kind, dimensions = _ARRAYS.get(re.sub(r"_\d+$", "", name), ("", 0))
            if dtype.kind != kind or len(shape) != dimensions:
                raise MeshError(f"the model's array {name!r} is not of the kind that it has to be")


def _uv_names(arrays: Any) -> list[str]:
    return [name for k in range(len(arrays.files)) if (name := f"uv_{k}") in arrays]


def _source(stated: Any) -> SourceMaterial:
    if isinstance(stated, list):
        # A mesh kept by an earlier version knows name and color alone.
        return SourceMaterial(stated[0], tuple(stated[1]))
    textures = tuple((channel, SourceTexture(**_tuples(texture))) for channel, texture in stated["textures"])
    return SourceMaterial(**{**_tuples(stated), "textures": textures})


def _tuples(stated: dict[str, Any]) -> dict[str, Any]:
    return {k: tuple(v) if isinstance(v, list) else v for k, v in stated.items()}


def _exact(stated: dict[str, Any]) -> ExactSurface:
    return ExactSurface(**_tuples(stated))
