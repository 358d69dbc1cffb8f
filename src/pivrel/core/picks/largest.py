"""The largest patches of a model: where somebody who has picked nothing would begin."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.ground import as_ground, bounds_by
from pivrel.core.geometry.surface import Surface

SHARE = 0.5
"""Together the largest patches have this share of the area."""

UPWARD = 0.9
"""A patch whose mean normal rises more than this lies level."""

SPREAD = 0.95
"""A level patch that reaches over this share of the model's plan, low down, is the ground that it stands on."""

WIDE = 0.05
"""Smaller shares of the area than this are no ground."""


def largest_patches(surface: Surface) -> Ints:
    """(K,) ids of the largest patches, the ground left out, until together they have half of the area, ascending."""
    patches = surface.patches()
    count = int(patches.max()) + 1 if len(patches) else 0
    areas: Floats = np.bincount(patches, weights=surface.face_areas, minlength=count).astype(np.float64)
    areas[_ground(surface, patches, areas)] = 0.0
    order = np.argsort(-areas, kind="stable")
    reached = np.cumsum(areas[order])
    taken = order[: int(np.searchsorted(reached, SHARE * areas.sum())) + 1]
    return np.sort(taken[areas[taken] > 0]).astype(np.int32)


def _ground(surface: Surface, patches: Ints, areas: Floats) -> Mask:
    """(P,) which patches lie level under the model, as wide as all of it."""
    upright = surface.normals[:, 2] / np.maximum(np.linalg.norm(surface.normals, axis=1), 1e-12)
    rise = np.bincount(patches, weights=upright * surface.face_areas, minlength=len(areas))
    level: Mask = (rise > UPWARD * areas) & (areas > WIDE * areas.sum())
    return level & as_ground(surface, bounds_by(surface, patches, len(areas)), SPREAD)
