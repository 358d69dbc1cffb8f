"""Tiling images as they are kept: encoded bytes with their kind and content hash."""

from __future__ import annotations

import hashlib
from collections.abc import Hashable
from dataclasses import dataclass
from functools import cached_property
from io import BytesIO

import numpy as np
import PIL.Image
import PIL.ImageOps

from pivrel.core.cache import BoundedCache, remembered
from pivrel.materials import limited
from pivrel.materials.limited import ImageError as ImageError

SUFFIXES = {"image/png": ".png", "image/jpeg": ".jpg"}

MAX_PIXELS = 1 << 27
"""More pixels are not opened: 16,384 x 8,192 are just within. Unpacked they take 400 MB."""

WHOLE = 1 << 24
"""Images of up to 4096 x 4096 pixels are unpacked in this process, larger ones in one that is limited."""

VIEW_PIXELS = 2048
"""The longest side of an image in the view, and of one that is read for its grain."""

MADE = BoundedCache(192 << 20)
"""Images made from others: so many bytes of all kinds together."""

CONVERTED = ("TIFF", "WEBP", "BMP", "TGA")
"""Kinds that come in and are kept as PNG, without loss; PNG and JPEG are kept as they came."""

# Sizes are checked here, each with its own sentence.
PIL.Image.MAX_IMAGE_PIXELS = None

WIDE_MODES = ("I;16", "I;16B", "I;16L", "I")
"""Modes of 16 bits a pixel."""


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

    @cached_property
    def pixels(self) -> tuple[int, int]:
        """Width and height."""
        with PIL.Image.open(BytesIO(self.data)) as picture:
            return picture.size

    @cached_property
    def bits(self) -> int:
        """Bits a channel: 8 or 16."""
        # A PNG says so in the ninth byte of its header; Pillow reads some of 16 bits as if they had 8.
        if self.mime == "image/png":
            return 16 if self.data[24] == 16 else 8
        return 8


def mime_of(data: bytes) -> str | None:
    """The kind of an encoded image by its first bytes: PNG or JPEG, else None."""
    if data.startswith(b"\x89PNG\r\n\x1a\n"):
        return "image/png"
    return "image/jpeg" if data.startswith(b"\xff\xd8\xff") else None


def checked_image(data: bytes, name: str) -> Image:
    """An image from a file's bytes, decoded once to be sure of it. ImageError where it cannot be used."""
    try:
        with PIL.Image.open(BytesIO(data), formats=OPENED) as picture:
            kind, (width, height), plain = picture.format, picture.size, _is_plain(picture, data)
    except Exception:
        # Whatever broken bytes make the decoder say, it means the same to whoever sent them.
        raise ImageError(BROKEN.format(name=name)) from None
    if kind not in ("PNG", "JPEG", *CONVERTED):
        raise ImageError(f"the image {name!r} is {kind}; PNG, JPEG, TIFF, WebP, BMP and TGA can be used")
    if width * height > MAX_PIXELS:
        raise ImageError(
            f"the image {name!r} claims {width:,} x {height:,} pixels; up to {MAX_PIXELS / 1e6:.0f} million are "
            "opened, so make it smaller first"
        )
    if plain:
        try:
            converted = convert(data)
        except Exception:
            raise ImageError(BROKEN.format(name=name)) from None
    else:
        converted = limited.run("convert", data, name)
    return Image(converted) if converted else Image(data, f"image/{str(kind).lower()}")


BROKEN = "the image {name!r} cannot be read: it is broken or not an image"

OPENED = ("PNG", "JPEG", *CONVERTED, "GIF")
"""What is looked at: Pillow knows dozens of kinds more, and each is code that a file could lead into."""

MOST_UNPACKED = 4 * WHOLE
"""Pixels that are unpacked in this process, counted anew for each scan of a JPEG: a progressive one is refined scan by
scan (ITU-T T.81, annex G), and may have hundreds."""

START_OF_SCAN = b"\xff\xda"
"""The marker of a scan, which occurs in no scan itself (ITU-T T.81, B.1.1)."""


