"""Baking by a plan: the images, and the model that shows them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from pivrel.core.arrays import Ints, distinct
from pivrel.core.bake.baking import Baking, Shown
from pivrel.core.bake.texels import texels_of
from pivrel.core.coats.tones import AS_IT_IS
from pivrel.core.evaluation.coated import Coated
from pivrel.core.evaluation.textures import Textures
from pivrel.formats.baking.canvas import Canvas
from pivrel.formats.baking.plan import Plan
from pivrel.formats.found_model import Tell, no_telling
from pivrel.formats.laid import LaidModel, Look
from pivrel.materials.channels import Channel
from pivrel.materials.images import Image
from pivrel.materials.textures import textures_of

MOST_SAMPLES = 4
"""A texel is looked at in so many places each way at most, where a material is finer still after it was averaged."""


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


def bake(plan: Plan, looks: Mapping[str, Look], tell: Tell = no_telling) -> Baked:
    """The images of a plan, and the model with them. looks: of each material, by the keys that finishes use."""
    shown = [_shown(plan, key, looks) for key in plan.baked]
    baking = Baking(plan.pages, plan.model.face_origin, _shown_of_face(plan), shown)
    highest = max(_highest(one) for one in shown)
    channels = set(plan.asked.channels) - (set() if highest else {"height"})
    images: list[dict[Channel, Image]] = []
    quiet: list[set[Channel]] = []
    metallic = []
    count = len(plan.pages.sizes)
    for number in range(count):
        doing = f"baking image {number + 1} of {count}"
        tell(doing, number / count)
        texels = texels_of(plan.pages, number)
        page = Canvas(texels, highest)
        total = max(int((texels.triangle >= 0).sum()), 1)
        for rows in baking.rows(texels):
            page.take(rows)
            tell(doing, (number + 0.9 * page.done / total) / count)
        images.append(dict(page.images(channels, plan.asked.height_bits)))
        quiet.append(page.quiet())
        metallic.append(page.metallic_mean)
    tell("writing the files", 1.0)
    # What says nothing on any image is left out of all.
    silent = set.intersection(*quiet)
    kept = tuple({c: image for c, image in one.items() if c not in silent} for one in images)
    model = _model(plan, kept, metallic)
    span = (0.0, highest) if "height" in channels else None
    told = [f"black of the height images is 0 mm, white {highest:g} mm"] if span else []
    return Baked(replace(model, notes=[*model.notes, *told]), kept, span)


def _highest(shown: Shown) -> float:
    """How high a finish can reach, mm: what its sheet and each coat that adds to it have from black to white; 0 without any
    height image."""
    out = 0.0
    for layer, adds in shown.coated.layers():
        height = max((shown.textures[key].reach_mm for key, _ in layer.materials), default=0.0)
        out = out + height if adds else max(out, height)
    return out


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


def _model(plan: Plan, images: tuple[Mapping[Channel, Image], ...], metallic: list[float]) -> LaidModel:
    """The laid model with a finish for each that was baked and each image that it lies on."""
    model, page = plan.model, plan.pages.face_page
    finishes, looks = list(model.finishes), list(model.looks)
    face_finish = model.face_finish.copy()
    for row in plan.rows:
        own = model.face_finish == row
        # Faces without area lie in no chart: they go along with the rest.
        first = page[own & (page >= 0)][:1]
        on = np.where(page < 0, first, page) if len(first) else np.maximum(page, 0)
        for number in distinct(on[own]).tolist():
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
