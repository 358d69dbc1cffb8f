"""Random numbers of whole numbers: the same in the core, in the shader and on every machine.

`pcg4d` of M. Jarzynski and M. Olano, "Hash Functions for GPU Rendering", Journal of Computer Graphics Techniques
9(3), 2020. Everything is counted modulo 2^32; the shader has the same lines.
"""

from __future__ import annotations

import numpy as np

from pivrel.core.kernels import kernel

MASK = np.uint64(0xFFFFFFFF)
FACTOR = np.uint64(1664525)
STEP = np.uint64(1013904223)
HALF = np.uint64(16)


@kernel
def pcg4d(x: int, y: int, z: int, w: int) -> tuple[np.uint64, np.uint64, np.uint64, np.uint64]:
    """Four numbers below 2^32 of four whole numbers, negative ones as their two's complement."""
    a = (np.uint64(x) & MASK) * FACTOR + STEP & MASK
    b = (np.uint64(y) & MASK) * FACTOR + STEP & MASK
    c = (np.uint64(z) & MASK) * FACTOR + STEP & MASK
    d = (np.uint64(w) & MASK) * FACTOR + STEP & MASK
    for turn in range(2):
        a = a + b * d & MASK
        b = b + c * a & MASK
        c = c + a * b & MASK
        d = d + b * c & MASK
        if turn == 0:
            a, b, c, d = a ^ (a >> HALF), b ^ (b >> HALF), c ^ (c >> HALF), d ^ (d >> HALF)
    return a, b, c, d
