"""A material that the model brought, taken as a material of the project."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from pivrel.core.geometry.mesh import SourceMaterial, SourceTexture
from pivrel.core.geometry.surface import Surface
from pivrel.core.measure.uv_scale import UvScale, uv_scale
from pivrel.core.picks import as_faces
from pivrel.errors import InputError
from pivrel.materials import srgb
from pivrel.materials.channels import Channel
from pivrel.materials.images import Image, decode, encode, unpacked_surface
from pivrel.project.appearance import color_swatch
from pivrel.store.documents import Contents, Document, MaterialBody

PLAIN_MM = 1000.0
"""The size given to a material whose images lie by no coordinates."""

USUAL_ROUGHNESS = 0.8


@dataclass(frozen=True)
class Taken:
    """The contents with the material in them, its key, its images to be kept by channel, and what is said."""

    contents: Contents
    key: str
    images: dict[Channel, Image]
    label: str
    said: str


def estimated_size(surface: Surface, number: int) -> UvScale | None:
    """How large the image of a source material lies on the model; None where its UVs do not tell."""
    mesh = surface.mesh
    texture = _measured_by(mesh.sources[number])
    if texture is None or mesh.face_source is None or texture.uv_set >= len(mesh.uv_sets):
        return None
    repeats = (abs(texture.scale[0]) or 1.0, abs(texture.scale[1]) or 1.0)
    return uv_scale(surface, as_faces(mesh.face_source == number), mesh.uv_sets[texture.uv_set], repeats)


def _measured_by(source: SourceMaterial) -> SourceTexture | None:
    """The texture whose coordinates tell the size: the base color's, else the first."""
    base = source.texture("base_color")
    return base or next((texture for _, texture in source.textures), None)


def taken(contents: Contents, surface: Surface, number: int, images: Mapping[str, Image]) -> Taken:
    """Takes a source material by its number; images: those of the model by hash. InputError where it has none."""
    sources = surface.mesh.sources
    if not 0 <= number < len(sources):
        raise InputError(f"the model has no material {number + 1}; it brought {len(sources)}")
    source = sources[number]
    name = source.name or f"Material {number + 1}"
    channels = _channels(source, images)
    size = estimated_size(surface, number)
    out = contents.copied()
    key = _free_key(out, name)
    # A real size has a hundredth of a millimetre; an estimate has no more.
    width, height = (round(size.width_mm, 2), round(size.height_mm, 2)) if size else (PLAIN_MM, PLAIN_MM)
    body = MaterialBody(
        name=name,
        repeat_mm=(max(width, 0.01), max(height, 0.01)),
        grain_deg=None,
        metallic=0.0 if "metallic" in channels else (source.metallic or 0.0),
        images={channel: image.sha256 for channel, image in channels.items()},
        estimated=True,
    )
    out.materials[key] = Document(key, len(out.materials), body)
    return Taken(out, key, channels, f"take {name} as a material", _said(name, source, size))


def _said(name: str, source: SourceMaterial, size: UvScale | None) -> str:
    if size is None:
        why = "no image" if not source.textures else "no coordinates that tell its size"
        return f"{name} is taken as a material. It has {why}, so its repeat of 1 m is a guess: type what you know"
    return (
        f"{name} is taken as a material. Its repeat of {size.width_mm:.4g} × {size.height_mm:.4g} mm is an estimate "
        f"from the model's coordinates, true of {size.true_share:.0%} of its faces: correct it if you know better"
    )


def _free_key(contents: Contents, name: str) -> str:
    stem = "from-model-" + (re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:50] or "material")
    key, count = stem, 2
    while key in contents.materials:
        key, count = f"{stem}-{count}", count + 1
    return key


def _channels(source: SourceMaterial, images: Mapping[str, Image]) -> dict[Channel, Image]:
    """The channels of a project's material, with the factors worked into the images where they change them."""

    def image(channel: str) -> Image | None:
        texture = source.texture(channel)
        return images.get(texture.image) if texture else None

    out: dict[Channel, Image] = {}
    base = image("base_color")
    if base is None:
        out["base_color"] = encode(color_swatch(source))
    else:
        tinted = min(source.rgba[:3]) < 1.0
        out["base_color"] = encode(_tinted(decode(base), source.rgba[:3])) if tinted else base
    plain: tuple[Channel, ...] = ("normal", "occlusion", "height")
    for channel in plain:
        held = image(channel)
        if held is not None:
            out[channel] = held
    rough, metal = image("roughness"), image("metallic")
    packed = image("metallic_roughness")
    if packed is not None:
        rough, metal = unpacked_surface(packed)
    factored: tuple[tuple[Channel, Image | None, float | None], ...] = (
        ("roughness", rough, source.roughness),
        ("metallic", metal, source.metallic),
    )
    for channel, held, factor in factored:
        if held is None or factor == 0.0:
            continue
        out[channel] = held if factor in (None, 1.0) else encode(decode(held)[..., 0] * factor)
    if "roughness" not in out and source.roughness not in (None, USUAL_ROUGHNESS):
        out["roughness"] = encode(np.full((4, 4), source.roughness))
    return out


def _tinted(pixels: np.ndarray, rgb: tuple[float, ...]) -> np.ndarray:
    """A base color (H, W, 3) multiplied, on linear values, by a factor; sRGB in and out."""
    return srgb.coded(srgb.decoded(pixels) * np.array(rgb))
