"""The moulded handle: an invented pull for a cabinet, one turned and bent body without a flat place."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.geometry.mesh import Mesh
from pivrel.demo.shapes import Assembly, grid

LONG = 168.0
ROWS, COLUMNS = 57, 40

WIDE = (10.0, 13.5, 11.5, 10.5, 12.0, 15.0, 11.0)
"""Half as wide as the handle from its foot to its tip, mm; its sides swell where the hand takes hold."""

DEEP = (9.0, 10.5, 9.5, 8.5, 9.0, 10.0, 8.0)

RISE = 26.0
"""How far it bows away from the door."""

ROUND = 2.5
"""Its section between an ellipse (2) and a rectangle."""

END = 0.07
"""The share of its length at either end that is rounded off."""

RIM = 5
"""The ring of faces at which an end begins."""


def build() -> Mesh:
    """The handle, level, with its back to y = 0."""
    handle = Assembly()
    rings = body()
    grid(handle, "Handle", rings, close_columns=True)
    handle.add("Handle", rings[0], [tuple(range(COLUMNS))])
    handle.add("Handle", rings[-1], [tuple(range(COLUMNS - 1, -1, -1))])
    return handle.mesh()


def body() -> Floats:
    """(ROWS, COLUMNS, 3) mm: rings from the foot to the tip, each beginning at its back."""
    s = np.linspace(0, 1, ROWS)
    at = np.linspace(0, 1, len(WIDE))
    half, deep = (np.interp(s, at, row) for row in (WIDE, DEEP))
    # An end closes like a quarter of an ellipse, down to a small flat.
    near = np.clip(np.minimum(s, 1 - s) / END, 0, 1)
    closing = np.sqrt(1 - (1 - near) ** 2 * 0.9)
    turn = 2 * np.pi * np.arange(COLUMNS) / COLUMNS
    across = -np.sign(np.sin(turn)) * np.abs(np.sin(turn)) ** (2 / ROUND)
    out = -np.sign(np.cos(turn)) * np.abs(np.cos(turn)) ** (2 / ROUND)
    bow = RISE * np.sin(np.pi * s) ** 2
    x = np.broadcast_to((LONG * s)[:, None], (ROWS, COLUMNS))
    y = 20 + bow[:, None] - (closing * deep)[:, None] * -out[None]
    z = (closing * half)[:, None] * across[None]
    return np.stack([x, -y, z], axis=-1)


def cuts() -> tuple[Floats, Floats, Floats]:
    """Three cuts (N, 3) mm along edges: round either end, and along the back between them."""
    rings = body()
    rims = [np.concatenate([rings[row], rings[row][:1]]) for row in (RIM, ROWS - 1 - RIM)]
    return rims[0], rims[1], rings[RIM : ROWS - RIM, 0]


def grain() -> Floats:
    """(N, 3) mm: a line along its front, from end to end."""
    return body()[RIM + 1 : ROWS - RIM - 1, COLUMNS // 2]
