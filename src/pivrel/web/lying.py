"""Which finishes lie on some faces, and on how much of them."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Ints
from pivrel.core.laying import BARE
from pivrel.project.laid import LaidProject
from pivrel.web.wire.picking import LiesThere


def what_lies(laid: LaidProject, faces: Ints) -> list[LiesThere]:
    """What a click on each of the faces (K,) meets, summed up, the largest area first."""
    rows = laid.schedule.covering().face_finish[faces] - BARE
    counts = np.bincount(rows)
    areas = np.bincount(rows, weights=laid.surface.face_areas[faces]) / 1e6
    names = [None, *laid.keys]
    order = sorted(np.flatnonzero(counts).tolist(), key=lambda row: -areas[row])
    return [LiesThere(finish=names[row], faces=int(counts[row]), area_m2=float(areas[row])) for row in order]
