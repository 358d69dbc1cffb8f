"""Exact surfaces: what a CAD file says that a patch is a piece of."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from pivrel.core.geometry.frames import Vector

Kind = Literal["plane", "cylinder", "cone", "sphere", "torus", "free-form"]
KINDS: tuple[Kind, ...] = ("plane", "cylinder", "cone", "sphere", "torus", "free-form")


@dataclass(frozen=True)
class ExactSurface:
    """A surface in the model's own coordinates, in mm.

    origin_mm: a point of a plane or of the axis; the centre of a sphere or torus.
    axis: unit; the normal of a plane, the axis of a cylinder, cone or torus, the pole of a sphere.
    radius_mm: of a cylinder or sphere, of a cone at its origin, of a torus from axis to tube.
    tube_mm: the radius of a torus' tube. half_angle_deg: between a cone's axis and its side.
    A free-form surface has none of these.
    """

    kind: Kind
    origin_mm: Vector = (0.0, 0.0, 0.0)
    axis: Vector = (0.0, 0.0, 1.0)
    radius_mm: float = 0.0
    tube_mm: float = 0.0
    half_angle_deg: float = 0.0
