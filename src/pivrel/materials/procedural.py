"""How a built-in material is described before it is made."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from pivrel.core.arrays import Floats
from pivrel.core.sheet import Joints
from pivrel.materials.fields import Canvas


@dataclass(frozen=True)
class Maps:
    """What a material is made of.

    color: (H, W, 3) as displayed, 0 to 1. relief_mm: (H, W). roughness: (H, W), 0 to 1.
    alpha: (H, W), how much of what lies beneath it hides; None for all.
    """

    canvas: Canvas
    color: Floats
    relief_mm: Floats
    roughness: Floats
    metallic: float = 0.0
    alpha: Floats | None = None


@dataclass(frozen=True)
class Procedural:
    """A built-in material: how to name it, which way its grain runs, how to make it.

    joints, half_turns, mirrors: as `core.sheet.Material` has them.
    """

    key: str
    name: str
    grain_deg: float
    make: Callable[[], Maps]
    use: str
    has_grain: bool = True
    joints: Joints | None = None
    half_turns: bool = False
    mirrors: bool = False
