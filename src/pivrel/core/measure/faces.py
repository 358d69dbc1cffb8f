"""How truly each face is laid, for looks and for the face under the pointer."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.surface import Surface
from pivrel.core.kernels import kernel
from pivrel.core.laying import Settled
from pivrel.core.laying.finish import Finish
from pivrel.core.measure.figures import Stretches, stretches
from pivrel.core.measure.stretch import MIRRORED_BELOW, SMEARED_BELOW

TRUE, BARE, SMEARED, MIRRORED = 0, 1, 2, 3
"""What can be wrong with a face; no finish says of its own faces that they are bare."""


@dataclass(frozen=True)
class FaceStretch:
    """Of the faces of a finish, in their order: (K,) least and greatest stretch, and what is wrong.

    A face of several triangles takes the worst of them. kind: TRUE, SMEARED or MIRRORED.
    """

    low: Floats
    high: Floats
    kind: Ints


def face_stretch(surface: Surface, finish: Finish, faces: Ints, settled: Settled) -> FaceStretch:
    """How truly a finish is laid on each of its faces (int32 ids, ascending)."""
    return by_face(stretches(surface, finish, faces, settled))


def by_face(found: Stretches) -> FaceStretch:
    """The same of triangles that were measured."""
    own = found.own
    return FaceStretch(*_worst(own.row, own.areas, found.low, found.high, found.det, len(own.faces)))


@kernel
def _worst(
    row: Ints, areas: Floats, lows: Floats, highs: Floats, dets: Floats, count: int
) -> tuple[Floats, Floats, Ints]:
    """Least and greatest stretch and kind of each face, of its triangles that have an area."""
    low, high, det = np.full(count, np.inf), np.zeros(count), np.full(count, np.inf)
    for k in range(len(row)):
        if areas[k] > 0:
            at = row[k]
            low[at], high[at] = min(low[at], lows[k]), max(high[at], highs[k])
            det[at] = min(det[at], dets[k])
    kind = np.full(count, TRUE, np.int8)
    for at in range(count):
        if not np.isfinite(low[at]):
            low[at], high[at] = 1.0, 1.0
        if low[at] < SMEARED_BELOW:
            kind[at] = SMEARED
        elif det[at] < MIRRORED_BELOW:
            kind[at] = MIRRORED
    return low, high, kind
