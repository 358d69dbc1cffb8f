"""Even: every triangle as nearly rigid as the rest allows, and guided where a direction is asked for."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel
from pivrel.core.solve.region import Region
from pivrel.core.solve.system import Axis, jacobian, solved

DEPTH = 5
"""Steps that the acceleration looks back on."""

STEPS = 200

RESTS = 1e-7
"""A step that moves nothing by more than this share of the region's size is the last."""


@kernel
def turned_pull(
    triangles: Ints, gradients: Floats, areas: Floats, st: Floats, pull: Floats, angle: Floats
) -> tuple[Floats, float]:
    """The right-hand sides (V, 2) that rotations ask for, and the energy of st (V, 2) against them.

    The nearest rotation of [[a, b], [c, d]] turns by the angle of (a + d) + i (c - b) = 2 p e^(i alpha). Where a
    triangle is pulled (T,), that of 2 p e^(i alpha) + 2 mu e^(i phi) is taken, phi the one that lays the direction at
    `angle` (T,) in its own plane along s, and mu twice the pull.
    """
    out = np.zeros(st.shape)
    energy = 0.0
    for f in range(len(triangles)):
        a, b, c, d = jacobian(triangles, gradients, st, f)
        u, w = a + d, c - b
        wx = wy = mu = 0.0
        if pull[f] > 0:
            mu = 2 * pull[f]
            wx, wy = np.cos(angle[f]), -np.sin(angle[f])
            # Along the stroke either way, whichever is nearer.
            if u * wx + w * wy < 0:
                wx, wy = -wx, -wy
            u, w = u + 2 * mu * wx, w + 2 * mu * wy
        size = np.sqrt(u * u + w * w)
        cosine, sine = (u / size, w / size) if size > 1e-300 else (1.0, 0.0)
        area = areas[f]
        energy += area * ((a - cosine) ** 2 + (b + sine) ** 2 + (c - sine) ** 2 + (d - cosine) ** 2)
        if pull[f] > 0:
            slope = c * np.cos(angle[f]) + d * np.sin(angle[f])
            energy += area * (pull[f] * slope * slope + 4 * mu * (1 - cosine * wx - sine * wy))
        for k in range(3):
            v = triangles[f, k]
            x, y = area * gradients[f, k, 0], area * gradients[f, k, 1]
            out[v, 0] += cosine * x - sine * y
            out[v, 1] += sine * x + cosine * y
    return out, energy


def even(
    region: Region,
    axes: tuple[Axis, Axis],
    st: Floats,
    weights: Floats | None = None,
    guide: tuple[Floats, Floats] | None = None,
    steps: int = STEPS,
) -> Floats:
    """(V, 2) mm: local and global steps from a start (V, 2), accelerated, until nothing moves any more.

    weights: (T,) that the axes were made with, the areas where there are none. guide: (T,) pulls and (T,) angles, as
    `turned_pull` has them. steps: after these it ends, at rest or not; 0 takes the first alone.
    """
    weights = region.areas if weights is None else weights
    none = np.zeros(len(region.triangles))
    pull, angle = (none, none) if guide is None else guide

    def step(at: Floats) -> tuple[Floats, float]:
        right, energy = turned_pull(region.triangles, region.gradients, weights, at, pull, angle)
        return solved(axes, right), energy

    return accelerated(step, st, steps, RESTS * float(np.sqrt(region.areas.sum())))


def accelerated(
    step: Callable[[Floats], tuple[Floats, float]], start: Floats, steps: int, rests: float
) -> Floats:
    """The fixed point of a step that never raises its energy, by Anderson acceleration.

    step: gives the next point, and the energy of the one that it was given. rests: a step that moves no coordinate
    further is the last. After Y. Peng, B. Deng, J. Zhang, F. Geng, W. Qin and L. Liu, "Anderson acceleration for
    geometry optimization and physics simulation", ACM Transactions on Graphics 37(4), 2018.
    """
    at = start
    after, lowest = step(at)
    safe = after
    moves: list[Floats] = []
    residuals: list[Floats] = []
    was: tuple[Floats, Floats] | None = None
    for _ in range(steps):
        residual = after - at
        if np.abs(residual).max() <= rests:
            break
        if was is not None:
            moves.append((after - was[0]).reshape(-1))
            residuals.append((residual - was[1]).reshape(-1))
            del moves[:-DEPTH], residuals[:-DEPTH]
        was = (after, residual)
        guess = after
        if residuals:
            r = np.array(residuals)
            normal = r @ r.T
            normal[np.diag_indices(len(r))] += 1e-14 * np.trace(normal) + 1e-300
            share = np.linalg.solve(normal, r @ residual.reshape(-1))
            guess = after - (share @ np.array(moves)).reshape(after.shape)
        then, energy = step(guess)
        if energy > lowest:
            # The guess led uphill: on from the plain step, with nothing to look back on.
            guess, moves, residuals, was = safe, [], [], None
            then, energy = step(guess)
        at, after, safe, lowest = guess, then, then, energy
    return after
