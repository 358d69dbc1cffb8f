"""What laying needs to know of a material: its repeat, its grain, and where its units meet."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Joints:
    """Where the units of a material meet: its bricks, tiles or boards.

    unit_mm: from joint to joint, along and up; None where there are none that way. width_mm: of a joint.
    at_mm: a place on the sheet where the middles of joints cross. bond: the share of a unit by which each
    course is shifted against the one below.
    """

    unit_mm: tuple[float | None, float | None]
    width_mm: float = 0.0
    at_mm: tuple[float, float] = (0.0, 0.0)
    bond: float = 0.0


Box = tuple[float, float, float, float]
"""Least s and t, greatest s and t, in mm on the sheet."""


@dataclass(frozen=True)
class Material:
    """What laying needs to know of a material.

    repeat_mm: width and height in mm after which it repeats.
    grain_deg: direction of its grain on the sheet, counter-clockwise from +s, modulo 180.
    half_turns, mirrors: whether pieces of it may be turned by 180 degrees, or flipped, and still be true.
    avoid: areas of one repeat that pieces are to keep clear of, a knot or a stain.
    """

    name: str
    repeat_mm: tuple[float, float]
    grain_deg: float = 0.0
    joints: Joints | None = None
    half_turns: bool = False
    mirrors: bool = False
    avoid: tuple[Box, ...] = ()
