"""Cuts found by themselves: from the border to where a region is farthest from flat, until enough of it lies true."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.solve.cutting import log_scale, next_cuts, to_disc
from pivrel.core.solve.flattening import truly_flat
from pivrel.core.solve.opening import NONE
from pivrel.core.solve.region import Region
from pivrel.core.solve.solution import SolveError
from pivrel.core.solve.true import true_share

HINTS = 2.0
"""Faces that a conformal laying grows or shrinks by no more than so many times what is allowed may well come to lie true."""

WORTH_TRYING = 0.5
"""Flattening is tried once this share of the area may."""

LONGER = 1.06
"""It is tried again once the cuts are longer by so much."""

MOST_LENGTH = 25.0
"""Cuts are no longer together than so many times the square root of the area."""

MOST_CUTS = 200


def self_cut(region: Region, wanted: float, allowed: float) -> tuple[Region, Ints]:
    """The region cut open so that at least the share `wanted` of it lies true, and the half-edges of the cuts.

    allowed: a face that is stretched or squeezed by no more than that lies true. Where it cannot be had with cuts of a
    bearable length, it is as near to it as those bring it.
    """
    if region.one_sided:
        # No cut gives it two sides; what lays it flat says so.
        return region, NONE
    halves = to_disc(region)
    cut, _ = region.opened(halves)
    most = MOST_LENGTH * float(np.sqrt(region.areas.sum()))
    tried = 0.0
    for _ in range(MOST_CUTS):
        scale = log_scale(cut)
        length = float(region.lengths[halves].sum())
        promising = _hinted(cut, scale, HINTS * (allowed - 1)) >= min(WORTH_TRYING, wanted)
        if promising and (not tried or length > LONGER * tried):
            if _reached(cut, wanted, allowed):
                break
            tried = length
        new = next_cuts(cut, scale)
        if not len(new) or length + region.lengths[new].sum() > most:
            break
        halves = np.concatenate([halves, new])
        cut, _ = cut.opened(new)
    return cut, halves


def _hinted(region: Region, scale: Floats, slack: float) -> float:
    worst = np.abs(scale[region.triangles]).max(axis=1)
    return float(region.areas @ (worst <= slack) / region.areas.sum())


def _reached(region: Region, wanted: float, allowed: float) -> bool:
    try:
        return true_share(region, truly_flat(region, allowed), allowed) >= wanted
    except SolveError:
        return False
