"""The images of a project's materials as the numbers that its finishes are evaluated with."""

from __future__ import annotations

from collections.abc import Iterable

from pivrel.core.evaluation.textures import Textures
from pivrel.formats.laid import upright_normal
from pivrel.materials.checker import checker_for
from pivrel.materials.images import for_view
from pivrel.materials.textures import textures_of
from pivrel.store import blobs
from pivrel.store.connection import Connection
from pivrel.store.documents import Contents

LOOKED_AT = 1024
"""Pixels of an image's longer side that figures are taken from."""


def textures_by_key(db: Connection, contents: Contents, keys: Iterable[str]) -> dict[str, Textures]:
    """The materials of these keys; a checker where one has no images."""
    out = {}
    for key in keys:
        body = contents.materials[key].body
        images = upright_normal(blobs.get_images(db, body.images), body.normal_y)
        images = images or {"base_color": checker_for(body.repeat_mm)}
        small = {channel: for_view(image, LOOKED_AT) for channel, image in images.items()}
        out[key] = textures_of(small, body.metallic)
    return out
