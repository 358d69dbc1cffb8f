"""Free flattening: a region laid flat without borders that it has to keep to, as evenly as it can be."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csc_array, csr_array
from shapely import MultiPoint, minimum_rotated_rectangle

from pivrel.core.arrays import Floats
from pivrel.core.geometry.fits.frame import level_across
from pivrel.core.solve.border import loops
from pivrel.core.solve.even import even
from pivrel.core.solve.factors import Factors
from pivrel.core.solve.kept import once
from pivrel.core.solve.region import Region
from pivrel.core.solve.solution import SolveError, refuse_closed
from pivrel.core.solve.system import assembled, cotangent, even_axis, jacobians
from pivrel.core.solve.ties import Tied, Ties
from pivrel.core.solve.true import true
from pivrel.core.solve.unfolding import folded, unfolded

FIRST = 5
"""Even steps before as much as can be is made true: they take the worst out of a conformal start."""

WEAK = 0.1
"""Where directions agree on the sheet by less than this share of the area, they are none."""

FLAT = 1e-9
"""What stands off its own plane by no more than this share of its size is flat already."""


@once
def lying(region: Region) -> Floats | None:
    """(V, 2) mm in its own plane, standing as it stands on the model, where the region is flat; None where it is not."""
    _, normal = _frames(region)
    mean = region.areas @ normal
    mean /= max(float(np.linalg.norm(mean)), 1e-300)
    away = (region.points - region.points[0]) @ mean
    size = float(np.ptp(region.points, axis=0).max())
    if float(np.abs(away).max()) > FLAT * size or float((normal @ mean).min()) < 0.5:
        return None
    across = level_across(mean)
    out: Floats = (region.points - region.points[0]) @ np.stack([across, np.cross(mean, across)], axis=1)
    return out


@once
def flattened(region: Region) -> Floats:
    """(V, 2) mm: conformal to begin with, then even, standing as the region stands on the model.

    SolveError where the region has no border, or one side only, or would fold over itself.
    """
    refuse_closed(region)
    if (flat := lying(region)) is not None:
        return flat
    ties = free(region)
    start = conformal(region)
    axes = even_axis(region, ties), even_axis(region, ties)
    st = unfolded(region, (ties, ties), even(region, axes, start - start[0]))
    if folded(region, st).any():
        raise SolveError("this region cannot be laid flat without folding over itself: divide the pick")
    return st @ standing(region, st)


def truly_flat(region: Region, allowed: float) -> Floats:
    """(V, 2) mm: as much of it as can be stretched by no more than `allowed`. SolveError as `flattened`.

    What was found of a region before is not looked for again.
    """
    return region.kept.get(("true", allowed), lambda: _truly_flat(region, allowed))


def _truly_flat(region: Region, allowed: float) -> Floats:
    refuse_closed(region)
    if (flat := lying(region)) is not None:
        return flat
    ties = free(region)
    axes = even_axis(region, ties), even_axis(region, ties)
    start = conformal(region)
    st = true(region, axes, even(region, axes, start - start[0], steps=FIRST), allowed)
    if folded(region, st).any():
        st = unfolded(region, (ties, ties), st)
    if folded(region, st).any():
        return flattened(region)
    return st


@once
def free(region: Region) -> Ties:
    """Nothing is held but one vertex, so that the sheet does not drift."""
    tied = Tied.of(region)
    held = np.setdiff1d(region.triangles[0], tied.within[:, 0])
    tied.fixed.append((held[:1], 0.0))
    return tied.ties()


def conformal(region: Region) -> Floats:
    """(V, 2) mm: least-squares conformal, two places of its border held as far apart as they are; as large as the region.

    B. Lévy, S. Petitjean, N. Ray and J. Maillot, "Least squares conformal maps for automatic texture atlas generation",
    ACM Transactions on Graphics 21(3), 2002.
    """
    # With z = s + i t, both coordinates are one of complex numbers.
    matrix = csr_array(cotangent(region) + 1j * _turning(region))
    rim = loops(region)[0]
    far = int(np.argmax(((rim.points - rim.points[0]) ** 2).sum(axis=1)))
    apart = float(np.linalg.norm(rim.points[far] - rim.points[0]))
    tied = Tied.of(region)
    tied.fixed += [(rim.vertices[:1], 0.0), (rim.vertices[far : far + 1], apart)]
    ties = tied.ties()
    reduced = csc_array(ties.matrix.T @ matrix @ ties.matrix)
    right = -(ties.matrix.T @ (matrix @ ties.start))
    z = ties.matrix @ Factors(reduced).solve(right) + ties.start
    st = np.stack([z.real, z.imag], axis=1)
    j = jacobians(region.triangles, region.gradients, st)
    size = float(region.areas @ np.abs(np.linalg.det(j)))
    out: Floats = st * np.sqrt(region.areas.sum() / max(size, 1e-300))
    return out


def _turning(region: Region) -> csr_array:
    """(V, V) antisymmetric: s' K t is the area that s and t enclose, which conformal maps do not pay for."""
    g, area = region.gradients, region.areas
    blocks = np.einsum("tix,tjy->tij", g[:, :, :1], g[:, :, 1:]) - np.einsum(
        "tiy,tjx->tij", g[:, :, 1:], g[:, :, :1]
    )
    return assembled(region, blocks * area[:, None, None])


