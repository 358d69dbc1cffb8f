"""Gradient noise of places in space.

K. Perlin, "Improving Noise", SIGGRAPH 2002: the fade 6t^5 - 15t^4 + 10t^3 and its twelve gradients, sixteen by the last
four bits; the corners of the lattice are hashed by `pcg4d` with the seed as the fourth number.
"""

from __future__ import annotations

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats
from pivrel.core.coats.hashing import pcg4d
from pivrel.core.kernels import kernel


@kernel
def _gradient(bits: int, x: float, y: float, z: float) -> float:
    """The product of a place with one of the gradients."""
    h = bits & 15
    u = x if h < 8 else y
    v = y if h < 4 else (x if h in (12, 14) else z)
    return (-u if h & 1 else u) + (-v if h & 2 else v)


@kernel
def _faded(t: float) -> float:
    return t * t * t * (t * (t * 6.0 - 15.0) + 10.0)


@kernel
def noise_at(x: float, y: float, z: float, seed: int) -> float:
    """The noise at a place in cells of the lattice: 0 at its corners, from about -1 to 1."""
    i, j, k = int(np.floor(x)), int(np.floor(y)), int(np.floor(z))
    fx, fy, fz = x - i, y - j, z - k
    u, v, w = _faded(fx), _faded(fy), _faded(fz)
    total = 0.0
    for a in range(2):
        for b in range(2):
            for c in range(2):
                bits = int(pcg4d(i + a, j + b, k + c, seed)[0])
                share = (u if a else 1 - u) * (v if b else 1 - v) * (w if c else 1 - w)
                total += share * _gradient(bits, fx - a, fy - b, fz - c)
    return total


@kernel(parallel=True)
def octaves_at(points: Floats, size_mm: float, seed: int, octaves: int) -> Floats:
    """(N,) 0 to 1: the noise at points (N, 3) mm, each octave half as large and half as strong as the one before."""
    out = np.empty(len(points))
    for n in prange(len(points)):
        total, whole, share, scale = 0.0, 0.0, 1.0, 1.0 / size_mm
        for octave in range(octaves):
            total += share * noise_at(
                points[n, 0] * scale, points[n, 1] * scale, points[n, 2] * scale, seed + octave
            )
            whole += share
            share *= 0.5
            scale *= 2.0
        out[n] = min(max(0.5 + 0.5 * total / whole, 0.0), 1.0)
    return out
