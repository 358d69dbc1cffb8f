"""No two alike: each part, board, patch or face takes its own piece of the endless sheet."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.sheet import Material
from pivrel.core.sheet.apart import Apart

By = Literal["part", "board", "patch", "face"]

APART = 0.06
"""Two pieces differ by more than this share of the repeat, along or up, as long as there is room for it."""

TRIES = 48


@dataclass(frozen=True)
class Variation:
    """A random shift for each piece, the same at every call for the same seed.

    by: what counts as a piece. half_turns, mirrors: also turned by 180 degrees or flipped, at random,
    where the material allows it.
    """

    by: By = "part"
    seed: int = 1
    half_turns: bool = False
    mirrors: bool = False


def _numbers(seed: int, name: str, attempt: int) -> tuple[float, float, int]:
    """Two numbers from 0 to 1 and some bits, from the piece's own name alone: steady over edits of others."""
    digest = hashlib.blake2b(f"{seed}\0{name}\0{attempt}".encode(), digest_size=20).digest()
    u, v = (int.from_bytes(digest[k : k + 8], "little") / 2**64 for k in (0, 8))
    return u, v, digest[16]


def _on_joints(u: float, v: float, material: Material) -> tuple[float, float]:
    """A shift in mm that brings joints onto joints, where the material has them."""
    width, height = material.repeat_mm
    if material.joints is None:
        return u * width, v * height
    (along, up), bond = material.joints.unit_mm, material.joints.bond
    course = int(v * max(1, round(height / up))) if up else 0
    shift_t = course * up if up else v * height
    if not along:
        return u * width, shift_t
    return int(u * max(1, round(width / along))) * along + course * bond * along, shift_t


def variations(variation: Variation, material: Material, names: Sequence[str]) -> Floats:
    """(N, 2, 3) where each piece's pattern is moved to on the sheet, in mm of sheet.

    names: of the pieces, each once. A piece keeps its shift whatever others come or go, unless it would
    then be too like one before it.
    """
    out = np.zeros((len(names), 2, 3))
    taken, (width, height) = Apart(len(names), APART), material.repeat_mm
    for row, name in enumerate(names):
        best, far = (0.0, 0.0, 0), -1.0
        for attempt in range(TRIES):
            u, v, bits = _numbers(variation.seed, name, attempt)
            shift = _on_joints(u, v, material)
            room = taken.room(shift[0] / width, shift[1] / height)
            if room > far:
                best, far = (*shift, bits), room
            if far > APART:
                break
        # Of places that lie on each other one is enough.
        if far > 0:
            taken.add(best[0] / width, best[1] / height)
        turn = -1.0 if variation.half_turns and material.half_turns and best[2] & 1 else 1.0
        flip = -1.0 if variation.mirrors and material.mirrors and best[2] & 2 else 1.0
        # About a crossing of joints, so that joints stay on joints.
        at = material.joints.at_mm if material.joints else (0.0, 0.0)
        out[row] = [
            [turn * flip, 0.0, best[0] + at[0] * (1 - turn * flip)],
            [0.0, turn, best[1] + at[1] * (1 - turn)],
        ]
    return out
