"""Bytes by their content hash, and meshes as such bytes."""

from __future__ import annotations

import hashlib
import json
import re
import zipfile
from collections.abc import Mapping
from dataclasses import asdict
from io import BytesIO
from typing import Any, TypeVar

import numpy as np

from pivrel.core.geometry.exact import ExactSurface
from pivrel.core.geometry.mesh import Mesh, MeshError, SourceMaterial, SourceTexture
from pivrel.materials.images import Image, mime_of
from pivrel.store.connection import Connection
from pivrel.store.documents import OriginalFile
from pivrel.store.errors import LostBytesError


def put(db: Connection, data: bytes) -> str:
    """Keeps the bytes and returns their SHA-256 in hexadecimal.

    Whoever puts them notes in the same transaction what refers to them (`uses`), or they are gone at its end.
    """
    sha256 = hashlib.sha256(data).hexdigest()
    db.execute("INSERT OR IGNORE INTO blob (sha256, data) VALUES (?, ?)", (sha256, data))
    return sha256


def put_original(db: Connection, name: str, data: bytes) -> OriginalFile:
    """Keeps a file as it came in; what a model's facts say of it."""
    return OriginalFile(name=name, sha256=put(db, data), bytes=len(data))


def find(db: Connection, sha256: str) -> bytes | None:
    """The bytes of a hash, or None where there are none. LostBytesError where they are not what was kept."""
    row = db.execute("SELECT data FROM blob WHERE sha256 = ?", (sha256,)).fetchone()
    if row is None:
        return None
    data = bytes(row["data"])
    if hashlib.sha256(data).hexdigest() != sha256:
        raise LostBytesError(
            f"bytes in the data folder ({sha256[:12]}) were changed after they were kept; run 'pivrel check' to "
            "see what they belong to, and go back to a backup"
        )
    return data


def get(db: Connection, sha256: str) -> bytes:
    """The bytes of a hash that something refers to. LostBytesError where they are missing or changed."""
    data = find(db, sha256)
    if data is None:
        raise LostBytesError(
            f"bytes that are in use ({sha256[:12]}) are missing from the data folder; run 'pivrel check' to see "
            "what they belong to, and go back to a backup"
        )
    return data


AnyChannel = TypeVar("AnyChannel", bound=str)


def put_images(db: Connection, images: Mapping[AnyChannel, Image]) -> dict[AnyChannel, str]:
    """Keeps a material's images; the hash of each by channel."""
    return {channel: put(db, image.data) for channel, image in images.items()}


def get_images(db: Connection, hashes: Mapping[Any, str]) -> dict[str, Image]:
    """A material's images by channel; LostBytesError where one is missing."""
    return {channel: get_image(db, sha256) for channel, sha256 in hashes.items()}


def get_image(db: Connection, sha256: str) -> Image:
    """The image of a hash. LostBytesError where it is missing, or no image."""
    image = as_image(get(db, sha256))
    if image is None:
        raise LostBytesError(
            f"bytes that are in use as an image ({sha256[:12]}) are none; run 'pivrel check'"
        )
    return image


def as_image(data: bytes) -> Image | None:
    """Bytes as an image, its kind read off them; None where they are none."""
    mime = mime_of(data)
    return Image(data, mime) if mime else None


def put_mesh(db: Connection, mesh: Mesh) -> str:
    """Keeps a mesh; its content hash."""
    return put(db, mesh_data(mesh))


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


def get_mesh(db: Connection, sha256: str) -> Mesh:
    """The mesh of this hash."""
    return read_mesh(get(db, sha256))


def read_mesh(data: bytes) -> Mesh:
    """A mesh from the bytes that `mesh_data` made."""
    _check_arrays(data)
    with np.load(BytesIO(data), allow_pickle=False) as arrays:
        names = json.loads(arrays["names"].tobytes())
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


def _check_arrays(data: bytes) -> None:
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
