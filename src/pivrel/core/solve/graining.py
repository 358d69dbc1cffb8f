"""Grain lines: a laying turned and bent so that its s follows strokes on the surface."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csc_array, csr_array, diags_array

from pivrel.core.arrays import Floats, Mask, distinct
from pivrel.core.solve.even import even
from pivrel.core.solve.factors import Factors
from pivrel.core.solve.region import Region
from pivrel.core.solve.strokes import Felt
from pivrel.core.solve.system import (
    assembled,
    axis,
    cotangent,
    even_axis,
    jacobians,
    pulled,
    solved,
)
from pivrel.core.solve.ties import Ties
from pivrel.core.solve.unfolding import folded, opened_again

PULLS = (30.0, 10.0, 3.0, 1.0)
"""How much more than its own shape a triangle on a stroke weighs that t does not change along it; the next one where
faces would fold over."""

STRONGER = (300.0, 100.0)
"""Before those where borders are kept to, which hold against a stroke."""

REST = 0.02
"""How strongly everything keeps its direction where no stroke reaches."""


def grained(
    region: Region,
    ties: tuple[Ties, Ties],
    st: Floats,
    felt: Felt,
    reach: float,
    turns: bool = True,
    hasty: bool = False,
) -> Floats:
    """(V, 2) mm: the laying st (V, 2) made to follow strokes, within its ties.

    reach: how far a stroke turns what lies round it, as a share of the square root of the region's area. turns: whether
    the laying may turn as a whole. hasty: as the factors that serve again find it, before the strokes are kept to.
    """
    if not felt.any:
        return st
    angle, whole = _spread(region, st, felt, reach, turns)
    right = pulled(region.triangles, region.gradients, region.areas, _rotations(angle), len(region.points))
    plain = even_axis(region, ties[0]), even_axis(region, ties[1])
    if hasty:
        return solved(plain, right)
    for pull in PULLS if turns else STRONGER + PULLS:
        axes = plain[0], axis(cotangent(region) + _along(region, felt, pull), ties[1])
        start = solved(axes, right)
        found = opened_again(region, ties, even(region, axes, start, guide=(pull * felt.near, felt.angle)))
        if not folded(region, found).any():
            return found
    return st @ np.array([[np.cos(whole), np.sin(whole)], [-np.sin(whole), np.cos(whole)]])


def _rotation(region: Region, st: Floats) -> Floats:
    """(T,) radians by which each triangle is turned onto the sheet."""
    j = jacobians(region.triangles, region.gradients, st)
    out: Floats = np.arctan2(j[:, 1, 0] - j[:, 0, 1], j[:, 0, 0] + j[:, 1, 1])
    return out


def _rotations(angle: Floats) -> Floats:
    """(T, 2, 2) rotation matrices."""
    cosine, sine = np.cos(angle), np.sin(angle)
    return np.stack([np.stack([cosine, -sine], axis=1), np.stack([sine, cosine], axis=1)], axis=1)


def _spread(region: Region, st: Floats, felt: Felt, reach: float, turns: bool) -> tuple[Floats, float]:
    """(T,) radians by which each triangle should be turned onto the sheet, and by how many the laying turns as a whole.

    What strokes miss by is spread over the surface by (M + l² L), so that it fades out at the distance l.
    """
    weight = region.areas * felt.near
    own = _rotation(region, st)
    off = -(own + felt.angle)
    strokes = _by_stroke(felt)
    # A stroke says a line, not which way along it; each is taken the way that is nearest to the first's.
    means = [np.angle(weight[on] @ np.exp(1j * off[on])) for on in strokes]
    for on, mean in zip(strokes, means, strict=True):
        if np.cos(mean - means[0]) < 0:
            off = np.where(on, off + np.pi, off)
    # What cannot turn as a whole lies along the line either way.
    whole = float(np.angle(weight @ np.exp(1j * off))) if turns else 0.0
    if not turns:
        off = np.where(np.cos(off) < 0, off + np.pi, off)
    count = len(region.points)
    factors = region.kept.get(("screened", reach), lambda: _screened(region, reach))

    def out(values: Floats) -> Floats:
        right = np.bincount(region.triangles.reshape(-1), np.repeat(values / 3, 3), count)
        return factors.solve(right.astype(float))

    miss = off - whole
    share = out(weight)
    z = out(weight * np.cos(miss)) + 1j * out(weight * np.sin(miss)) + REST * float(share.max())
    a, b, c = region.triangles.T
    turn: Floats = np.angle(z[a] + z[b] + z[c])
    return own + whole + turn, whole


def _screened(region: Region, reach: float) -> Factors:
    """The factors of M + l² L, l the reach in mm."""
    length = reach * float(np.sqrt(region.areas.sum()))
    mass = np.bincount(region.triangles.reshape(-1), np.repeat(region.areas / 3, 3), len(region.points))
    return Factors(csc_array(diags_array(mass) + length**2 * cotangent(region)))


def _by_stroke(felt: Felt) -> list[Mask]:
    """(T,) the triangles of each stroke that any feels."""
    used = distinct(felt.stroke[felt.near > 0])
    return [(felt.near > 0) & (felt.stroke == number) for number in used.tolist()]


def _along(region: Region, felt: Felt, pull: float) -> csr_array:
    """(V, V) what a change of t along strokes costs."""
    d = np.stack([np.cos(felt.angle), np.sin(felt.angle)], axis=1)
    slope = np.einsum("tkx,tx->tk", region.gradients, d)
    blocks = pull * (region.areas * felt.near)[:, None, None] * slope[:, :, None] * slope[:, None, :]
    return assembled(region, blocks)
