"""Arrays for the browser: a JSON header and the arrays behind it, little-endian, in one body."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping

import numpy as np
from flask import Response
from pydantic import BaseModel

BYTES = "application/octet-stream"


STEP = 1 << 20
"""Bytes that are sent at a time of what is too large to be put together first."""


def packet(header: BaseModel | None = None, **arrays: np.ndarray) -> Response:
    """A packet as an answer; a large one is sent from where its arrays lie, and others get their turn between two steps."""
    pieces = _pieces(header, arrays)
    size = sum(map(len, pieces))
    if size <= STEP:
        return Response(b"".join(pieces), mimetype=BYTES)

    def steps() -> Iterator[bytes]:
        for piece in pieces:
            for at in range(0, len(piece), STEP):
                yield bytes(piece[at : at + STEP])

    response = Response(steps(), mimetype=BYTES)
    response.content_length = size
    return response


def packet_bytes(header: BaseModel | None = None, **arrays: np.ndarray) -> bytes:
    """Length of the header (uint32), header, arrays; each begins at a multiple of four bytes.

    The header gains "arrays": {name: {"at": byte behind the header, "length": count, "type": dtype}}.
    """
    return b"".join(_pieces(header, arrays))


def _pieces(header: BaseModel | None, arrays: Mapping[str, np.ndarray]) -> list[bytes | memoryview]:
    places: dict[str, dict[str, int | str]] = {}
    at = 0
    pieces: list[bytes | memoryview] = []
    for name, array in arrays.items():
        gap = -array.nbytes % 4
        places[name] = {"at": at, "length": array.size, "type": array.dtype.name}
        # Joined from where they lie: a model's arrays are copied once, not at every step.
        pieces += [np.ascontiguousarray(array).reshape(-1).view(np.uint8).data, bytes(gap)]
        at += array.nbytes + gap
    text = json.dumps(
        {**(header.model_dump(mode="json", by_alias=True) if header else {}), "arrays": places}
    ).encode()
    text += b" " * (-len(text) % 4)
    return [len(text).to_bytes(4, "little"), text, *pieces]
