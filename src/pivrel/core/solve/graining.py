"""Grain lines: a laying turned and bent so that its s follows strokes on the surface."""

from __future__ import annotations

import numpy as np
from numba import njit
from scipy.sparse import csc_array, csr_array, diags_array
from scipy.sparse.linalg import splu

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.solve.even import RESTS, STEPS, accelerated
from pivrel.core.solve.region import Region
from pivrel.core.solve.strokes import Felt
from pivrel.core.solve.system import Axis, axis, jacobians, laplacian, pulled
from pivrel.core.solve.ties import Ties
from pivrel.core.solve.unfolding import folded, opened_again

PULLS = (30.0, 10.0, 3.0, 1.0)
"""How much more than its own shape a triangle on a stroke weighs that t does not change along it; the next one where
faces would fold over."""

REST = 0.02
"""How strongly everything keeps its direction where no stroke reaches."""


def grained(region: Region, ties: tuple[Ties, Ties], st: Floats, felt: Felt, reach: float) -> Floats:
    """(V, 2) mm: the laying st (V, 2) made to follow strokes, within its ties.

    reach: how far a stroke turns what lies round it, as a share of the square root of the region's area.
    """
    if not felt.any:
        return st
    turn, st = _spread(region, st, felt, reach)
    own = _rotation(region, st)
    targets = _rotations(own + turn)
    matrix = laplacian(region)
    right = pulled(region.triangles, region.gradients, region.areas, targets, len(region.points))
    for pull in PULLS:
        axes = axis(matrix, ties[0]), axis(matrix + _along(region, felt, pull), ties[1])
        start = np.stack([axes[k].solved(right[:, k]) for k in (0, 1)], axis=1)
        found = opened_again(region, ties, _guided(region, axes, start, felt, pull))
        if not folded(region, found).any():
            return found
    return st


def _rotation(region: Region, st: Floats) -> Floats:
    """(T,) radians by which each triangle is turned onto the sheet."""
    j = jacobians(region.triangles, region.gradients, st)
    out: Floats = np.arctan2(j[:, 1, 0] - j[:, 0, 1], j[:, 0, 0] + j[:, 1, 1])
    return out


def _rotations(angle: Floats) -> Floats:
    """(T, 2, 2) rotation matrices."""
    cosine, sine = np.cos(angle), np.sin(angle)
    return np.stack([np.stack([cosine, -sine], axis=1), np.stack([sine, cosine], axis=1)], axis=1)


def _spread(region: Region, st: Floats, felt: Felt, reach: float) -> tuple[Floats, Floats]:
    """(T,) radians by which each triangle should be turned further, and the laying turned as a whole beforehand.

    What strokes miss by is spread over the surface by (M + l² L), so that it fades out at the distance l.
    """
    weight = region.areas * felt.near
    off = -(_rotation(region, st) + felt.angle)
    # A stroke says a line, not which way along it; each is taken the way that is nearest to the first's.
    means = [np.angle(weight[own] @ np.exp(1j * off[own])) for own in _by_stroke(felt)]
    for own, mean in zip(_by_stroke(felt), means, strict=True):
        if np.cos(mean - means[0]) < 0:
            off = np.where(own, off + np.pi, off)
    whole = np.angle(weight @ np.exp(1j * off))
    st = st @ np.array([[np.cos(whole), np.sin(whole)], [-np.sin(whole), np.cos(whole)]])
    length = reach * float(np.sqrt(region.areas.sum()))
    count = len(region.points)
    mass = np.bincount(region.triangles.reshape(-1), np.repeat(region.areas / 3, 3), count)
    screened = csc_array(diags_array(mass) + length**2 * laplacian(region))
    factors = splu(
        screened, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True}
    )

    def out(values: Floats) -> Floats:
        right = np.bincount(region.triangles.reshape(-1), np.repeat(values / 3, 3), count)
        found: Floats = factors.solve(right)
        return found

    miss = off - whole
    share = out(weight)
    z = out(weight * np.cos(miss)) + 1j * out(weight * np.sin(miss)) + REST * float(share.max())
    turn: Floats = np.angle(z[region.triangles].sum(axis=1))
    return turn, st


def _by_stroke(felt: Felt) -> list[Mask]:
    """(T,) the triangles of each stroke that any feels."""
    used = np.unique(felt.stroke[felt.near > 0])
    return [(felt.near > 0) & (felt.stroke == number) for number in used.tolist()]


def _along(region: Region, felt: Felt, pull: float) -> csr_array:
    """(V, V) what a change of t along strokes costs."""
    d = np.stack([np.cos(felt.angle), np.sin(felt.angle)], axis=1)
    slope = np.einsum("tkx,tx->tk", region.gradients, d)
    blocks = pull * (region.areas * felt.near)[:, None, None] * slope[:, :, None] * slope[:, None, :]
    rows = np.repeat(region.triangles, 3, axis=1).reshape(-1)
    columns = np.tile(region.triangles, (1, 3)).reshape(-1)
    count = len(region.points)
    return csr_array((blocks.reshape(-1), (rows, columns)), (count, count))


def _guided(region: Region, axes: tuple[Axis, Axis], st: Floats, felt: Felt, pull: float) -> Floats:
    """Even steps, in which triangles near strokes turn towards them."""

    def step(at: Floats) -> tuple[Floats, float]:
        right, energy = _guided_pull(
            region.triangles, region.gradients, region.areas, at, pull * felt.near, felt.angle
        )
        return np.stack([axes[k].solved(right[:, k]) for k in (0, 1)], axis=1), energy

    return accelerated(step, st, STEPS, RESTS * float(np.sqrt(region.areas.sum())))


@njit(cache=True)
def _guided_pull(
    triangles: Ints, gradients: Floats, areas: Floats, st: Floats, pull: Floats, angle: Floats
) -> tuple[Floats, float]:
    """As `rigid_pull`, with the rotation at the angle of 2 p e^(i alpha) + 2 mu e^(i phi), phi the one that lays the stroke
    along s, and the energy that goes with it."""
    out = np.zeros(st.shape)
    energy = 0.0
    for f in range(len(triangles)):
        a = b = c = d = 0.0
        for k in range(3):
            v = triangles[f, k]
            x, y = gradients[f, k, 0], gradients[f, k, 1]
            a += st[v, 0] * x
            b += st[v, 0] * y
            c += st[v, 1] * x
            d += st[v, 1] * y
        mu = 2 * pull[f]
        # Along the stroke either way, whichever is nearer.
        wx, wy = np.cos(angle[f]), -np.sin(angle[f])
        if (a + d) * wx + (c - b) * wy < 0:
            wx, wy = -wx, -wy
        u, w = a + d + 2 * mu * wx, c - b + 2 * mu * wy
        size = np.sqrt(u * u + w * w)
        cosine, sine = (u / size, w / size) if size > 1e-300 else (1.0, 0.0)
        area = areas[f]
        slope = c * np.cos(angle[f]) + d * np.sin(angle[f])
        energy += area * ((a - cosine) ** 2 + (b + sine) ** 2 + (c - sine) ** 2 + (d - cosine) ** 2)
        energy += area * (pull[f] * slope * slope + 4 * mu * (1 - cosine * wx - sine * wy))
        for k in range(3):
            v = triangles[f, k]
            x, y = area * gradients[f, k, 0], area * gradients[f, k, 1]
            out[v, 0] += cosine * x - sine * y
            out[v, 1] += sine * x + cosine * y
    return out, energy
