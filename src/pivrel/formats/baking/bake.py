"""Baking by a plan: the images, and the model that shows them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from io import BytesIO
from typing import Any

import numpy as np
import PIL.Image

from pivrel.core.arrays import Floats, Ints
from pivrel.core.bake.baking import BakedRows, Baking, Shown
from pivrel.core.bake.texels import Texels, texels_of
from pivrel.core.coats.tones import AS_IT_IS
from pivrel.core.evaluation.coated import Coated
from pivrel.core.evaluation.textures import Textures
from pivrel.formats.baking.plan import Plan
from pivrel.formats.laid import LaidModel, Look
from pivrel.formats.model_format import Tell, no_telling
from pivrel.materials import srgb
from pivrel.materials.channels import Channel
from pivrel.materials.images import Image
from pivrel.materials.textures import textures_of

MOST_SAMPLES = 4
"""A texel is looked at in so many places each way at most, where a material is finer still after it was averaged."""

LEVEL = np.array([128, 128, 255], np.uint8)
"""A normal that points straight out, as an image has it."""


@dataclass(frozen=True)
class Baked:
    """A baked hand-over. height_mm: what black and white of the height images stand for; None without any."""

    model: LaidModel
    images: tuple[Mapping[Channel, Image], ...]
    height_mm: tuple[float, float] | None

    def beside(self, stem: str) -> dict[str, bytes]:
        """Files for what the model's own format has no place for, by name: the height images."""
        heights = [images["height"] for images in self.images if "height" in images]
        return {f"{stem}_height_{at}.png": image.data for at, image in enumerate(heights, 1)}


def bake(plan: Plan, textures: Mapping[str, Look], tell: Tell = no_telling) -> Baked:
    """The images of a plan, and the model with them. textures: how each material looks, by the keys that finishes use."""
    baking = Baking(
        plan.pages,
        plan.model.face_origin,
        _shown_of_face(plan),
        [_shown(plan, key, textures) for key in plan.baked],
    )
    pages = []
    count = len(plan.pages.sizes)
    for number in range(count):
        tell(f"baking image {number + 1} of {count}", number / count)
        texels = texels_of(plan.pages, number)
        page = _Page(texels)
        total = max(int((texels.triangle >= 0).sum()), 1)
        for rows in baking.rows(texels):
            page.take(rows)
            tell(f"baking image {number + 1} of {count}", (number + 0.9 * page.done / total) / count)
        pages.append(page)
    tell("writing the images", 1.0)
    heights = [page.height_range() for page in pages]
    span = (min(low for low, _ in heights), max(high for _, high in heights))
    flat = span[1] - span[0] < 1e-6
    asked = {channel for channel in plan.asked.channels if channel != "height" or not flat}
    images = tuple(dict(page.images(asked, span, plan.asked.height_bits)) for page in pages)
    images = _without_what_says_nothing(images, pages)
    model = _model(plan, images, [page.metallic_mean for page in pages])
    notes = [*model.notes, *(f"baked: {sentence}" for sentence in plan.said())]
    has_height = any("height" in one for one in images)
    if has_height:
        notes.append(f"baked: black of the height images is {span[0]:g} mm, white {span[1]:g} mm")
    return Baked(replace(model, notes=notes), images, span if has_height else None)


def _shown_of_face(plan: Plan) -> Ints:
    """(F,) which of the baked finishes lies on each face, -1 for none."""
    number = np.full(len(plan.model.finishes) + 1, -1, np.int32)
    number[list(plan.rows)] = np.arange(len(plan.rows))
    out: Ints = number[plan.model.face_finish]
    return out


def _shown(plan: Plan, key: str, looks: Mapping[str, Look]) -> Shown:
    """A finish with its images, averaged so far that none has more pixels than the bake."""
    coated = plan.schedule.coated(key)
    textures: dict[str, Textures] = {}
    left = 1.0
    for name, ratios in _finer(coated, looks, plan.asked.px_per_mm).items():
        least = min(ratios)
        look = looks[name]
        textures[name] = textures_of(look.images, look.metallic, max(round(least, 3), 1.0))
        left = max(left, max(ratios) / max(least, 1.0))
    return Shown(coated, textures, int(np.clip(np.ceil(left - 0.25), 1, MOST_SAMPLES)))


def _finer(coated: Coated, looks: Mapping[str, Look], px_per_mm: float) -> dict[str, list[float]]:
    """By material, how many of its pixels come to lie in a texel along and up, wherever a finish shows it."""
    out: dict[str, list[float]] = {}
    for layer in (coated.base, *coated.over.values()):
        for key, repeat in layer.materials:
            sizes = [image.pixels for image in looks[key].images.values()]
            for side in (0, 1):
                across = max((size[side] for size in sizes), default=1)
                ratio = across / (repeat[side] * abs(layer.scale[side]) * px_per_mm)
                out.setdefault(key, []).append(ratio)
    return out


