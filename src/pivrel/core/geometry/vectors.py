"""Vectors in rows."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats


def unit_rows(vectors: Floats) -> Floats:
    """(N, 3) the directions of vectors (N, 3); zero where one has no length."""
    out: Floats = vectors / np.maximum(np.sqrt(dots(vectors, vectors)), 1e-300)[:, None]
    return out


def dots(first: Floats, second: Floats) -> Floats:
    """(N,) the products of rows (N, K)."""
    out: Floats = np.einsum("ij,ij->i", first, second)
    return out
