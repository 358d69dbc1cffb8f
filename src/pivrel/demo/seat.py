"""The moulded seat: an invented chair, one bent shell of 11 mm on four legs."""

from __future__ import annotations

import numpy as np
from scipy.interpolate import CubicSpline

from pivrel.core.arrays import Floats
from pivrel.core.geometry.mesh import Mesh
from pivrel.demo.shapes import Assembly, grid, swept

THICK = 11.0
ROWS, COLUMNS = 65, 49

PROFILE = (
    (-215, 418),
    (-190, 436),
    (-90, 430),
    (60, 412),
    (165, 430),
    (222, 520),
    (248, 640),
    (262, 770),
    (270, 800),
)
"""(y, z) from the front lip over the seat and up the back; the sitter looks to -y."""

WIDE = (232, 238, 246, 250, 246, 232, 218, 205, 196)
"""Half as wide as the shell there."""

DISH = (6, 14, 34, 42, 46, 52, 40, 24, 16)
"""How far its sides stand forward of its middle."""


def build() -> Mesh:
    """The chair, standing on z = 0."""
    seat = Assembly()
    front = _shell()
    back = front - THICK * _normals(front)
    grid(seat, "Seat face", front[::-1])
    grid(seat, "Seat back", back)
    grid(seat, "Seat edge", np.stack([_rim(front), _rim(back)]), close_columns=True)
    _legs(seat, back)
    return seat.mesh()


def face(u: Floats, v: Floats) -> Floats:
    """(N, 3) mm: places of the face, u from -1 to 1 across and v from 0 to 1 from the front lip up."""
    profile = np.array(PROFILE, float)
    at = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(profile, axis=0), axis=1))])
    at /= at[-1]
    middle = CubicSpline(at, profile)
    half, dish = (np.interp(v, at, row) for row in (WIDE, DISH))
    ahead = middle(v, 1)
    ahead /= np.linalg.norm(ahead, axis=-1, keepdims=True)
    y, z = np.moveaxis(middle(v), -1, 0)
    rise = dish * u**2
    # Up from the seat, forward from the back: square to the profile.
    return np.stack([half * u, y - rise * ahead[..., 1], z + rise * ahead[..., 0]], axis=-1)


def _shell() -> Floats:
    """(ROWS, COLUMNS, 3) mm: the face, from the front lip up and from left to right."""
    v, u = np.meshgrid(np.linspace(0, 1, ROWS), np.linspace(-1, 1, COLUMNS), indexing="ij")
    return face(u, v)


def _normals(points: Floats) -> Floats:
    """Unit normals of a grid of points, to where the sitter is."""
    along, across = np.gradient(points, axis=0), np.gradient(points, axis=1)
    out: Floats = np.cross(across, along)
    return out / np.linalg.norm(out, axis=-1, keepdims=True)


def _rim(points: Floats) -> Floats:
    """(N, 3) the border of a grid, once round."""
    return np.concatenate([points[0, :-1], points[:-1, -1], points[-1, :0:-1], points[:0:-1, 0]])


def _legs(to: Assembly, back: Floats) -> None:
    rows = {"front": 12, "rear": 26}
    for end, row in rows.items():
        for side, column in (("left", 12), ("right", COLUMNS - 13)):
            top = back[row, column]
            foot = np.array([1.55 * top[0], top[1] + (-70 if end == "front" else 95), 0.0])
            share = np.linspace(0, 1, 24)[:, None]
            bow = np.sin(np.pi * share) * np.array([0.12 * top[0], 0.0, 0.0])
            swept(to, f"Leg {end} {side}", foot + share * (top - foot) + bow, 11.0, 24)
