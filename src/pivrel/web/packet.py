"""Arrays for the browser: a JSON header and the arrays behind it, little-endian, in one body."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
from flask import Response


def packet(header: dict[str, Any], **arrays: np.ndarray) -> Response:
    """Length of the header (uint32), header, arrays; each begins at a multiple of four bytes.

    The header gains "arrays": {name: {"at": byte behind the header, "length": count, "type": dtype}}.
    """
    places: dict[str, Any] = {}
    at, pieces = 0, []
    for name, array in arrays.items():
        data = np.ascontiguousarray(array)
        places[name] = {"at": at, "length": data.size, "type": data.dtype.name}
        pieces.append(data.tobytes() + bytes(-data.nbytes % 4))
        at += len(pieces[-1])
    text = json.dumps({**header, "arrays": places}).encode()
    text += b" " * (-len(text) % 4)
    body = b"".join([len(text).to_bytes(4, "little"), text, *pieces])
    return Response(body, mimetype="application/octet-stream")
