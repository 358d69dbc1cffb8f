"""Images as the numbers that a finish is evaluated with."""

from __future__ import annotations

from collections.abc import Mapping
from io import BytesIO

import numpy as np
import PIL.Image

from pivrel.core.arrays import Floats
from pivrel.core.cache import BoundedCache, remembered
from pivrel.core.evaluation.textures import Textures
from pivrel.materials import srgb
from pivrel.materials.images import Image, decode, named, reduced

ENOUGH = 1.25
"""Images less than this much finer than what is baked of them stay as they are."""

VALUES = BoundedCache(192 << 20)
"""Unpacked images, so many bytes of them: one of 2,048 by 2,048 pixels takes 50 MB."""


def textures_of(images: Mapping[str, Image], metallic: float, finer: float = 1.0) -> Textures:
    """A material's images, linear; finer: so many of their pixels come to lie in one that is baked, each way, which are
    averaged first."""

    def of(channel: str, bands: int) -> Floats | None:
        image = images.get(channel)
        return None if image is None else _values(image, channel == "base_color", finer)[..., :bands]

    base = images.get("base_color")
    return Textures(
        base_color=of("base_color", 3), alpha=None if base is None else _alpha(base, finer), normal=of("normal", 3),
        roughness=of("roughness", 1), metallic=of("metallic", 1), height=of("height", 1),
        occlusion=of("occlusion", 1), metal=metallic,
    )  # fmt: skip


def _bytes_of(values: Floats | None, *_: object) -> int:
    return 100 if values is None else values.nbytes


@remembered(VALUES, _bytes_of, named)
def _values(image: Image, color: bool, finer: float) -> Floats:
    values = decode(reduced(image))
    return _averaged(srgb.decoded(values) if color else values, finer)


@remembered(VALUES, _bytes_of, named)
def _alpha(image: Image, finer: float) -> Floats | None:
    """(H, W, 1) an image's alpha, None where it has none."""
    with PIL.Image.open(BytesIO(reduced(image).data)) as picture:
        if "A" not in picture.getbands():
            return None
        values = np.asarray(picture.getchannel("A"), np.float32)[..., None] / 255
    return _averaged(values, finer)


def _averaged(values: Floats, finer: float) -> Floats:
    """(H, W, C) with fewer pixels, each the mean of the area that it takes."""
    values = np.asarray(values, np.float32)
    if finer < ENOUGH:
        return np.ascontiguousarray(values)
    height, width = values.shape[:2]
    size = (max(round(width / finer), 1), max(round(height / finer), 1))
    bands = [
        np.asarray(
            PIL.Image.fromarray(np.ascontiguousarray(values[..., k])).resize(size, PIL.Image.Resampling.BOX)
        )
        for k in range(values.shape[2])
    ]
    return np.stack(bands, axis=2)
