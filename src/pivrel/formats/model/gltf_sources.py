"""The materials of a glTF: factors, textures, samplers and images as the file states them.

Kept are what core glTF 2.0 (sections 3.8 and 3.9) says of a material, and KHR_texture_transform.
"""

from __future__ import annotations

from typing import Any

from pivrel.core.geometry.mesh import SourceMaterial, SourceTexture, Wrap
from pivrel.formats.bundle import FormatError, from_uri
from pivrel.formats.model.gltf_data import Buffers, data_uri, item
from pivrel.formats.source_images import SourceImages

WRAPS: dict[int, Wrap] = {10497: "repeat", 33071: "clamp", 33648: "mirror"}
ALPHAS = {"OPAQUE": "opaque", "MASK": "mask", "BLEND": "blend"}
TRANSFORM, WEBP = "KHR_texture_transform", "EXT_texture_webp"


class GltfSources:
    """The source materials of one file, each read when a primitive first uses it."""

    def __init__(self, root: dict[str, Any], buffers: Buffers) -> None:
        self.root, self.buffers = root, buffers
        self.images = SourceImages()
        self._held: dict[int, SourceMaterial] = {}
        self._image_hashes: dict[int, str | None] = {}

    def look_at_all(self) -> None:
        """Reads every image of the file, so that one that is missing is told though nothing uses it."""
        for index in range(len(self.root.get("images") or [])):
            self._image(index)

    def material(self, index: int, where: str) -> SourceMaterial:
        """A material by its index."""
        stated = item(self.root.get("materials"), index, "material", where)
        if index not in self._held:
            self._held[index] = self._read(stated, index)
        return self._held[index]

    def _read(self, stated: dict[str, Any], index: int) -> SourceMaterial:
        pbr = stated.get("pbrMetallicRoughness") or {}
        r, g, b, a = _numbers(pbr.get("baseColorFactor"), (1.0, 1.0, 1.0, 1.0))
        red, green, blue = _numbers(stated.get("emissiveFactor"), (0.0, 0.0, 0.0))
        textures = {
            "base_color": self._texture(pbr.get("baseColorTexture")),
            "metallic_roughness": self._texture(pbr.get("metallicRoughnessTexture")),
            "normal": self._texture(stated.get("normalTexture"), "scale"),
            "occlusion": self._texture(stated.get("occlusionTexture"), "strength"),
            "emissive": self._texture(stated.get("emissiveTexture")),
        }
        alpha: Any = ALPHAS.get(str(stated.get("alphaMode", "OPAQUE")), "opaque")
        return SourceMaterial(
            name=str(stated.get("name") or f"material {index}"),
            rgba=(_share(r), _share(g), _share(b), _share(a)),
            metallic=_share(float(pbr.get("metallicFactor", 1.0))),
            roughness=_share(float(pbr.get("roughnessFactor", 1.0))),
            emissive=(red, green, blue),
            alpha=alpha,
            cutoff=float(stated.get("alphaCutoff", 0.5)),
            double_sided=bool(stated.get("doubleSided", False)),
            textures=tuple((channel, texture) for channel, texture in textures.items() if texture),
        )

    def _texture(self, info: Any, factor: str | None = None) -> SourceTexture | None:
        if info is None:
            return None
        texture = item(self.root.get("textures"), info.get("index"), "texture", "a material")
        extensions = texture.get("extensions") or {}
        source = texture.get("source", (extensions.get(WEBP) or {}).get("source"))
        image = None if source is None else self._image(source)
        if image is None:
            return None
        wrap: tuple[Wrap, Wrap] = ("repeat", "repeat")
        if "sampler" in texture:
            sampler = item(self.root.get("samplers"), texture["sampler"], "sampler", "a texture")
            wrap = (WRAPS.get(sampler.get("wrapS"), "repeat"), WRAPS.get(sampler.get("wrapT"), "repeat"))
        moved = (info.get("extensions") or {}).get(TRANSFORM) or {}
        x, y = _numbers(moved.get("offset"), (0.0, 0.0))
        width, height = _numbers(moved.get("scale"), (1.0, 1.0))
        turn = float(moved.get("rotation", 0.0))
        return SourceTexture(
            image=image,
            uv_set=int(moved.get("texCoord", info.get("texCoord", 0))),
            wrap=wrap,
            offset=(x, y),
            scale=(width, height),
            turn=turn,
            factor=float(info.get(factor, 1.0)) if factor else 1.0,
        )

    def _image(self, index: int) -> str | None:
        if index not in self._image_hashes:
            self._image_hashes[index] = self._read_image(index)
        return self._image_hashes[index]

    def _read_image(self, index: int) -> str | None:
        stated = item(self.root.get("images"), index, "image", "a texture")
        uri, name = stated.get("uri"), str(stated.get("name") or f"image {index}")
        if uri is None:
            data, offset, length, _ = self.buffers.view(stated.get("bufferView"))
            return self.images.take(data[offset : offset + length], name)
        if uri.startswith("data:"):
            try:
                return self.images.take(data_uri(uri, name), name)
            except FormatError as broken:
                self.images.found.append(f"{broken}; it is left out")
                return None
        found = self.buffers.bundle.read(from_uri(uri))
        if found is None:
            self.images.missing(uri[:200])
            return None
        return self.images.take(found, str(stated.get("name") or from_uri(uri)))


def _numbers(stated: Any, default: tuple[float, ...]) -> tuple[float, ...]:
    """As many finite numbers as the default has."""
    if stated is None:
        return default
    numbers = tuple(float(n) for n in stated)
    if len(numbers) != len(default) or not all(abs(n) < 1e9 for n in numbers):
        raise FormatError(f"a material has {stated!r} where it needs {len(default)} finite numbers")
    return numbers


def _share(value: float) -> float:
    return min(max(value, 0.0), 1.0)
