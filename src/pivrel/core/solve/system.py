"""The global step of the one solver: coordinates whose gradients come as near as can be to targets given by triangle.

Local and global steps as in O. Sorkine and M. Alexa, "As-rigid-as-possible surface modeling", Symposium on Geometry
Processing 2007, for the plane after L. Liu, L. Zhang, Y. Xu, C. Gotsman and S. Gortler, "A local/global approach to
mesh parameterization", Computer Graphics Forum 27(5), 2008.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from scipy.sparse import csc_array, csr_array

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel
from pivrel.core.solve.factors import Factors
from pivrel.core.solve.kept import once
from pivrel.core.solve.region import Region
from pivrel.core.solve.ties import Ties

LIFT = 1e-12
"""Added to the diagonal, as a share of its mean, so that what nothing holds stays where it is."""


@dataclass(frozen=True)
class Axis:
    """One coordinate's ties, and the factors of what is left to be found of it; they serve as long as the ties do."""

    ties: Ties
    factors: Factors | None
    pull: Floats
    """(Z,) what the known values ask of the unknown ones."""

    def solved(self, right: Floats) -> Floats:
        """(V,) mm, from the right-hand side (V,) by vertex."""
        if self.factors is None:
            return self.ties.start
        return self.ties.matrix @ self.factors.solve(self.ties.matrix.T @ right - self.pull) + self.ties.start


@once
def cotangent(region: Region) -> csr_array:
    """(V, V) the cotangent matrix."""
    return laplacian(region, region.areas)


def laplacian(region: Region, weights: Floats) -> csr_array:
    """(V, V) the sum over triangles of weight (T,) times products of gradients."""
    g = region.gradients
    blocks = np.einsum("tia,tja,t->tij", g, g, weights)
    return assembled(region, blocks)


def assembled(region: Region, blocks: Floats) -> csr_array:
    """(V, V) the sum of what each triangle has for its corners, (T, 3, 3)."""
    rows = np.repeat(region.triangles, 3, axis=1).reshape(-1)
    columns = np.tile(region.triangles, (1, 3)).reshape(-1)
    count = len(region.points)
    return csr_array((blocks.reshape(-1), (rows, columns)), (count, count))


def axis(matrix: csr_array, ties: Ties) -> Axis:
    """The factors for one coordinate; matrix: from `laplacian`, with whatever was added to it."""
    reduced = csc_array(ties.matrix.T @ matrix @ ties.matrix)
    if not reduced.shape[0]:
        return Axis(ties, None, np.empty(0))
    reduced.setdiag(reduced.diagonal() + LIFT * max(float(reduced.diagonal().mean()), 1e-300))
    return Axis(ties, Factors(reduced), ties.matrix.T @ (matrix @ ties.start))


def even_axis(region: Region, ties: Ties) -> Axis:
    """The factors for one coordinate under the cotangent matrix; those of the same ties before are kept."""
    matrix = cotangent(region)
    found = region.kept.get(("axis", ties.name), lambda: axis(matrix, ties))
    return replace(found, ties=ties, pull=ties.matrix.T @ (matrix @ ties.start))


def solved(axes: tuple[Axis, Axis], right: Floats) -> Floats:
    """(V, 2) mm, s and t from their right-hand sides (V, 2)."""
    return np.stack([axes[k].solved(right[:, k]) for k in (0, 1)], axis=1)


@kernel
def pulled(triangles: Ints, gradients: Floats, areas: Floats, targets: Floats, count: int) -> Floats:
    """(count, 2) right-hand sides for s and t. targets: (T, 2, 2) the gradients of s and of t asked for."""
    out = np.zeros((count, 2))
    for f in range(len(triangles)):
        for k in range(3):
            v = triangles[f, k]
            x, y = areas[f] * gradients[f, k, 0], areas[f] * gradients[f, k, 1]
            out[v, 0] += x * targets[f, 0, 0] + y * targets[f, 0, 1]
            out[v, 1] += x * targets[f, 1, 0] + y * targets[f, 1, 1]
    return out


@kernel
def jacobian(triangles: Ints, gradients: Floats, st: Floats, f: int) -> tuple[float, float, float, float]:
    """The gradients of s and of t (V, 2) in the plane of one triangle: [[a, b], [c, d]]."""
    a = b = c = d = 0.0
    for k in range(3):
        v = triangles[f, k]
        x, y = gradients[f, k, 0], gradients[f, k, 1]
        a += st[v, 0] * x
        b += st[v, 0] * y
        c += st[v, 1] * x
        d += st[v, 1] * y
    return a, b, c, d


@kernel
def jacobians(triangles: Ints, gradients: Floats, st: Floats) -> Floats:
    """(T, 2, 2) the gradients of s and of t (V, 2) in each triangle's plane."""
    out = np.empty((len(triangles), 2, 2))
    for f in range(len(triangles)):
        out[f, 0, 0], out[f, 0, 1], out[f, 1, 0], out[f, 1, 1] = jacobian(triangles, gradients, st, f)
    return out


def stretch_of(region: Region, st: Floats) -> tuple[Floats, Floats]:
    """(T,) the larger singular value of surface mm to sheet mm, and the smaller one, below zero where it flips."""
    return singular_values(jacobians(region.triangles, region.gradients, st))


def singular_values(j: Floats) -> tuple[Floats, Floats]:
    """(T,) the larger singular value of each (2, 2) of j, and the smaller one, below zero where it flips."""
    p = np.hypot(j[:, 0, 0] + j[:, 1, 1], j[:, 1, 0] - j[:, 0, 1]) / 2
    q = np.hypot(j[:, 0, 0] - j[:, 1, 1], j[:, 1, 0] + j[:, 0, 1]) / 2
    return p + q, p - q
