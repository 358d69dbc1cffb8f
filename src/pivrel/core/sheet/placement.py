"""How the endless sheet of a material is turned, shifted and sized on the raw laying."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.sheet.material import Material


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