def _is_plain(picture: PIL.Image.Image, data: bytes) -> bool:
    """Whether an image is unpacked in this process: small, of eight bits, and unpacked once."""
    width, height = picture.size
    return (
        picture.format in ("PNG", "JPEG")
        and picture.mode in ("1", "L", "LA", "P", "RGB", "RGBA")
        and not getattr(picture, "is_animated", False)
        and not _is_heavy(str(picture.format), width * height, data)
    )


def _is_heavy(kind: str, pixels: int, data: bytes) -> bool:
    scans = data.count(START_OF_SCAN) if kind == "JPEG" else 1
    return pixels > WHOLE or pixels * scans > MOST_UNPACKED


def convert(data: bytes) -> bytes:
    """Unpacks an image whole; as a PNG where it is not kept as it came, else nothing.

    Those in four inks and in very many scans are not: files that hold images want three colors, and whoever opens them
    has to unpack each scan.
    """
    with PIL.Image.open(BytesIO(data)) as picture:
        kind = picture.format
        picture.load()
        turned = _is_turned(picture)
        many = picture.width * picture.height <= WHOLE and _is_heavy(
            str(kind), picture.width * picture.height, data
        )
        if kind not in CONVERTED and not turned and picture.mode != "CMYK" and not many:
            return b""
        return _as_png(PIL.ImageOps.exif_transpose(picture) if turned else picture).data


def _is_turned(picture: PIL.Image.Image) -> bool:
    """Whether a camera noted that the image is to be turned; notes that are broken say nothing."""
    try:
        return picture.getexif().get(0x0112, 1) in range(2, 9)
    except Exception:
        return False


def reduce(data: bytes) -> bytes:
    """An image no larger than the view takes, as a PNG of 8 bits."""
    with PIL.Image.open(BytesIO(data)) as picture:
        # JPEG is unpacked at a fraction of its size where that is enough.
        picture.draft("RGB", (VIEW_PIXELS, VIEW_PIXELS))
        return _no_larger(picture, VIEW_PIXELS)


def _no_larger(picture: PIL.Image.Image, size: int) -> bytes:
    """A picture no larger than `size` pixels either way, as a PNG of 8 bits."""
    small = _eight_bits(picture)
    small.thumbnail((size, size), PIL.Image.Resampling.BOX)
    out = BytesIO()
    small.save(out, "PNG", compress_level=3)
    return out.getvalue()


def is_large(image: Image) -> bool:
    """Whether an image is unpacked in a limited process only."""
    width, height = image.pixels
    return _is_heavy("JPEG" if image.mime == "image/jpeg" else "PNG", width * height, image.data)


def _bytes_of(made: Image | tuple[Image, ...], *_: object) -> int:
    return sum(len(image.data) for image in (made if isinstance(made, tuple) else (made,)))


def named(*args: Hashable) -> Hashable:
    """What stands for arguments among which are images: those by their hash."""
    return tuple(arg.sha256 if isinstance(arg, Image) else arg for arg in args)


@remembered(MADE, _bytes_of, named)
def reduced(image: Image) -> Image:
    """The image itself, or a large one no larger than the view takes."""
    return Image(limited.run("reduce", image.data, image.sha256[:12])) if is_large(image) else image


def check_kept(data: bytes, name: str) -> None:
    """ImageError where bytes that were kept as an image are none that can be shown."""
    if mime_of(data) is None:
        raise ImageError(f"the image {name!r} is not PNG or JPEG")
    checked_image(data, name)


def _as_png(picture: PIL.Image.Image) -> Image:
    """The picture as a PNG, of 16 bits where it has them."""
    if picture.mode in WIDE_MODES:
        picture = PIL.Image.fromarray(np.clip(np.asarray(picture), 0, 65535).astype(np.uint16))
    elif picture.mode not in ("L", "RGB"):
        picture = picture.convert("RGB")
    out = BytesIO()
    picture.save(out, "PNG", compress_level=4)
    return Image(out.getvalue())


def encode(pixels: np.ndarray) -> Image:
    """(H, W), (H, W, 3) or, with alpha, (H, W, 4) values from 0 to 1, first row on top, as a PNG."""
    bytes_ = np.round(np.clip(pixels, 0, 1) * 255).astype(np.uint8)
    out = BytesIO()
    PIL.Image.fromarray(bytes_).save(out, "PNG", compress_level=6)
    return Image(out.getvalue())


