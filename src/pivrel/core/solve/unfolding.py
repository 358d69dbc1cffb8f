"""Faces that a solution lays folded over, laid open again."""

from __future__ import annotations

import numpy as np
from scipy.optimize import linprog

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.solve.even import even
from pivrel.core.solve.region import Region
from pivrel.core.solve.system import axis, laplacian, singular_values, stretch_of
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
    vertices = np.unique(region.triangles[folded(region, st)])
    near = np.flatnonzero(np.isin(region.triangles, vertices).any(axis=1))
    for vertex in vertices[loose[vertices]].tolist():
        ring = near[(region.triangles[near] == vertex).any(axis=1)]
        edges = _edges_round(region.triangles[ring], vertex)
        place = _inside(st[edges[:, 0]], st[edges[:, 1]])
        if place is not None:
            was = st[vertex].copy()
            for share in (0.25, 0.5, 0.75, 1.0):
                st[vertex] = was + share * (place - was)
                if _least(region, ring, st) > CLEAR:
                    break
    return st


def _edges_round(triangles: Ints, vertex: int) -> Ints:
    """(R, 2) the edges opposite a vertex, in the sense of their triangles."""
    at = np.argmax(triangles == vertex, axis=1)
    rows = np.arange(len(triangles))
    return np.stack([triangles[rows, (at + 1) % 3], triangles[rows, (at + 2) % 3]], axis=1)


def _inside(start: Floats, end: Floats) -> Floats | None:
    """The place that stays farthest to the left of all edges, (R, 2) to (R, 2); None where none is left of all."""
    along = end - start
    length = np.linalg.norm(along, axis=1)
    if not (length > 0).all():
        return None
    normal = np.stack([-along[:, 1], along[:, 0]], axis=1) / length[:, None]
    middle = start.mean(axis=0)
    bound = np.einsum("ij,ij->i", normal, start - middle)
    # The largest circle within: n . x - r >= n . start.
    found = linprog(
        [0, 0, -1], np.column_stack([-normal, np.ones(len(bound))]), -bound,
        bounds=[(None, None), (None, None), (None, float(length.max()))],
    )  # fmt: skip
    return found.x[:2] + middle if found.status == 0 and found.x[2] > 0 else None


def _least(region: Region, rows: Ints, st: Floats) -> float:
    """The smallest signed stretch of some triangles."""
    j = np.einsum("tkr,tkc->trc", st[region.triangles[rows]], region.gradients[rows])
    return float(singular_values(j)[1].min())
