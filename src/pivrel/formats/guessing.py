"""How the numbers of a file that states neither unit nor axis are likely meant, with the reason in words.

Common practice, no source: architecture is drawn in metres or millimetres, products in millimetres, and
what a model is is told by its size beside things that everybody knows.
"""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.formats.units import MM

FAMILIAR = (
    (0.5, "a grain of sand"), (6, "a grain of rice"), (30, "a coin"), (80, "a matchbox"), (150, "a cup"),
    (350, "a bottle"), (700, "a stool"), (1300, "a chair or a table"), (2600, "a door or a cabinet"),
    (8000, "a room or a car"), (30_000, "a house"), (120_000, "a large building"), (400_000, "a street"),
)  # fmt: skip
"""Things by their largest side in mm, up to which size each is meant."""

MILLIMETRES = (".stl",)
"""Formats of CAD and printing, which work in millimetres, whatever a model's size above `METRES`."""

METRES = 2.0
"""Up to this largest side a model is in metres, whatever its format."""

THING, FURNITURE, PLACE = 40.0, 130.0, 300.0
"""Largest sides from there to the first are metres, as houses are drawn; from the last they are millimetres. Between the
two a model is a product in millimetres, unless it is as wide and low as a site is; up to the middle one a
model of several parts is furniture in centimetres."""

SEVERAL = 5

LOW = 0.5
SAME = 0.01
TALL = 1.15


@dataclass(frozen=True)
class Guess:
    """A unit, an upward axis, and why."""

    unit: str
    up: str
    why: str


def like(size_mm: float) -> str:
    """A familiar thing of about this size, or "a town"."""
    at = bisect_left([most for most, _ in FAMILIAR], size_mm)
    return FAMILIAR[at][1] if at < len(FAMILIAR) else "a town"


def in_words(size_mm: float) -> str:
    """A size as people say it."""
    if size_mm >= 1e6:
        return f"{size_mm / 1e6:,.1f} km"
    return f"{size_mm / 1000:,.4g} m" if size_mm >= 1000 else f"{size_mm:.3g} mm"


def readings(largest: float) -> dict[str, str]:
    """By unit: the largest side in words, and what is about as large."""
    return {unit: f"{in_words(largest * mm)}, like {like(largest * mm)}" for unit, mm in MM.items()}


def guess_reading(
    points: Floats, parts: int, suffix: str, usual_up: str, unit: str | None = None, up: str | None = None
) -> Guess:
    """The likeliest reading of the points (N, 3) of a model of some parts; what is given is taken as it is."""
    size = np.ptp(points, axis=0)
    turned = _upright_axis(size)
    chosen_up = up or turned or usual_up
    chosen = unit or _unit(size, parts, suffix, chosen_up)
    largest = float(size.max())
    other = "m" if chosen == "mm" else "mm"
    why = (
        f"read in {chosen} it is {in_words(largest * MM[chosen])}, like {like(largest * MM[chosen])}; "
        f"in {other} it would be {in_words(largest * MM[other])}"
    )
    if up is None and turned and turned != usual_up:
        why += f"; it stands along {turned.upper()}, about which it is as wide as it is deep"
    return Guess(chosen, chosen_up, why)


def unit_by_size(largest: float, size_mm: float) -> str | None:
    """The unit in which a largest side in file units is about `size_mm`, within a fifth; None where it is in none."""
    if largest <= 0:
        return None
    unit = min(MM, key=lambda u: abs(np.log(largest * MM[u] / size_mm)))
    return unit if abs(largest * MM[unit] - size_mm) <= 0.2 * size_mm else None


def _unit(size: Floats, parts: int, suffix: str, up: str) -> str:
    largest = float(size.max())
    if largest <= METRES:
        return "m"
    if suffix in MILLIMETRES or largest > PLACE:
        return "mm"
    if largest <= THING:
        return "m"
    height = float(size["xyz".index(up)])
    if height < LOW * largest:
        return "m"
    return "cm" if parts >= SEVERAL and largest <= FURNITURE else "mm"


def _upright_axis(size: Floats) -> str | None:
    """The axis along which a model is tall, where it is as wide as it is deep: bottles and columns stand."""
    for axis in (1, 2):
        a, b = size[[k for k in range(3) if k != axis]]
        if max(a, b) > 0 and abs(a - b) <= SAME * max(a, b) and size[axis] >= TALL * max(a, b):
            return "xyz"[axis]
    return None
