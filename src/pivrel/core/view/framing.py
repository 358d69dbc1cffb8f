"""What of a model matters when it is first looked at: not the ground that it stands on."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Mask, distinct
from pivrel.core.geometry.ground import as_ground, bounds_by
from pivrel.core.geometry.surface import Surface

PART_WIDE = 0.9
"""A part over this share of the plan, both ways and low down, is the ground."""

GOOD_DEAL = 0.5
"""Faces are looked at alone where their parts reach over this share of the model."""


def framed_parts(surface: Surface, covered: Mask) -> list[int]:
    """The parts to look at, ascending: those of the covered faces (F,), where they are a good deal of the model.

    The ground is left out, unless there is nothing else.
    """
    mesh = surface.mesh
    bounds = bounds_by(surface, mesh.face_part, len(mesh.part_names))
    standing = np.flatnonzero(~as_ground(surface, bounds, PART_WIDE)).tolist() or list(range(len(bounds)))
    carrying = sorted({*standing} & {*distinct(mesh.face_part[covered]).tolist()})
    good_deal = _diagonal(bounds[carrying]) > GOOD_DEAL * _diagonal(bounds[standing])
    return carrying if good_deal else standing


def _diagonal(bounds: Floats) -> float:
    """How far apart the corners of some bounds (N, 2, 3) lie together, in mm."""
    there = bounds[~np.isnan(bounds[:, 0, 0])]
    return float(np.linalg.norm(there[:, 1].max(axis=0) - there[:, 0].min(axis=0))) if len(there) else 0.0
