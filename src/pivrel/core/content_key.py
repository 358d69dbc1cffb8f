"""A short name for what a value consists of: equal for equal contents, and the same in every process."""

from __future__ import annotations

import hashlib
from dataclasses import fields, is_dataclass
from typing import Any


def content_key(*what: Any) -> str:
    """20 hexadecimal digits of the SHA-256 of numbers, text, bytes, tuples, mappings and frozen dataclasses."""
    digest = hashlib.sha256()
    _feed(digest, what)
    return digest.hexdigest()[:20]


def _feed(digest: Any, value: Any) -> None:
    # Each value begins with its kind and length, so that no two run together to the same bytes.
    if type(value) is str:
        # The most common kind, and the quickest.
        text = value.encode("utf-8", "surrogatepass")
        digest.update(b"s%d " % len(text))
        digest.update(text)
    elif isinstance(value, bytes):
        digest.update(b"b%d " % len(value))
        digest.update(value)
    elif isinstance(value, tuple | list):
        digest.update(b"(%d " % len(value))
        for inner in value:
            _feed(digest, inner)
    elif isinstance(value, dict):
        _feed(digest, sorted(value.items()))
    elif is_dataclass(value):
        digest.update(b"d%s " % type(value).__name__.encode())
        for field in fields(value):
            _feed(digest, getattr(value, field.name))
    else:
        text = repr(value).encode()
        digest.update(b"%d " % len(text))
        digest.update(text)
