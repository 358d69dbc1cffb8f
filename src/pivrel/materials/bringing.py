"""Bringing a material: images sorted to channels, checked against each other, and what was noticed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import PurePath
from typing import Literal

from pivrel.materials.channels import CHANNELS, Channel, sort_files
from pivrel.materials.images import VIEW_PIXELS, Image, ImageError, checked_image

START_MM = 1000.0
"""An image has no size; until one is typed its longer side stands for a metre."""

PICTURES = frozenset([".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp", ".bmp", ".tga"])

WORDS: dict[Channel, str] = {
    "base_color": "base color",
    "normal": "normal",
    "roughness": "roughness",
    "metallic": "metal",
    "height": "height",
    "occlusion": "occlusion",
}


@dataclass(frozen=True)
class Brought:
    """A material as its images tell: nothing of it is true to scale yet.

    files: the file of each channel. said: what was noticed, in sentences.
    """

    name: str
    images: dict[Channel, Image]
    files: dict[Channel, str]
    repeat_mm: tuple[float, float]
    normal_y: Literal["+", "-"]
    said: tuple[str, ...] = field(default=())


def proportions(image: Image, longer_mm: float = START_MM) -> tuple[float, float]:
    """The real size of an image whose longer side is given: its pixels are square."""
    width, height = image.pixels
    longer = max(width, height)
    return width / longer * longer_mm, height / longer * longer_mm


def bring(files: Mapping[str, bytes]) -> Brought:
    """A material from files by name. ImageError where one cannot be used, or none is given."""
    if not files:
        raise ImageError("no image was given")
    # Archives carry notes and licences along; what cannot be an image is no reason to refuse the rest.
    pictures = [name for name in files if PurePath(name).suffix.lower() in PICTURES] or list(files)
    sorted_ = sort_files(pictures)
    images = {c: checked_image(files[found.file], found.file) for c, found in sorted_.channels.items()}
    if "base_color" not in images:
        named = ", ".join(f"{found.file} ({WORDS[c]})" for c, found in sorted_.channels.items())
        raise ImageError(f"no image is the base color; given are {named}")
    said = noticed(images)
    left = [*sorted_.left, *(name for name in files if name not in pictures)]
    if left:
        said.append(f"not used, for its channel is not known or is there already: {', '.join(left)}")
    normal = sorted_.channels.get("normal")
    return Brought(
        sorted_.name,
        images,
        {c: found.file for c, found in sorted_.channels.items()},
        proportions(images["base_color"]),
        normal.normal_y if normal else "+",
        tuple(said),
    )


def noticed(images: Mapping[Channel, Image]) -> list[str]:
    """What a material's images say against each other: missing channels, other sizes, wide and large ones."""
    said = []
    missing = [WORDS[c] for c in ("normal", "roughness") if c not in images]
    if missing:
        said.append(f"without {' and '.join(missing)}: the surface is lit as if it were flat and even")
    base = images["base_color"].pixels
    for channel in CHANNELS:
        if channel not in images:
            continue
        size = images[channel].pixels
        # A hair of rounding in one of the sides is no other proportion.
        if abs(size[0] * base[1] - size[1] * base[0]) > 0.01 * size[0] * base[1]:
            said.append(
                f"{WORDS[channel]} is {size[0]} x {size[1]} pixels, base color {base[0]} x {base[1]}: "
                "the proportions differ, so one of them is stretched"
            )
        elif size != base:
            said.append(f"{WORDS[channel]} is {size[0]} x {size[1]} pixels, base color {base[0]} x {base[1]}")
    wide = [WORDS[c] for c in CHANNELS if c in images and images[c].bits == 16]
    if wide:
        said.append(f"16 bits a channel in {', '.join(wide)}: kept whole for hand-over, shown with 8")
    if max(max(image.pixels) for image in images.values()) > VIEW_PIXELS:
        said.append(f"larger than {VIEW_PIXELS} pixels: scaled for the view, kept whole for hand-over")
    return said


def calibrated(
    repeat_mm: tuple[float, float], a: tuple[float, float], b: tuple[float, float], mm: float,
    way: Literal["free", "along", "up"] = "free",
) -> tuple[float, float]:  # fmt: skip
    """The real size of a repeat on which two marks are a true distance apart; the proportions stay.

    a, b: the marks as shares of the image, from its lower left corner. way: the distance was measured
    between them, or only along or up.
    """
    across, rise = (b[0] - a[0]) * repeat_mm[0], (b[1] - a[1]) * repeat_mm[1]
    now = {"free": (across**2 + rise**2) ** 0.5, "along": abs(across), "up": abs(rise)}[way]
    if now < 1e-6 * max(repeat_mm):
        raise ImageError("the two marks lie on each other; set them apart")
    if not mm > 0:
        raise ImageError("the true distance must be above zero")
    return repeat_mm[0] * mm / now, repeat_mm[1] * mm / now