def level_directions(region: Region) -> Floats:
    """(T, 3) level and across the slope; on a floor, where nothing is, the model's x."""
    _, normal = _frames(region)
    level = np.stack([-normal[:, 1], normal[:, 0], np.zeros(len(normal))], axis=1)
    if np.linalg.norm(region.areas @ np.abs(level)) < 1e-3 * region.areas.sum():
        level = np.tile([1.0, 0.0, 0.0], (len(normal), 1))
    return level


def _frames(region: Region) -> tuple[Floats, Floats]:
    """(T, 3) the direction of each triangle's first edge, and (T, 3) its normal, unit vectors."""
    a, b, c = (region.points[region.triangles[:, k]] for k in range(3))
    along = (b - a) / np.linalg.norm(b - a, axis=1)[:, None]
    normal = np.cross(b - a, c - a)
    return along, normal / np.linalg.norm(normal, axis=1)[:, None]


def standing(region: Region, st: Floats) -> Floats:
    """(2, 2) the turn of the sheet that brings what is level on the region along s, as far as one turn can."""
    s, t = _along(region, st, level_directions(region))
    size = float(np.hypot(s, t))
    return _turning_back(s / size, t / size) if size > 1e-12 * region.areas.sum() else np.eye(2)


def turn_to(region: Region, st: Floats, direction: Floats) -> Floats:
    """(2, 2) the turn of the sheet, st @ turn, that brings directions (T, 3) on the model along s, as far as one can.

    Turned by -arg of the sum over triangles of area times J d. What has no such direction, as the sides of a whole box
    have none together, is turned along its length.
    """
    s, t = _along(region, st, direction)
    size = float(np.hypot(s, t))
    return _turning_back(s / size, t / size) if size > WEAK * region.areas.sum() else along_length(region, st)


def _turning_back(cosine: float, sine: float) -> Floats:
    return np.array([[cosine, -sine], [sine, cosine]])


def _along(region: Region, st: Floats, direction: Floats) -> tuple[float, float]:
    """Where directions (T, 3) on the model point on the sheet, by area."""
    along, normal = _frames(region)
    x = np.einsum("ij,ij->i", direction, along)
    y = np.einsum("ij,ij->i", direction, np.cross(normal, along))
    j = jacobians(region.triangles, region.gradients, st)
    s = region.areas @ (j[:, 0, 0] * x + j[:, 0, 1] * y)
    t = region.areas @ (j[:, 1, 0] * x + j[:, 1, 1] * y)
    return float(s), float(t)


def along_length(region: Region, st: Floats) -> Floats:
    """(2, 2) the turn of the sheet that brings the longer side of the tightest rectangle round a piece along s.

    Of its two ways the one that is nearer to how the region stands.
    """
    up = standing(region, st)
    box = np.array(minimum_rotated_rectangle(MultiPoint(st)).exterior.coords)
    sides = np.diff(box, axis=0)[:2]
    lengths = np.hypot(sides[:, 0], sides[:, 1])
    along = sides[int(np.argmax(np.round(lengths, 6)))] / max(float(lengths.max()), 1e-300)
    if along @ up[:, 0] < -1e-9:
        along = -along
    return _turning_back(float(along[0]), float(along[1]))
