"""Which channel of a material an image is, by the usual endings of its file name."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import PurePath
from typing import Literal, get_args

Channel = Literal["base_color", "normal", "roughness", "metallic", "height", "occlusion"]
CHANNELS: tuple[Channel, ...] = get_args(Channel)

ENDINGS: dict[Channel, frozenset[str]] = {
    "base_color": frozenset(
        ["basecolor", "color", "colour", "albedo", "diffuse", "diff", "col", "bc", "basecolour"]
    ),
    "normal": frozenset(["normal", "normals", "norm", "nrm", "nor", "nml", "normalmap"]),
    "roughness": frozenset(["roughness", "rough", "rgh"]),
    "metallic": frozenset(["metallic", "metalness", "metal", "met"]),
    "height": frozenset(["height", "heightmap", "displacement", "disp", "bump"]),
    "occlusion": frozenset(["occlusion", "ambientocclusion", "ao", "occ"]),
}
"""Common practice among those who offer images; no source."""

_SIZE = re.compile(r"\d+k?|\d+x\d+|\d+(px|mm|bit)|v\d+")
_DOWN = frozenset(["dx", "ydown", "yminus"])
_UP = frozenset(["gl", "yup", "yplus"])


@dataclass(frozen=True)
class Recognised:
    """A file and the channel that its name tells; None where it tells none.

    normal_y: "-" where the name says that green points down, else "+".
    """

    file: str
    channel: Channel | None
    normal_y: Literal["+", "-"] = "+"


@dataclass(frozen=True)
class Sorted:
    """Files sorted to channels: the first of each; those that are left over; and the name they share."""

    channels: dict[Channel, Recognised] = field(default_factory=dict)
    left: tuple[str, ...] = ()
    name: str = "Material"


def _words(file: str) -> list[str]:
    stem = PurePath(file).stem
    # "BrickWall" is two words, "NORMAL" is one.
    stem = re.sub(r"([a-z])([A-Z])", r"\1 \2", stem)
    return [w for w in re.split(r"[^A-Za-z0-9]+", stem.lower()) if w]


def recognise(file: str) -> Recognised:
    """The channel of one file, by the last words of its name; sizes and versions do not count."""
    words = [w for w in _words(file) if not _SIZE.fullmatch(w)]
    down = any(w in _DOWN or w.endswith("dx") for w in words[-2:])
    while len(words) > 1 and words[-1] in _DOWN | _UP:
        words.pop()
    if not words:
        return Recognised(file, None)
    last, two = words[-1], "".join(words[-2:])
    for ending in (last, last.removesuffix("gl"), last.removesuffix("dx"), two):
        for channel, endings in ENDINGS.items():
            if ending in endings:
                return Recognised(file, channel, "-" if channel == "normal" and down else "+")
    return Recognised(file, None)


def shared_name(files: Sequence[str]) -> str:
    """What the files' names have in common, as a person would write it."""
    lists = []
    for file in files:
        words = [w for w in _words(file) if not _SIZE.fullmatch(w)]
        known = {e for endings in ENDINGS.values() for e in endings} | _UP | _DOWN | {"base", "ambient"}
        while len(words) > 1 and (words[-1] in known or words[-1][:-2] in known):
            words.pop()
        lists.append(words)
    shared: list[str] = []
    for column in zip(*lists, strict=False):
        if len(set(column)) > 1:
            break
        shared.append(column[0])
    return " ".join(shared).capitalize() or "Material"


def sort_files(files: Sequence[str]) -> Sorted:
    """A material's files by channel. A single file that names no channel is its base color."""
    channels: dict[Channel, Recognised] = {}
    left = []
    for found in map(recognise, files):
        if found.channel is None or found.channel in channels:
            left.append(found.file)
        else:
            channels[found.channel] = found
    if "base_color" not in channels and left:
        channels["base_color"] = Recognised(left.pop(0), "base_color")
    return Sorted(channels, tuple(left), shared_name(files))
