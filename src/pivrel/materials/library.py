"""The built-in library: every material that Pivrel brings along, made on demand."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.materials import masonry, sheets, stains, wood
from pivrel.materials.checker import checker
from pivrel.materials.images import Image, encode
from pivrel.materials.procedural import Procedural

PROCEDURAL: dict[str, Procedural] = {
    r.key: r
    for key in ("brick", "oak", "walnut", "tile", "terrazzo", "concrete", "zinc", "twill", "leak", "moss")
    for r in (*masonry.PROCEDURAL, *wood.PROCEDURAL, *sheets.PROCEDURAL, *stains.PROCEDURAL)
    if r.key == key
}

CHECKER_REPEAT_MM = (1000.0, 1000.0)


@dataclass(frozen=True)
class BuiltIn:
    """A material of the library with its images.

    repeat_mm: real width and height. grain_deg: on the sheet; None where there is no grain.
    """

    key: str
    name: str
    use: str
    repeat_mm: tuple[float, float]
    grain_deg: float | None
    metallic: float
    images: dict[str, Image]


def make(key: str) -> BuiltIn:
    """Makes one material of the library; "checker" beside the keys of PROCEDURAL."""
    if key == "checker":
        images = {"base_color": checker(CHECKER_REPEAT_MM, (10, 10))}
        return BuiltIn("checker", "Checker, 100 mm", "check", CHECKER_REPEAT_MM, None, 0.0, images)
    procedural = PROCEDURAL[key]
    maps = procedural.make()
    images = {
        "base_color": encode(maps.color if maps.alpha is None else np.dstack([maps.color, maps.alpha])),
        "normal": encode(maps.canvas.normal(maps.relief_mm)),
        "roughness": encode(maps.roughness),
    }
    grain = procedural.grain_deg if procedural.has_grain else None
    return BuiltIn(
        procedural.key, procedural.name, procedural.use, maps.canvas.repeat_mm, grain, maps.metallic, images
    )


KEYS = (*PROCEDURAL, "checker")
