"""Bytes by their content hash, and meshes as such bytes."""

from __future__ import annotations

import hashlib
import json
import sqlite3
from dataclasses import asdict
from io import BytesIO
from typing import Any

import numpy as np

from pivrel.core.geometry.exact import ExactSurface
from pivrel.core.geometry.mesh import Mesh, SourceMaterial, SourceTexture
from pivrel.materials.images import Image, mime_of

MESH_MIME = "application/x-npz"
ORIGINAL_MIME = "application/octet-stream"


def put(db: sqlite3.Connection, data: bytes, mime: str) -> str:
    """Keeps the bytes and returns their SHA-256 in hexadecimal."""
    sha256 = hashlib.sha256(data).hexdigest()
    db.execute("INSERT OR IGNORE INTO blob (sha256, mime, data) VALUES (?, ?, ?)", (sha256, mime, data))
    return sha256


def put_original(db: sqlite3.Connection, name: str, data: bytes) -> dict[str, Any]:
    """Keeps a file as it came in; what a model's facts say of it."""
    return {"name": name, "sha256": put(db, data, ORIGINAL_MIME), "bytes": len(data)}


def get(db: sqlite3.Connection, sha256: str) -> tuple[bytes, str] | None:
    """(bytes, MIME type), or None where there are none of this hash."""
    row = db.execute("SELECT data, mime FROM blob WHERE sha256 = ?", (sha256,)).fetchone()
    return (row["data"], row["mime"]) if row else None


def put_images(db: sqlite3.Connection, images: dict[str, Image]) -> dict[str, str]:
    """Keeps a material's images; the hash of each by channel."""
    return {channel: put(db, image.data, image.mime) for channel, image in images.items()}


def get_images(db: sqlite3.Connection, hashes: dict[str, str]) -> dict[str, Image]:
    """A material's images by channel."""
    found = {channel: get_image(db, sha256) for channel, sha256 in hashes.items()}
    return {channel: image for channel, image in found.items() if image}


def get_image(db: sqlite3.Connection, sha256: str) -> Image | None:
    """The image of a hash, its kind read off the bytes: they may have come in as a file beside a model."""
    found = get(db, sha256)
    mime = mime_of(found[0]) if found else None
    return Image(found[0], mime) if found and mime else None


def put_mesh(db: sqlite3.Connection, mesh: Mesh) -> str:
    """Keeps a mesh; its content hash."""
    return put(db, mesh_data(mesh), MESH_MIME)


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


def get_mesh(db: sqlite3.Connection, sha256: str) -> Mesh:
    """The mesh of this hash."""
    found = get(db, sha256)
    if found is None:
        raise KeyError(sha256)
    return read_mesh(found[0])


def read_mesh(data: bytes) -> Mesh:
    """A mesh from the bytes that `mesh_data` made."""
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
