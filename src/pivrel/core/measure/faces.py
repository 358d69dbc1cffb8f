"""How truly each face is laid, for looks and for the face under the pointer."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import Settled
from pivrel.core.laying.finish import Finish
from pivrel.core.measure.figures import stretches
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
    found = stretches(surface, finish, faces, settled)
    solid = found.own.areas > 0
    at = found.own.row[solid]
    low, high = np.full(len(faces), np.inf), np.zeros(len(faces))
    det = np.full(len(faces), np.inf)
    np.minimum.at(low, at, found.low[solid])
    np.maximum.at(high, at, found.high[solid])
    np.minimum.at(det, at, found.det[solid])
    empty = ~np.isfinite(low)
    low[empty], high[empty] = 1.0, 1.0
    kind = np.full(len(faces), TRUE, np.int8)
    kind[det < MIRRORED_BELOW] = MIRRORED
    kind[low < SMEARED_BELOW] = SMEARED
    return FaceStretch(low, high, kind)
