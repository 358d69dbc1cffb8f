"""How a channel of a coat joins what lies beneath it: on linear values, by the coat's weight at a point.

`mix` and `multiply` are those of the MaterialX 1.39 specification: mix(fg, bg, mix), and bg times mix(fg, 1, mix).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

from pivrel.core.arrays import Floats

Join = Literal["mix", "multiply", "add", "none"]


def mix(under: Floats, over: Floats, weight: Floats) -> Floats:
    """From what lies beneath to the coat."""
    return under * (1 - weight) + over * weight


def multiply(under: Floats, over: Floats, weight: Floats) -> Floats:
    """What lies beneath, times the coat."""
    return under * (1 - weight + over * weight)


def add(under: Floats, over: Floats, weight: Floats) -> Floats:
    """What lies beneath, and the coat on top of it."""
    return under + weight * over


def none(under: Floats, over: Floats, weight: Floats) -> Floats:
    """What lies beneath alone."""
    return under


JOINS: Mapping[Join, Callable[[Floats, Floats, Floats], Floats]] = {
    "mix": mix, "multiply": multiply, "add": add, "none": none,
}  # fmt: skip


@dataclass(frozen=True)
class Joins:
    """How each channel joins. Normals join as gradients over the surface, heights in mm."""

    base_color: Join = "mix"
    normal: Join = "mix"
    roughness: Join = "mix"
    metallic: Join = "mix"
    height: Join = "mix"
    occlusion: Join = "mix"
