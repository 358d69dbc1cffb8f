"""True: as much of the surface as can be within a few hundredths of its size, and the rest as near to that as it comes."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel
from pivrel.core.solve.even import RESTS, accelerated
from pivrel.core.solve.region import Region
from pivrel.core.solve.system import Axis, jacobian, solved, stretch_of

BAND, KNEE = 0.6, 0.4
"""Shares of the stretch allowed: up to the first, either way, stretch costs nothing; what lies beyond by more than the
second costs in proportion, and no longer by the square: a few faces bear it for the rest."""

LAST_BAND, LAST_KNEE = 0.9, 0.06
"""The same in the end, where faces just outside are brought in."""

MOST = 2.0
"""A face is drawn back from more stretch than this at once, either way."""

STEPS, LAST_STEPS = 18, 8

FEW, SIZES = 0.5, 0.2
"""Where less than that lies true to begin with, another size as a whole may be nearer: up to so much, as a logarithm."""

ALL = 0.9999
"""Where this share of the area is true, no step is worth its time."""


@kernel
def _banded(sigma: float, band: float, knee: float) -> tuple[float, float]:
    """What a singular value should come to in one step, and what it costs to be where it is."""
    near = min(max(sigma, 1 / band), band)
    off = sigma - near
    away = abs(off)
    if away <= knee:
        return near, off * off
    wanted = near + off * (1 - knee / away)
    return min(max(wanted, 1 / MOST), MOST), knee * (2 * away - knee)


@kernel
def banded_pull(
    triangles: Ints, gradients: Floats, areas: Floats, st: Floats, band: float, knee: float
) -> tuple[Floats, float]:
    """The right-hand sides (V, 2) that the band asks for, and the energy of st (V, 2) against it.

    With 2 p e^(i alpha) = (a + d) + i (c - b) and 2 q e^(i beta) = (a - d) + i (b + c) the singular values of
    [[a, b], [c, d]] are p + q and p - q, the second below zero where the face is turned over.
    """
    out = np.zeros(st.shape)
    energy = 0.0
    for f in range(len(triangles)):
        a, b, c, d = jacobian(triangles, gradients, st, f)
        px, py, qx, qy = (a + d) / 2, (c - b) / 2, (a - d) / 2, (b + c) / 2
        p, q = np.sqrt(px * px + py * py), np.sqrt(qx * qx + qy * qy)
        high, high_cost = _banded(p + q, band, knee)
        low, low_cost = _banded(p - q, band, knee)
        energy += areas[f] * (high_cost + low_cost)
        if p > 1e-300:
            px, py = px / p, py / p
        else:
            px, py = 1.0, 0.0
        if q > 1e-300:
            qx, qy = qx / q, qy / q
        else:
            qx, qy = 0.0, 0.0
        mean, half = (high + low) / 2, (high - low) / 2
        px, py, qx, qy = mean * px, mean * py, half * qx, half * qy
        for k in range(3):
            v = triangles[f, k]
            x, y = areas[f] * gradients[f, k, 0], areas[f] * gradients[f, k, 1]
            out[v, 0] += (px + qx) * x + (qy - py) * y
            out[v, 1] += (py + qy) * x + (px - qx) * y
    return out, energy


def true(region: Region, axes: tuple[Axis, Axis], st: Floats, allowed: float) -> Floats:
    """(V, 2) mm: from a start (V, 2) on to a laying of which as much as can be is stretched by no more than `allowed`."""
    best, most = st, true_share(region, st, allowed)
    if most < FEW:
        best, most = _resized(region, st, allowed)
    stages = ((BAND, KNEE, STEPS), (LAST_BAND, LAST_KNEE, LAST_STEPS))
    for band, knee, steps in stages:
        if most >= ALL:
            break
        st = _stepped(region, axes, best, 1 + band * (allowed - 1), knee * (allowed - 1), steps)
        share = true_share(region, st, allowed)
        if share > most:
            best, most = st, share
    return best


def _resized(region: Region, st: Floats, allowed: float) -> tuple[Floats, float]:
    """The same, as much larger or smaller as brings most of it within what is allowed, and its true share."""
    high, low = stretch_of(region, st)
    sizes = np.exp(np.linspace(-SIZES, SIZES, 41))
    within = (high * sizes[:, None] <= allowed) & (low * sizes[:, None] >= 1 / allowed)
    shares = within @ region.areas / region.areas.sum()
    best = int(np.argmax(np.round(shares, 9)))
    return st * sizes[best], float(shares[best])


def _stepped(
    region: Region, axes: tuple[Axis, Axis], st: Floats, band: float, knee: float, steps: int
) -> Floats:
    def step(at: Floats) -> tuple[Floats, float]:
        right, energy = banded_pull(region.triangles, region.gradients, region.areas, at, band, knee)
        return solved(axes, right), energy

    return accelerated(step, st, steps, RESTS * float(np.sqrt(region.areas.sum())))


def true_share(region: Region, st: Floats, allowed: float) -> float:
    """The share of the area that st (V, 2) stretches and squeezes by no more than `allowed`."""
    high, low = stretch_of(region, st)
    return float(region.areas @ ((high <= allowed) & (low >= 1 / allowed)) / region.areas.sum())
