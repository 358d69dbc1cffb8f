"""Vectors in rows."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats


def unit_rows(vectors: Floats) -> Floats:
    """(N, 3) the directions of vectors (N, 3); zero where one has no length."""
    out: Floats = vectors / np.maximum(np.linalg.norm(vectors, axis=1, keepdims=True), 1e-300)
    return out
