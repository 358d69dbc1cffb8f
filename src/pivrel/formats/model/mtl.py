"""Materials of a Wavefront OBJ, in and out (format as published in Wavefront's Advanced Visualizer manual,
appendix B2; Pr, Pm, norm and their maps as of the physically based extension in common use)."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from pivrel.core.geometry.mesh import SourceMaterial, SourceTexture, Wrap
from pivrel.formats.bundle import Bundle, FormatError
from pivrel.formats.source_images import SourceImages

CHANNELS = {
    "map_kd": "base_color", "norm": "normal", "map_bump": "normal", "bump": "normal", "map_pr": "roughness",
    "map_pm": "metallic", "map_ka": "occlusion", "map_ke": "emissive", "map_d": "alpha", "disp": "height",
    "map_ks": "specular", "map_ns": "shininess", "decal": "decal", "refl": "reflection",
}  # fmt: skip
"""The channel that each kind of image is; the last four have no meaning here and are handed on."""

KEYS = {
    "base_color": "map_Kd", "normal": "norm", "roughness": "map_Pr", "metallic": "map_Pm",
    "height": "disp", "occlusion": "map_Ka", "emissive": "map_Ke", "alpha": "map_d", "specular": "map_Ks",
    "shininess": "map_Ns", "decal": "decal", "reflection": "refl",
}  # fmt: skip

MAX_WORDS = 40
"""Among so many words a name is looked for."""

OPTIONS = {"-blendu": 1, "-blendv": 1, "-cc": 1, "-clamp": 1, "-bm": 1, "-imfchan": 1, "-texres": 1, "-type": 1,
           "-boost": 1, "-mm": 2, "-o": 3, "-s": 3, "-t": 3}  # fmt: skip
"""How many words at most belong to each option of an image; of the last three fewer may follow."""


@dataclass
class MtlReader:
    """The materials of the libraries that one OBJ names. found: what is told of them."""

    bundle: Bundle
    images: SourceImages = field(default_factory=SourceImages)
    materials: dict[str, SourceMaterial] = field(default_factory=dict)
    _stated_lines: dict[str, list[str]] = field(default_factory=dict)

    def read(self, data: bytes, name: str) -> None:
        """Takes in a library. FormatError for a number that is none, or an image outside the folder."""
        current = ""
        for number, line in enumerate(data.decode("utf-8", "replace").splitlines(), 1):
            key, _, rest = line.strip().partition(" ")
            rest = rest.strip()
            if key.lower() == "newmtl":
                current = rest
                self.materials[current] = SourceMaterial(current)
                self._stated_lines[current] = []
            elif current and key and not key.startswith("#"):
                where = f"{name} line {number}"
                self.materials[current] = self._stated(self.materials[current], key, rest, where)
        for name_of, lines in self._stated_lines.items():
            self.materials[name_of] = replace(self.materials[name_of], stated=tuple(lines))

    def _stated(self, material: SourceMaterial, key: str, rest: str, where: str) -> SourceMaterial:
        """The material with one more line of it."""
        low = key.lower()
        if low in CHANNELS and rest:
            texture = self._texture(rest, where)
            if texture is None:
                return material
            others = tuple((c, t) for c, t in material.textures if c != CHANNELS[low])
            return replace(material, textures=(*others, (CHANNELS[low], texture)))
        if low not in ("kd", "d", "tr", "pr", "pm", "ke"):
            self._stated_lines[material.name].append(f"{key} {rest}".strip())
            return material
        if rest.startswith(("spectral", "xyz", "-halo")):
            self._stated_lines[material.name].append(f"{key} {rest}")
            return material
        values = _numbers(rest, where)
        r, g, b, a = material.rgba
        if low == "kd" and len(values) >= 3:
            return replace(material, rgba=(values[0], values[1], values[2], a))
        if low == "ke" and len(values) >= 3:
            return replace(material, emissive=(values[0], values[1], values[2]))
        share = min(max(values[-1], 0.0), 1.0)
        if low in ("d", "tr"):
            a = share if low == "d" else 1.0 - share
            return replace(material, rgba=(r, g, b, a), alpha="blend" if a < 1 else material.alpha)
        return replace(material, roughness=share) if low == "pr" else replace(material, metallic=share)

    def _texture(self, rest: str, where: str) -> SourceTexture | None:
        offset, scale, wrap, words = _options(rest.split())
        # The name may have spaces, and words before it that nobody knows.
        tries = [rest, " ".join(words), *(" ".join(words[k:]) for k in range(1, min(len(words), MAX_WORDS)))]
        try:
            for name in dict.fromkeys(t for t in tries if t):
                data = self.bundle.read(name)
                if data is not None:
                    image = self.images.take(data, name)
                    # A source texture's offset counts from the top, as in glTF.
                    down = (offset[0], 1.0 - scale[1] - offset[1])
                    return SourceTexture(image, wrap=wrap, offset=down, scale=scale) if image else None
        except FormatError as unsafe:
            raise FormatError(f"{where}: {unsafe}") from None
        if not words:
            self.images.found.append(f"{where} names no image; the line is left out")
            return None
        self.images.missing(" ".join(words))
        return None


Pair = tuple[float, float]


def _options(words: list[str]) -> tuple[Pair, Pair, tuple[Wrap, Wrap], list[str]]:
    """Offset, scale and wrap of an image line, and the words of its name."""
    offset, scale, wrap = (0.0, 0.0), (1.0, 1.0), ("repeat", "repeat")
    at = 0
    while at < len(words) and words[at].lower() in OPTIONS:
        option, at = words[at].lower(), at + 1
        given: list[str] = []
        while (
            at < len(words) - 1
            and len(given) < OPTIONS[option]
            and (OPTIONS[option] < 3 or _is_number(words[at]))
        ):
            given.append(words[at])
            at += 1
        if option == "-clamp" and given == ["on"]:
            wrap = ("clamp", "clamp")
        elif option in ("-o", "-s") and given:
            first = float(given[0])
            second = float(given[1]) if len(given) > 1 else (0.0 if option == "-o" else first)
            offset, scale = ((first, second), scale) if option == "-o" else (offset, (first, second))
    named: tuple[Wrap, Wrap] = ("clamp", "clamp") if wrap == ("clamp", "clamp") else ("repeat", "repeat")
    return offset, scale, named, words[at:]


def _is_number(word: str) -> bool:
    try:
        return bool(np.isfinite(float(word)))
    except ValueError:
        return False


def _numbers(rest: str, where: str) -> list[float]:
    try:
        values = [float(n) for n in rest.split()]
        if not values or not all(np.isfinite(values)):
            raise ValueError
    except ValueError:
        raise FormatError(f"{where}: {rest!r} is not a color or a number") from None
    return values


@dataclass(frozen=True)
class MtlMaterial:
    """A material to be written: images are file names by channel, with what stands before the name."""

    name: str
    rgb: tuple[float, float, float]
    opacity: float = 1.0
    images: dict[str, str] = field(default_factory=dict)
    roughness: float | None = None
    metallic: float | None = None
    emissive: tuple[float, float, float] = (0.0, 0.0, 0.0)
    stated: tuple[str, ...] = ("illum 2",)


def write_mtl(materials: list[MtlMaterial]) -> str:
    """The text of an MTL."""
    lines: list[str] = []
    for m in materials:
        lines += [f"newmtl {m.name}", f"Kd {_told(*m.rgb)}", f"d {_told(m.opacity)}"]
        lines += [f"Pr {_told(m.roughness)}"] if m.roughness is not None else []
        lines += [f"Pm {_told(m.metallic)}"] if m.metallic is not None else []
        lines += [f"Ke {_told(*m.emissive)}"] if any(m.emissive) else []
        lines += m.stated
        lines += [f"{KEYS[channel]} {file}" for channel, file in m.images.items()]
        lines.append("")
    return "\n".join(lines)


def _told(*values: float) -> str:
    # As many places as tell float32 numbers apart.
    return " ".join(f"{value:.9g}" for value in values)


def texture_options(texture: SourceTexture) -> str:
    """What stands before an image's name so that it lies as it did."""
    out = ""
    up = (texture.offset[0], 1.0 - texture.scale[1] - texture.offset[1])
    if up != (0.0, 0.0):
        out += f"-o {_told(*up)} 0 "
    if texture.scale != (1.0, 1.0):
        out += f"-s {_told(*texture.scale)} 1 "
    if texture.wrap == ("clamp", "clamp"):
        out += "-clamp on "
    return out
