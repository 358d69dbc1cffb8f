"""Which finish each face takes, and where single sheets lie over others."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying.finish import Finish
from pivrel.core.picks import Pick, as_faces, resolve

BARE = -1


def cover(surface: Surface, picks: Sequence[Pick]) -> Ints:
    """(F,) int32, for each face the last pick that holds it, or BARE."""
    out = np.full(surface.mesh.face_count, BARE, np.int32)
    for row, pick in enumerate(picks):
        out[resolve(pick, surface)] = row
    return out


@dataclass(frozen=True)
class Layers:
    """What lies on each face once the single sheets are told from those that tile.

    base: (F,) int32 row of the last finish that tiles, or BARE. singles: for each row that does not
    tile, (F,) where it lies over that base; later ones lie over earlier ones.
    """

    base: Ints
    singles: dict[int, Mask]


def layers(surface: Surface, finishes: Sequence[Finish]) -> Layers:
    """The layers of a schedule."""
    held = ((finish.tile, as_faces(resolve(finish.pick, surface) & finish.on)) for finish in finishes)
    return layers_of(surface.mesh.face_count, held)[1]


def layers_of(count: int, held: Iterable[tuple[bool, Ints]]) -> tuple[Ints, Layers]:
    """(F,) for each face the last row that holds it, or BARE, and the layers of a schedule.

    held: whether each row tiles, and the ids of the faces that its pick holds.
    """
    last = np.full(count, BARE, np.int32)
    base = np.full(count, BARE, np.int32)
    singles: dict[int, Mask] = {}
    for row, (tiles, faces) in enumerate(held):
        last[faces] = row
        if tiles:
            base[faces] = row
            for mask in singles.values():
                mask[faces] = False
        else:
            singles[row] = np.zeros(count, bool)
            singles[row][faces] = True
    return last, Layers(base, singles)
