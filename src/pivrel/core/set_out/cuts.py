"""Setting out: where the joints of a pattern fall on a face.

Balanced as tile setters do it: rows are centred so that the cuts at opposite borders are equal, and no cut is
less than half a tile where that can be had (ANSI A108.02, the workmanship clause on laying out; from memory).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.sheet import Material

What = Literal["joint", "centre"]

WHOLE_MM = 1e-3
"""A length within this of whole units has no cuts."""


@dataclass(frozen=True)
class Cuts:
    """How a row of units fills a length.

    first_mm: from the border to the middle of the first joint, the same at both ends. cut_mm: the width
    of the unit at each border; whole: how many whole ones lie between the two, -1 where one piece fills it
    all. Where nothing is cut all of them are whole. All in mm of sheet.
    """

    first_mm: float
    cut_mm: float
    whole: int
    cut: bool


def units_of(material: Material) -> tuple[float, float]:
    """From joint to joint in mm, along and up: the material's units, or its repeat where it has none."""
    joints = material.joints
    along, up = joints.unit_mm if joints else (None, None)
    return along or material.repeat_mm[0], up or material.repeat_mm[1]


def balanced(length_mm: float, unit_mm: float, joint_mm: float = 0.0, bond: float = 0.0) -> Cuts:
    """The row that has equal cuts at both ends, and of the two such rows the one with the wider cut.

    A joint or a unit's middle falls on the middle of the length. bond: the share of a unit by which
    every other row is shifted; the narrowest cut of both rows counts then.
    """
    rest = length_mm % unit_mm
    if min(rest, unit_mm - rest) < WHOLE_MM and length_mm > unit_mm / 2 and not bond:
        return Cuts(unit_mm, unit_mm - joint_mm, round(length_mm / unit_mm), False)
    if length_mm < unit_mm:
        # One piece, its middle on the middle; no joint falls within.
        return Cuts((length_mm + unit_mm) / 2, length_mm, -1, True)

    def narrowest(first: float) -> float:
        rows = (first, (first + bond * unit_mm) % unit_mm or unit_mm) if bond else (first,)
        return min(rows)

    first = max(((rest + unit_mm) / 2, rest / 2 or unit_mm), key=narrowest)
    whole = round((length_mm - 2 * first) / unit_mm)
    return Cuts(first, first - joint_mm / 2, whole, True)


def to_joint(
    final: Floats, material: Material, what: What, which: tuple[bool, bool] = (True, True)
) -> Floats:
    """(2,) the least move on the sheet in mm that brings a place onto a joint, or onto a unit's middle.

    final: (2,) the place on the sheet. which: whether it is moved along, and up.
    """
    unit = np.array(units_of(material))
    joints = material.joints
    at = np.array(joints.at_mm if joints else (0.0, 0.0))
    half = unit / 2 if what == "centre" else np.zeros(2)
    course = np.round((final[1] - at[1] - half[1]) / unit[1])
    move = np.zeros(2)
    if which[1]:
        move[1] = at[1] + half[1] + course * unit[1] - final[1]
    bond = joints.bond * unit[0] * course if joints else 0.0
    gap = at[0] + half[0] + bond - final[0]
    if which[0]:
        move[0] = gap - unit[0] * np.round(gap / unit[0])
    return move


def to_balance(low: float, high: float, cuts: Cuts, unit_mm: float, at_mm: float) -> float:
    """The least move on the sheet, along one axis, after which cuts fall as balanced.

    low, high: the ends of the face on the sheet. at_mm: where a joint lies on it.
    """
    gap = at_mm - (low + cuts.first_mm)
    return float(gap - unit_mm * np.round(gap / unit_mm))