def _eight_bits(picture: PIL.Image.Image) -> PIL.Image.Image:
    """A picture of 8 bits a channel; wide ones are scaled, which Pillow's own conversion does not do."""
    if picture.mode in WIDE_MODES:
        return PIL.Image.fromarray(
            (np.asarray(picture).astype(np.float64) / 257).clip(0, 255).astype(np.uint8)
        )
    return picture if picture.mode in ("L", "RGB") else picture.convert("RGB")


def decode(image: Image) -> np.ndarray:
    """(H, W, 3) values from 0 to 1, as stored (no color transform). ImageError where it is too large for that."""
    if is_large(image):
        width, height = image.pixels
        raise ImageError(
            f"an image of {width:,} x {height:,} pixels is too large to be changed here; "
            f"make it smaller than {WHOLE / 1e6:.0f} million pixels first"
        )
    with PIL.Image.open(BytesIO(image.data)) as picture:
        if picture.mode in WIDE_MODES:
            grey = np.asarray(picture).astype(np.float64) / 65535
            return np.repeat(grey[..., None], 3, axis=2)
        return np.asarray(picture.convert("RGB"), np.float64) / 255


def _grey(image: Image) -> PIL.Image.Image:
    with PIL.Image.open(BytesIO(image.data)) as picture:
        return _eight_bits(picture).convert("L")


@remembered(MADE, _bytes_of, named)
def packed_surface(roughness: Image | None, metallic: Image | None, occlusion: Image | None = None) -> Image:
    """Occlusion, roughness and metal in glTF's packing: red, green and blue.

    One that is missing is full, so that its factor rules; at least one is there.
    """
    channels = (occlusion, roughness, metallic)
    given = [_grey(image) for image in channels if image is not None]
    size = max((picture.size for picture in given), key=lambda s: s[0] * s[1])
    full = PIL.Image.new("L", size, 255)
    merged = [_grey(i).resize(size) if i is not None else full for i in channels]
    out = BytesIO()
    PIL.Image.merge("RGB", merged).save(out, "PNG", compress_level=4)
    return Image(out.getvalue())


@remembered(MADE, _bytes_of, named)
def unpacked_surface(image: Image) -> tuple[Image, Image]:
    """Roughness and metal of an image in glTF's packing, each as an image of its own."""
    with PIL.Image.open(BytesIO(image.data)) as picture:
        _, green, blue = _eight_bits(picture).convert("RGB").split()
    out = []
    for channel in (green, blue):
        data = BytesIO()
        channel.save(data, "PNG", compress_level=4)
        out.append(Image(data.getvalue()))
    return out[0], out[1]


@remembered(MADE, _bytes_of, named)
def green_turned(image: Image) -> Image:
    """A normal map with its green the other way up: +Y from -Y, and back."""
    with PIL.Image.open(BytesIO(image.data)) as picture:
        red, green, blue = _eight_bits(picture).convert("RGB").split()
    out = BytesIO()
    PIL.Image.merge("RGB", (red, PIL.ImageOps.invert(green), blue)).save(out, "PNG", compress_level=4)
    return Image(out.getvalue())


@remembered(MADE, _bytes_of, named)
def thumbnail(image: Image, size: int) -> Image:
    """The image no larger than `size` pixels either way, as JPEG."""
    with PIL.Image.open(BytesIO(reduced(image).data)) as picture:
        small = _eight_bits(picture).convert("RGB")
        small.thumbnail((size, size))
        out = BytesIO()
        small.save(out, "JPEG", quality=88)
    return Image(out.getvalue(), "image/jpeg")


@remembered(MADE, _bytes_of, named)
def for_view(image: Image, size: int) -> Image:
    """The image itself where the view can take it whole, else one no larger than `size`, without loss."""
    if max(image.pixels) <= size and image.bits == 8:
        return image
    with PIL.Image.open(BytesIO(reduced(image).data)) as picture:
        return Image(_no_larger(picture, size))
