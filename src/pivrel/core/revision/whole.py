"""How a model as a whole has changed from one file to the next: scaled, mirrored, turned, in another unit.

Candidates come from the two models' bounds and areas; the one that brings most of the area onto faces that
were there before is taken, and none where the model stands as it stood.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import product

import numpy as np

from pivrel.core.arrays import Floats


@dataclass(frozen=True)
class Motion:
    """new = scale * turn @ old + shift. turn: (3, 3), of determinant -1 where the model is mirrored."""

    scale: float = 1.0
    turn: Floats = field(default_factory=lambda: np.eye(3))
    shift: Floats = field(default_factory=lambda: np.zeros(3))

    def places(self, points: Floats) -> Floats:
        """(N, 3) mm after the motion."""
        out: Floats = self.scale * points @ self.turn.T + self.shift
        return out

    def directions(self, vectors: Floats) -> Floats:
        """(N, 3) after the motion, as long as before."""
        out: Floats = vectors @ self.turn.T
        return out

    @property
    def mirrors(self) -> bool:
        return bool(np.linalg.det(self.turn) < 0)


STILL = Motion()

TURNS = [
    np.array(rows, float)
    for rows in (
        ((1, 0, 0), (0, 1, 0), (0, 0, 1)),
        ((-1, 0, 0), (0, 1, 0), (0, 0, 1)),
        ((1, 0, 0), (0, -1, 0), (0, 0, 1)),
        ((1, 0, 0), (0, 1, 0), (0, 0, -1)),
        ((1, 0, 0), (0, 0, -1), (0, 1, 0)),
        ((1, 0, 0), (0, 0, 1), (0, -1, 0)),
        ((0, -1, 0), (1, 0, 0), (0, 0, 1)),
        ((0, 1, 0), (-1, 0, 0), (0, 0, 1)),
        ((-1, 0, 0), (0, -1, 0), (0, 0, 1)),
    )
]
"""As it stands, mirrored along each axis, with another axis up, and in quarter turns about the upright."""


def candidates(old_bounds: Floats, new_bounds: Floats) -> list[Motion]:
    """Motions under which the bounds (2, 3) of the old model become those of the new one, or share a place.

    Shifts alone are left out: what has only moved is followed part by part.
    """
    out = []
    new_size = np.ptp(new_bounds, axis=0)
    for turn in TURNS:
        ends = old_bounds @ turn.T
        low, high = ends.min(axis=0), ends.max(axis=0)
        size = high - low
        flat = size <= 1e-6 * max(float(size.max()), 1e-9)
        ratio = new_size[~flat] / size[~flat]
        # The middle of the three: one side may have grown with a new part.
        scales = [1.0, *ratio.tolist()] if len(ratio) else [1.0]
        for scale in sorted({round(s, 9) for s in scales}):
            if not 1e-4 < scale < 1e4 or (scale == 1.0 and turn is TURNS[0]):
                continue
            pairs = (
                (low, new_bounds[0]), (high, new_bounds[1]),
                ((low + high) / 2, new_bounds.mean(axis=0)), (np.zeros(3), np.zeros(3)),
            )  # fmt: skip
            shifts = {tuple(np.round(there - scale * here, 6).tolist()) for here, there in pairs}
            out += [Motion(scale, turn, np.array(shift)) for shift in sorted(shifts)]
            # Along each axis the model may be held at another end.
            if scale == 1.0:
                for ends_held in product((0, 1), repeat=3):
                    held = [(low, high)[e][k] for k, e in enumerate(ends_held)]
                    there = [new_bounds[e][k] for k, e in enumerate(ends_held)]
                    out.append(Motion(1.0, turn, np.subtract(there, held)))
    return out