class _Page:
    """An image of all channels as it fills."""

    def __init__(self, texels: Texels) -> None:
        height, width = texels.triangle.shape
        self.texels, self.shape, self.done = texels, (height, width), 0
        count = height * width
        self.color = np.zeros((count, 3), np.uint8)
        self.normal = np.tile(LEVEL, (count, 1))
        self.rest = np.zeros((count, 3), np.uint8)
        """Occlusion, roughness, metal."""
        self.height = np.zeros(count, np.float32)

    def take(self, rows: BakedRows) -> None:
        """Some more of its texels."""
        at, shown = rows.flat, rows.channels
        self.color[at] = _bytes(srgb.coded(np.clip(shown.base_color, 0, 1)))
        self.normal[at] = _bytes(rows.tangent / 2 + 0.5)
        self.rest[at] = _bytes(np.stack([shown.occlusion, shown.roughness, shown.metallic], axis=1))
        self.height[at] = shown.height
        self.done += len(at)

    @property
    def own(self) -> Ints:
        """The flat indices of its texels that show something."""
        out: Ints = np.flatnonzero(self.texels.triangle >= 0)
        return out

    @property
    def metallic_mean(self) -> float:
        own = self.own
        return float(self.rest[own, 2].mean()) / 255 if len(own) else 0.0

    def height_range(self) -> tuple[float, float]:
        """The least and the greatest height, mm."""
        own = self.own
        return (float(self.height[own].min()), float(self.height[own].max())) if len(own) else (0.0, 0.0)

    def says_nothing(self, channel: Channel) -> bool:
        """Whether a channel is the same all over and as good as not there."""
        own = self.own
        if channel == "normal":
            return bool((np.abs(self.normal[own].astype(np.int16) - LEVEL) <= 1).all())
        if channel == "occlusion":
            return bool((self.rest[own, 0] == 255).all())
        if channel == "metallic":
            return bool((self.rest[own, 2] == self.rest[own[:1], 2]).all())
        return False

    def images(
        self, channels: set[Channel], span: tuple[float, float], bits: int
    ) -> Iterator[tuple[Channel, Image]]:
        """The channels as images, all that is beside the charts filled with what is nearest."""
        source = np.where(self.texels.triangle >= 0, np.arange(len(self.color)).reshape(self.shape), 0)
        source = np.where(self.texels.triangle >= 0, source, self.texels.source)
        columns: dict[Channel, Any] = {
            "base_color": self.color, "normal": self.normal, "occlusion": self.rest[:, 0],
            "roughness": self.rest[:, 1], "metallic": self.rest[:, 2],
        }  # fmt: skip
        for channel, values in columns.items():
            if channel in channels:
                yield channel, _png(values[source])
        if "height" in channels:
            most = 65535 if bits == 16 else 255
            share = (self.height[source] - span[0]) / max(span[1] - span[0], 1e-9)
            kind = np.uint16 if bits == 16 else np.uint8
            yield "height", _png(np.round(np.clip(share, 0, 1) * most).astype(kind))


def _bytes(values: Floats) -> Floats:
    out: Floats = np.round(np.clip(values, 0, 1) * 255).astype(np.uint8)
    return out


def _png(pixels: Any) -> Image:
    out = BytesIO()
    PIL.Image.fromarray(pixels).save(out, "PNG", compress_level=2)
    return Image(out.getvalue())


def _without_what_says_nothing(
    images: tuple[dict[Channel, Image], ...], pages: list[_Page]
) -> tuple[dict[Channel, Image], ...]:
    quiet: tuple[Channel, ...] = ("normal", "occlusion", "metallic")
    drop = {channel for channel in quiet if all(page.says_nothing(channel) for page in pages)}
    return tuple({channel: image for channel, image in one.items() if channel not in drop} for one in images)


def _model(plan: Plan, images: tuple[Mapping[Channel, Image], ...], metallic: list[float]) -> LaidModel:
    """The laid model with a finish for each that was baked and each image that it lies on."""
    model, page = plan.model, plan.pages.face_page
    finishes, looks = list(model.finishes), list(model.looks)
    face_finish = model.face_finish.copy()
    for row in plan.rows:
        own = model.face_finish == row
        # Faces without area lie in no chart: they go along with the rest.
        first = int(page[own & (page >= 0)].min(initial=0))
        on = np.where(page < 0, first, page)
        for number in np.unique(on[own]).tolist():
            face_finish[own & (on == number)] = len(finishes)
            finishes.append(replace(model.finishes[row], tone=AS_IT_IS, tile=True))
            looks.append(Look({str(k): v for k, v in images[number].items()}, metallic[number], True))
    return replace(
        model,
        finishes=finishes,
        looks=looks,
        face_finish=face_finish,
        baked_uv=plan.pages.uv,
    )
