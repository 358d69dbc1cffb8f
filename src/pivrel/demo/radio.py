"""The table radio: an invented product with mitred corners, a round dial, knobs and a cloth front."""

from __future__ import annotations

import numpy as np

from pivrel.core.geometry.mesh import Mesh
from pivrel.demo.shapes import Assembly, box, turned

WIDE, DEEP, HIGH, SKIN = 340.0, 170.0, 190.0, 14.0


def build() -> Mesh:
    """The radio, its front towards -y, standing on its feet at z = 0."""
    radio = Assembly()
    _cabinet(radio)
    front = 10.0
    box(radio, "Front cloth", (SKIN, front, 8 + SKIN), (212, front + 4, 8 + HIGH - SKIN))
    box(radio, "Front panel", (212, front - 2, 8 + SKIN), (WIDE - SKIN, front + 4, 8 + HIGH - SKIN))
    box(radio, "Back panel", (SKIN, DEEP - 8, 8 + SKIN), (WIDE - SKIN, DEEP - 3, 8 + HIGH - SKIN))
    dial = (269.0, front - 2, 8 + 128.0)
    turned(radio, "Dial ring", dial, [(40, 0), (43, 3), (42, 7), (37, 7), (36, 1)], 96, axis="-y")
    turned(radio, "Dial face", dial, [(36, 1), (36, 1.5), (0, 1.5)], 96, axis="-y")
    turned(radio, "Dial hub", dial, [(4, 1.5), (4, 5), (0, 5)], 32, axis="-y")
    knob = [(13.5, 0), (13.5, 3), (12, 4), (11.4, 15), (10.4, 16.5), (0, 16.5)]
    for i, x in enumerate((243.0, 295.0), 1):
        turned(radio, f"Knob {i}", (x, front - 2, 8 + 48.0), knob, 64, axis="-y")
    for i, (x, y) in enumerate([(28, 24), (WIDE - 28, 24), (28, DEEP - 24), (WIDE - 28, DEEP - 24)], 1):
        turned(radio, f"Foot {i}", (x, y, 0), [(0, 0), (11, 0), (13, 8), (0, 8)], 40)
    return radio.mesh()


def _cabinet(to: Assembly) -> None:
    """Four boards, each cut at 45 degrees where it meets the next."""
    outer = np.array([(0, 0), (WIDE, 0), (WIDE, HIGH), (0, HIGH)], float)
    inner = np.array(
        [(SKIN, SKIN), (WIDE - SKIN, SKIN), (WIDE - SKIN, HIGH - SKIN), (SKIN, HIGH - SKIN)], float
    )
    for i, name in enumerate(("Cabinet bottom", "Cabinet right", "Cabinet top", "Cabinet left")):
        j = (i + 1) % 4
        section = [outer[i], outer[j], inner[j], inner[i]]
        points = [(x, y, z + 8) for y in (0.0, DEEP) for x, z in section]
        faces = [(0, 1, 2, 3), (7, 6, 5, 4), (1, 0, 4, 5), (2, 1, 5, 6), (3, 2, 6, 7), (0, 3, 7, 4)]
        to.add(name, points, faces)
