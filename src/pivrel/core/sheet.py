"""The endless sheet of a material: its repeat, its grain, and how it is shifted, turned and sized."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats


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


@dataclass(frozen=True)
class Material:
    """What laying needs to know of a material.

    repeat_mm: width and height in mm after which it repeats.
    grain_deg: direction of its grain on the sheet, counter-clockwise from +s, modulo 180.
    half_turns, mirrors: whether pieces of it may be turned by 180 degrees, or flipped, and still be true.
    """

    name: str
    repeat_mm: tuple[float, float]
    grain_deg: float = 0.0
    joints: Joints | None = None
    half_turns: bool = False
    mirrors: bool = False


@dataclass(frozen=True)
class Placement:
    """How the sheet lies on the raw laying: turned, moved, enlarged.

    turn_deg: counter-clockwise as seen from outside. offset_mm: towards +s, +t.
    scale: above 1 enlarges, component by component along the sheet's own axes.
    """

    turn_deg: float = 0.0
    offset_mm: tuple[float, float] = (0.0, 0.0)
    scale: tuple[float, float] = (1.0, 1.0)

    @property
    def matrix(self) -> Floats:
        """(2, 3) the map from raw (s, t, 1) to final (s', t'), both in mm."""
        turn = self.turn_deg % 360.0
        cosine, sine = np.cos(np.radians(turn)), np.sin(np.radians(turn))
        if turn % 90.0 == 0.0:
            # Quarter turns are exact, so that four of them are none.
            cosine, sine = round(float(cosine)), round(float(sine))
        back = np.array([[cosine, sine], [-sine, cosine]]) / np.array(self.scale)[:, None]
        return np.column_stack([back, -back @ np.array(self.offset_mm)])


def turn_for_grain(grain_deg: float, material: Material) -> float:
    """The turn that brings the material's grain to `grain_deg` on the face, from raw +s."""
    return grain_deg - material.grain_deg
