"""Values between the corners of triangles."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel


# Without Python's lock, so that two threads work at once.
@kernel
def between(values: Floats, corners: Ints, shares: Floats) -> Floats:
    """(N, D) what values (C, D) come to at points with shares (N, 3) of the corners (N, 3)."""
    out = np.zeros((len(corners), values.shape[1]))
    for n in range(len(corners)):
        for k in range(3):
            c, share = corners[n, k], shares[n, k]
            for d in range(values.shape[1]):
                out[n, d] += share * values[c, d]
    return out
