"""Faces that a solution lays folded over, laid open again."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Mask, distinct
from pivrel.core.solve.even import even
from pivrel.core.solve.region import Region
from pivrel.core.solve.rings import ahead_of, deepest, move
from pivrel.core.solve.system import axis, laplacian, stretch_of
from pivrel.core.solve.ties import Ties

PASSES = 6
"""How often the vertices of folded faces are moved, and how often such faces are made stiffer."""

STIFFER = 8.0
MOST = 500
"""Where more faces than this lie folded, moving their vertices does not help."""

CLEAR = 0.05
"""The stretch below which a moved vertex is moved on."""


def unfolded(region: Region, ties: tuple[Ties, Ties], st: Floats) -> Floats:
    """(V, 2) mm: the same, but for vertices of folded faces and, where moving those does not do, what is round them.

    A face that the surface itself folds may stay folded.
    """
    best, least = st, folded(region, st).sum()
    weights = region.areas.copy()
    for _ in range(PASSES):
        if not 0 < least <= MOST:
            break
        moved = opened_again(region, ties, best)
        if (count := folded(region, moved).sum()) < least:
            best, least = moved, count
            continue
        weights[folded(region, st)] *= STIFFER
        matrix = laplacian(region, weights)
        st = even(region, (axis(matrix, ties[0]), axis(matrix, ties[1])), st, weights)
        if (count := folded(region, st).sum()) < least:
            best, least = st, count
    return best


def folded(region: Region, st: Floats) -> Mask:
    """(T,) the triangles that lie folded over."""
    out: Mask = stretch_of(region, st)[1] <= 0
    return out


def opened_again(region: Region, ties: tuple[Ties, Ties], st: Floats) -> Floats:
    """(V, 2) mm: the same, but for vertices of folded faces, which are moved to where they see what is round them."""
    for _ in range(PASSES):
        if not 0 < folded(region, st).sum() <= MOST:
            break
        st = _moved_inside(region, _loose(ties), st)
    return st


def _loose(ties: tuple[Ties, Ties]) -> Mask:
    """(V,) vertices that no tie holds in either coordinate."""
    out = np.ones(len(ties[0].start), bool)
    for one in ties:
        users = np.bincount(one.matrix.indices, minlength=one.matrix.shape[1])
        rows = np.diff(one.matrix.indptr)
        alone = np.zeros(len(out), bool)
        single = np.flatnonzero(rows == 1)
        alone[single] = users[one.matrix.indices[one.matrix.indptr[single]]] == 1
        out &= alone
    return out


def _moved_inside(region: Region, loose: Mask, st: Floats) -> Floats:
    """Each loose vertex of a folded face put where it sees the whole ring of faces round it, where it can."""
    st = st.copy()
    vertices = distinct(region.triangles[folded(region, st)])
    vertices = vertices[loose[vertices]]
    slots = np.flatnonzero(np.isin(region.triangles.reshape(-1), vertices))
    slots = slots[np.argsort(region.triangles.reshape(-1)[slots], kind="stable")]
    start = np.searchsorted(region.triangles.reshape(-1)[slots], np.append(vertices, len(loose)))
    for at, vertex in enumerate(vertices.tolist()):
        ring = slots[start[at] : start[at + 1]]
        place, seen = deepest(*ahead_of(region.triangles, ring, st))
        if seen:
            move(region.triangles, region.gradients, ring, st, vertex, place, CLEAR)
    return st
