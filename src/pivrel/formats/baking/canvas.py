"""An image of all channels as it fills, and as it is written."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from io import BytesIO
from typing import Any

import numpy as np
import PIL.Image

from pivrel.core.arrays import Floats
from pivrel.core.bake.baking import BakedRows
from pivrel.core.bake.texels import Texels
from pivrel.materials import srgb
from pivrel.materials.channels import Channel
from pivrel.materials.images import Image

LEVEL = np.array([128, 128, 255], np.uint8)
"""A normal that points straight out, as an image has it."""


class Canvas:
    """One image of a bake. highest_mm: what white of its heights stands for; black is 0."""

    def __init__(self, texels: Texels, highest_mm: float) -> None:
        self.texels, self.done, self.highest_mm = texels, 0, highest_mm
        count = texels.triangle.size
        self.color = np.zeros((count, 3), np.uint8)
        self.normal = np.tile(LEVEL, (count, 1))
        self.rest = np.zeros((count, 3), np.uint8)
        """Occlusion, roughness, metal."""
        self.height = np.zeros(count, np.uint16)

    def take(self, rows: BakedRows) -> None:
        """Some more of its texels."""
        at, shown = rows.flat, rows.channels
        self.color[at] = _bytes(srgb.coded(np.clip(shown.base_color, 0, 1)))
        self.normal[at] = _bytes(rows.tangent / 2 + 0.5)
        self.rest[at] = _bytes(np.stack([shown.occlusion, shown.roughness, shown.metallic], axis=1))
        if self.highest_mm:
            self.height[at] = np.round(np.clip(shown.height / self.highest_mm, 0, 1) * 65535)
        self.done += len(at)

    @property
    def metallic_mean(self) -> float:
        """Of all that it shows, 0 to 1."""
        own = self.texels.triangle.reshape(-1) >= 0
        return float(self.rest[own, 2].mean()) / 255 if own.any() else 0.0

    def quiet(self) -> set[Channel]:
        """The channels that are the same all over and as good as not there."""
        own = self.texels.triangle.reshape(-1) >= 0
        normal, rest = self.normal[own].astype(np.int16), self.rest[own]
        same: dict[Channel, bool] = {
            "normal": bool((np.abs(normal - LEVEL) <= 1).all()),
            "occlusion": bool((rest[:, 0] == 255).all()),
            "metallic": bool((rest[:, 2] == rest[:1, 2]).all()),
        }
        return {channel for channel, is_quiet in same.items() if is_quiet}

    def images(self, channels: Collection[Channel], height_bits: int) -> Iterator[tuple[Channel, Image]]:
        """The channels as images, all that is beside the charts filled with what is nearest."""
        shown = self.texels.triangle >= 0
        own = np.arange(shown.size, dtype=np.int32).reshape(shown.shape)
        source = np.where(shown, own, self.texels.source)
        columns: dict[Channel, Any] = {
            "base_color": self.color, "normal": self.normal, "occlusion": self.rest[:, 0],
            "roughness": self.rest[:, 1], "metallic": self.rest[:, 2],
        }  # fmt: skip
        if height_bits == 16:
            columns["height"] = self.height
        else:
            columns["height"] = np.round(self.height / 257).astype(np.uint8)
        for channel, values in columns.items():
            if channel in channels:
                yield channel, _png(values[source])


def _bytes(values: Floats) -> Floats:
    out: Floats = np.round(np.clip(values, 0, 1) * 255).astype(np.uint8)
    return out


def _png(pixels: Any) -> Image:
    out = BytesIO()
    PIL.Image.fromarray(pixels).save(out, "PNG", compress_level=2)
    return Image(out.getvalue())
