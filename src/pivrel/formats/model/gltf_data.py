"""The binary side of glTF 2.0: buffers, and accessors as arrays, each claim checked before use."""

from __future__ import annotations

import base64
import binascii
import struct
from typing import Any

import numpy as np

from pivrel.formats.bundle import Bundle, FormatError, from_uri

COMPONENTS = {5120: np.int8, 5121: np.uint8, 5122: np.int16, 5123: np.uint16, 5125: np.uint32,
              5126: np.float32}  # fmt: skip
WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}

JSON_CHUNK, BIN_CHUNK = 0x4E4F534A, 0x004E4942


def split_glb(data: bytes) -> tuple[bytes, bytes | None]:
    """The JSON and the binary chunk of a GLB (glTF 2.0 specification, section 4.4)."""
    if len(data) < 20:
        raise FormatError(f"the file ends after {len(data)} bytes, within the GLB header")
    magic, version, length = struct.unpack_from("<4sII", data)
    if magic != b"glTF":
        raise FormatError("this is not a GLB file: its first four bytes are not 'glTF'")
    if version != 2:
        raise FormatError(f"this is glTF version {version}; only version 2 can be read")
    if length > len(data):
        raise FormatError(f"the header claims {length} bytes, but the file has {len(data)}: it is cut short")
    chunks: dict[int, bytes] = {}
    at = 12
    while at + 8 <= length:
        size, kind = struct.unpack_from("<II", data, at)
        if at + 8 + size > length:
            raise FormatError(
                f"the chunk at byte {at} claims {size} bytes, but only {length - at - 8} follow"
            )
        chunks.setdefault(kind, data[at + 8 : at + 8 + size])
        at += 8 + size
    if JSON_CHUNK not in chunks:
        raise FormatError("the GLB has no JSON chunk")
    return chunks[JSON_CHUNK], chunks.get(BIN_CHUNK)


def item(array: Any, index: Any, what: str, where: str) -> Any:
    """array[index] of the JSON, or FormatError where the index points nowhere."""
    if not isinstance(index, int) or isinstance(index, bool) or not 0 <= index < len(array or []):
        raise FormatError(f"{where} refers to {what} {index!r}, but there are {len(array or [])}")
    return array[index]


def data_uri(uri: str, what: str) -> bytes:
    """The bytes of a base64 data URI (RFC 2397)."""
    head, comma, body = uri.partition(",")
    if not comma or not head.endswith(";base64"):
        raise FormatError(f"{what} has a data URI that is not base64")
    try:
        return base64.b64decode(body, validate=True)
    except binascii.Error:
        raise FormatError(f"{what} has a data URI with broken base64") from None


class Buffers:
    """The buffers of one file, read when first asked for."""

    def __init__(self, root: dict[str, Any], binary: bytes | None, bundle: Bundle) -> None:
        self.root, self.binary, self.bundle = root, binary, bundle
        self._held: dict[int, bytes] = {}

    def buffer(self, index: int) -> bytes:
        if index not in self._held:
            self._held[index] = self._read(index)
        return self._held[index]

    def _read(self, index: int) -> bytes:
        stated = item(self.root.get("buffers"), index, "buffer", "a buffer view")
        uri, length = stated.get("uri"), stated.get("byteLength", 0)
        what = f"buffer {index}"
        if uri is None:
            data = self.binary
            if index != 0 or data is None:
                raise FormatError(f"{what} has no data: it names no file and the GLB has no binary chunk")
        elif uri.startswith("data:"):
            data = data_uri(uri, what)
        else:
            data = self.bundle.read(from_uri(uri))
            if data is None:
                raise FormatError(f"{what} is in the file {uri[:200]!r}, which is missing")
        if not isinstance(length, int) or length > len(data):
            raise FormatError(f"{what} claims {length} bytes, but only {len(data)} are there")
        return data

    def view(self, index: int) -> tuple[bytes, int, int, int]:
        """(buffer, offset, length, stride) of a buffer view; stride 0 where it is tight."""
        stated = item(self.root.get("bufferViews"), index, "buffer view", "an accessor or image")
        data = self.buffer(stated.get("buffer"))
        offset, length = stated.get("byteOffset", 0), stated.get("byteLength", 0)
        if not (isinstance(offset, int) and isinstance(length, int)) or offset < 0 or length < 0:
            raise FormatError(f"buffer view {index} has an offset or length that is not a count")
        if offset + length > len(data):
            raise FormatError(
                f"buffer view {index} claims bytes up to {offset + length}, but its buffer has {len(data)}"
            )
        return data, offset, length, stated.get("byteStride", 0)

    def accessor(self, index: int, where: str) -> np.ndarray:
        """(count, width) values of an accessor; normalized integers come as float32."""
        stated = item(self.root.get("accessors"), index, "accessor", where)
        what = f"accessor {index}"
        kind, width = COMPONENTS.get(stated.get("componentType")), WIDTHS.get(stated.get("type"))
        count = stated.get("count")
        if kind is None or width is None or not isinstance(count, int) or count < 0:
            raise FormatError(f"{what} has a type or count that glTF does not know")
        if "bufferView" in stated:
            values = self._strided(
                stated["bufferView"], stated.get("byteOffset", 0), kind, width, count, what
            )
        elif "sparse" in stated and count <= 100 * max(stated["sparse"].get("count", 0), 1 << 16):
            values = np.zeros((count, width), kind)
        else:
            raise FormatError(f"{what} claims {count} values, but holds no data for them")
        if "sparse" in stated:
            values = self._sparse(values.copy(), stated["sparse"], kind, width, what)
        if stated.get("normalized") and kind is not np.float32:
            # glTF 2.0 section 3.11: signed values are clamped at -1.
            values = np.maximum(values / np.float32(np.iinfo(values.dtype).max), -1.0).astype(np.float32)
        return values

    def _strided(self, view: int, offset: Any, kind: Any, width: int, count: int, what: str) -> np.ndarray:
        data, base, length, stride = self.view(view)
        size = np.dtype(kind).itemsize * width
        if not isinstance(offset, int) or offset < 0 or not isinstance(stride, int):
            raise FormatError(f"{what} has an offset or stride that is not a count")
        stride = stride or size
        if stride < size or (count and offset + (count - 1) * stride + size > length):
            raise FormatError(f"{what} claims {count} values, more than its buffer view holds")
        little = np.dtype(kind).newbyteorder("<")
        return np.ndarray((count, width), little, data, base + offset, (stride, np.dtype(kind).itemsize))

    def _sparse(
        self,
        values: np.ndarray,
        sparse: Any,
        kind: Any,
        width: int,
        what: str,
    ) -> np.ndarray:
        count, places, stated = sparse.get("count"), sparse.get("indices", {}), sparse.get("values", {})
        index_kind = COMPONENTS.get(places.get("componentType"))
        if index_kind is None or not isinstance(count, int):
            raise FormatError(f"{what} has a sparse part that glTF does not know")
        rows = self._strided(
            places.get("bufferView"), places.get("byteOffset", 0), index_kind, 1, count, what
        )
        if len(rows) and int(rows.max()) >= len(values):
            raise FormatError(f"{what} has a sparse value at {int(rows.max())}, beyond its {len(values)}")
        values[rows[:, 0].astype(np.int64)] = self._strided(
            stated.get("bufferView"), stated.get("byteOffset", 0), kind, width, count, what
        )
        return values
