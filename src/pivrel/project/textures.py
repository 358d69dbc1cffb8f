"""The images of a project's materials as the numbers that its finishes are evaluated with."""

from __future__ import annotations

from collections.abc import Iterable

from pivrel.core.evaluation.textures import Textures
from pivrel.materials.images import for_view
from pivrel.materials.textures import textures_of
from pivrel.project.appearance import look_of
from pivrel.store.connection import Connection
from pivrel.store.documents import Contents

LOOKED_AT = 1024
"""Pixels of an image's longer side that figures are taken from."""


def textures_by_key(db: Connection, contents: Contents, keys: Iterable[str]) -> dict[str, Textures]:
    """The materials of these keys; a checker where one has no images."""
    out = {}
    for key in keys:
        look = look_of(db, contents.materials[key].body)
        small = {channel: for_view(image, LOOKED_AT) for channel, image in look.images.items()}
        out[key] = textures_of(small, look.metallic)
    return out
