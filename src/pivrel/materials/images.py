"""Tiling images as they are kept: encoded bytes with their kind and content hash."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from functools import cached_property, lru_cache
from io import BytesIO

import numpy as np
import PIL.Image

SUFFIXES = {"image/png": ".png", "image/jpeg": ".jpg"}
MAX_PIXELS = 16384 * 16384


class ImageError(ValueError):
    """Bytes that are no image that can be used; the message says why in one sentence."""


@dataclass(frozen=True)
class Image:
    """An encoded PNG or JPEG."""

    data: bytes
    mime: str = "image/png"

    @cached_property
    def sha256(self) -> str:
        return hashlib.sha256(self.data).hexdigest()

    @property
    def suffix(self) -> str:
        return SUFFIXES[self.mime]


def checked_image(data: bytes, name: str) -> Image:
    """An image from a file's bytes, decoded once to be sure of it."""
    try:
        with PIL.Image.open(BytesIO(data)) as picture:
            if picture.width * picture.height > MAX_PIXELS:
                raise ImageError(f"the image {name!r} claims {picture.width} x {picture.height} pixels")
            kind = picture.format
            picture.load()
    except (OSError, SyntaxError, ValueError, PIL.Image.DecompressionBombError) as broken:
        if isinstance(broken, ImageError):
            raise
        raise ImageError(f"the image {name!r} cannot be read: it is broken or not an image") from None
    if kind not in ("PNG", "JPEG"):
        raise ImageError(f"the image {name!r} is {kind}; PNG and JPEG can be used")
    return Image(data, f"image/{kind.lower()}")


def encode(pixels: np.ndarray) -> Image:
    """(H, W) or (H, W, 3) values from 0 to 1, first row on top, as a PNG."""
    bytes_ = np.round(np.clip(pixels, 0, 1) * 255).astype(np.uint8)
    out = BytesIO()
    PIL.Image.fromarray(bytes_).save(out, "PNG", compress_level=6)
    return Image(out.getvalue())


def decode(image: Image) -> np.ndarray:
    """(H, W, 3) values from 0 to 1, as stored (no color transform)."""
    with PIL.Image.open(BytesIO(image.data)) as picture:
        return np.asarray(picture.convert("RGB"), np.float64) / 255


@lru_cache(maxsize=32)
def packed_roughness(image: Image) -> Image:
    """A roughness image in glTF's packing: roughness in green, blue full so that the factor rules."""
    with PIL.Image.open(BytesIO(image.data)) as picture:
        gray = picture.convert("L")
        full = PIL.Image.new("L", gray.size, 255)
        out = BytesIO()
        PIL.Image.merge("RGB", (full, gray, full)).save(out, "PNG", compress_level=4)
    return Image(out.getvalue())


@lru_cache(maxsize=64)
def thumbnail(image: Image, size: int) -> Image:
    """The image no larger than `size` pixels either way, as JPEG."""
    with PIL.Image.open(BytesIO(image.data)) as picture:
        small = picture.convert("RGB")
        small.thumbnail((size, size))
        out = BytesIO()
        small.save(out, "JPEG", quality=88)
    return Image(out.getvalue(), "image/jpeg")
