"""Bytes by their content hash. Long ones lie in pieces, which can be written before what refers to them."""

from __future__ import annotations

import hashlib
import mmap
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, TypeVar

from pivrel.core.geometry.mesh import Mesh
from pivrel.materials.images import Image, mime_of
from pivrel.store.connection import Connection
from pivrel.store.documents import OriginalFile
from pivrel.store.errors import LostBytesError
from pivrel.store.meshes import mesh_data, read_mesh

AnyChannel = TypeVar("AnyChannel", bound=str)

PIECE = 1 << 20
"""Bytes of a piece. One with its fsync takes some milliseconds, which is what an edit may have to wait."""


@dataclass(frozen=True)
class Blob:
    """Bytes with their SHA-256 in hexadecimal: of many bytes it is taken before a transaction keeps others waiting."""

    data: bytes | mmap.mmap
    sha256: str

    @classmethod
    def of(cls, data: bytes | mmap.mmap) -> Blob:
        """The bytes with their hash."""
        return cls(data, hashlib.sha256(data).hexdigest())

    @property
    def further(self) -> range:
        """The numbers of the pieces after the first, which is piece 0."""
        return range(1, -(-len(self.data) // PIECE))

    def piece(self, number: int) -> memoryview:
        """The bytes of a piece."""
        return memoryview(self.data)[number * PIECE : (number + 1) * PIECE]


def put(db: Connection, data: bytes | Blob) -> str:
    """Keeps the bytes and returns their SHA-256 in hexadecimal.

    Whoever puts them notes in the same transaction what refers to them (`uses`), or they are gone at its end.
    """
    blob = Blob.of(data) if isinstance(data, bytes) else data
    if db.execute("SELECT 1 FROM blob WHERE sha256 = ?", (blob.sha256,)).fetchone() is None:
        rows = db.execute("SELECT number FROM piece WHERE sha256 = ?", (blob.sha256,))
        there = {row["number"] for row in rows}
        # Also after they were written ahead: whoever deleted the same bytes meanwhile deleted these too.
        for number in blob.further:
            if number not in there:
                put_piece(db, blob, number)
        db.execute("INSERT INTO blob (sha256, data) VALUES (?, ?)", (blob.sha256, blob.piece(0)))
    return blob.sha256


def put_piece(db: Connection, blob: Blob, number: int) -> None:
    """Keeps one of the pieces after the first, unless the bytes are kept. Nothing sees it until they are `put`."""
    db.execute(
        "INSERT OR IGNORE INTO piece (sha256, number, data) "
        "SELECT ?1, ?2, ?3 WHERE NOT EXISTS (SELECT 1 FROM blob WHERE sha256 = ?1)",
        (blob.sha256, number, blob.piece(number)),
    )


_UNKEPT = (
    "SELECT rowid FROM piece WHERE sha256 = ?1 AND NOT EXISTS (SELECT 1 FROM blob WHERE sha256 = ?1) LIMIT 1"
)


def is_left(db: Connection, sha256: str) -> bool:
    """Whether there is a piece of bytes that are not kept (any more)."""
    return db.execute(_UNKEPT, (sha256,)).fetchone() is not None


def delete_piece(db: Connection, sha256: str) -> None:
    """Deletes such a piece."""
    db.execute(f"DELETE FROM piece WHERE rowid IN ({_UNKEPT})", (sha256,))


def unkept(db: Connection) -> list[str]:
    """The hashes of bytes of which there are pieces, and which are not kept."""
    rows = db.execute("SELECT DISTINCT sha256 FROM piece EXCEPT SELECT sha256 FROM blob")
    return [row["sha256"] for row in rows]


def hashed(images: Mapping[AnyChannel, Image]) -> dict[AnyChannel, Blob]:
    """The bytes of images with their hashes, to be written ahead of a transaction."""
    return {channel: Blob.of(image.data) for channel, image in images.items()}


def put_original(db: Connection, name: str, data: bytes | Blob) -> OriginalFile:
    """Keeps a file as it came in; what a model's facts say of it."""
    blob = Blob.of(data) if isinstance(data, bytes) else data
    return OriginalFile(name=name, sha256=put(db, blob), bytes=len(blob.data))


def find(db: Connection, sha256: str) -> bytes | None:
    """The bytes of a hash, or None where there are none. LostBytesError where they are not what was kept."""
    row = db.execute("SELECT data FROM blob WHERE sha256 = ?", (sha256,)).fetchone()
    if row is None:
        return None
    # Bytes that an earlier version kept are one piece, however long.
    rest = db.execute("SELECT data FROM piece WHERE sha256 = ? ORDER BY number", (sha256,))
    data = b"".join([row["data"], *(piece["data"] for piece in rest)])
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
    # Known already: what is made of it is kept by it.
    image.__dict__["sha256"] = sha256
    return image


def as_image(data: bytes) -> Image | None:
    """Bytes as an image, its kind read off them; None where they are none."""
    mime = mime_of(data)
    return Image(data, mime) if mime else None


def put_mesh(db: Connection, mesh: Mesh) -> str:
    """Keeps a mesh; its content hash."""
    return put(db, mesh_data(mesh))


def get_mesh(db: Connection, sha256: str) -> Mesh:
    """The mesh of this hash."""
    return read_mesh(get(db, sha256))
