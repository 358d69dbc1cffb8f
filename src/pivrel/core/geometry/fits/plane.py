"""The plane that serves a pick best."""

from __future__ import annotations

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.fits.outward import EVEN, seen_side
from pivrel.core.geometry.portion import portion
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.tolerances import TOLERANCE
from pivrel.core.geometry.vectors import unit_rows
from pivrel.core.kernels import kernel

DISTINCT = 0.999
"""Two spreads nearer to each other than this share do not tell a direction."""

SERVED = 1 / (1 + TOLERANCE)
"""A face at a smaller cosine to the plane is squeezed by more than the tolerance of a true scale."""

FLAT = np.cos(np.radians(2.0))
"""Faces this near to one direction are one plate, whose own direction is taken."""

CANDIDATES = 96
"""Directions that are tried, the largest areas first."""

BETTER = 0.02
"""Another direction has to serve this much more of the area to be preferred."""

SAMPLED = 60_000
"""Of more faces directions are found and judged on so many, drawn evenly; the best are settled on all of them."""

SETTLED = 4
"""So many directions, the best on the sample."""


def surface_moments(surface: Surface, faces: Ints) -> tuple[Floats, Floats]:
    """(3,) centre and (3, 3) mean outer product about it, over the area of the faces, in mm and mm².

    Exact for triangles: with corners a, b, c and centroid g, the mean of x x^T over one is
    (a a^T + b b^T + c c^T + 9 g g^T) / 12 (the second moment of a simplex).
    """
    own = portion(surface, faces)
    area = own.areas if own.areas.sum() > 0 else np.ones(len(own.triangles))
    found: tuple[Floats, Floats] = _moments(surface.mesh.points, own.points, own.triangles, area / area.sum())
    return found


@kernel
def _moments(points: Floats, corners: Ints, triangles: Ints, weight: Floats) -> tuple[Floats, Floats]:
    centre, moments = np.zeros(3), np.zeros((3, 3))
    for t in range(len(triangles)):
        for k in range(3):
            p = corners[triangles[t, k]]
            for i in range(3):
                centre[i] += weight[t] * points[p, i] / 3.0
    near = np.empty((4, 3))
    for t in range(len(triangles)):
        near[3] = 0.0
        for k in range(3):
            p = corners[triangles[t, k]]
            for i in range(3):
                near[k, i] = points[p, i] - centre[i]
                near[3, i] += near[k, i] / 3.0
        for k in range(4):
            often = weight[t] * (9.0 if k == 3 else 1.0) / 12.0
            for i in range(3):
                for j in range(3):
                    moments[i, j] += often * near[k, i] * near[k, j]
    return centre, moments


def served_share(surface: Surface, faces: Ints, direction: Floats) -> float:
    """The share of the area that a plane with this normal (3,) lays true to scale."""
    return _served(*_unit_normals(surface, faces), direction)


def best_normal(surface: Surface, faces: Ints, towards: Floats | None = None) -> Floats:
    """(3,) the normal of the plane that serves most of a pick.

    Served are faces that the plane lays true to scale. Where the plane of least squares (area-weighted)
    serves as much as any, it is taken: it is the better one on surfaces that are nearly flat. Else it is
    the direction that most of the area looks in, from either side: the larger plate of a bracket. It
    looks outward for most of the area that is seen from outside; a sheet, or a body seen alike from both
    sides, looks towards a direction (the viewer), where one is given.
    """
    unit, area = _unit_normals(surface, faces)
    z = _least_squares(surface, faces)
    share = _served(unit, area, z)
    for tried in _leading(unit, area):
        serves = _served(unit, area, tried)
        if serves > share + BETTER:
            z, share = tried, serves
    return _turned_outward(surface, faces, z, towards)


def _leading(unit: Floats, area: Floats) -> Floats:
    """(N, 3) the directions to be judged on all faces, those that most of the area looks in first."""
    if len(area) <= SAMPLED:
        return _candidates(unit, area)
    some_unit, some_area = _sample(unit, area)
    tried = _candidates(some_unit, some_area)
    judged = np.array([_served(some_unit, some_area, direction) for direction in tried])
    best = np.sort(np.argsort(-judged, kind="stable")[:SETTLED])
    settled = [_settled(unit, area, direction) for direction in tried[best]]
    return np.array([direction for direction in settled if direction is not None]).reshape(-1, 3)


def _unit_normals(surface: Surface, faces: Ints) -> tuple[Floats, Floats]:
    """(K, 3) unit normals and (K,) shares of the area; equal ones where nothing has any."""
    normals = surface.normals[faces]
    size = np.linalg.norm(normals, axis=1)
    total = float(size.sum())
    area = size / total if total > 0 else np.full(len(faces), 1 / max(len(faces), 1))
    return normals / np.maximum(size, 1e-300)[:, None], area


def _served(unit: Floats, area: Floats, direction: Floats) -> float:
    return float(_plate(unit, area, direction, SERVED - 1e-9)[0])


RUN = 1 << 15
"""Faces that a thread sums at a time; sums of runs are added in their order, so that every machine finds the same."""


@kernel(parallel=True)
def _plate(unit: Floats, area: Floats, direction: Floats, near: float) -> tuple[float, Floats]:
    """The share of the area that looks along a direction, either way, to within a cosine, and (3,) its mean normal."""
    sums = np.empty(((len(area) + RUN - 1) // RUN, 4))
    for run in prange(len(sums)):
        _sum(run * RUN, min((run + 1) * RUN, len(area)), unit, area, direction, near, sums[run])
    return _total(sums)


@kernel
def _sum(
    begin: int, end: int, unit: Floats, area: Floats, direction: Floats, near: float, out: Floats
) -> None:
    """The share and the sum of normals of faces from one to before another; out: (4,)."""
    share = x = y = z = 0.0
    for f in range(begin, end):
        a, b, c = unit[f, 0], unit[f, 1], unit[f, 2]
        cosine = a * direction[0] + b * direction[1] + c * direction[2]
        if abs(cosine) >= near:
            sense = area[f] if cosine > 0.0 else -area[f]
            share += area[f]
            x, y, z = x + sense * a, y + sense * b, z + sense * c
    out[0], out[1], out[2], out[3] = share, x, y, z


@kernel
def _total(sums: Floats) -> tuple[float, Floats]:
    """The sums of runs (N, 4) added in their order."""
    total = np.zeros(4)
    for run in range(len(sums)):
        for k in range(4):
            total[k] += sums[run, k]
    return total[0], total[1:].copy()


def _candidates(unit: Floats, area: Floats) -> Floats:
    """(N, 3) the directions that most of the area looks in, each the mean of its plate."""
    # Opposite directions are laid by the same plane.
    folded = (
        unit * np.where(unit[np.arange(len(unit)), np.argmax(np.abs(unit), axis=1)] < 0, -1.0, 1.0)[:, None]
    )
    # Hundredths, as one number a direction.
    cell = np.round(folded * 100).astype(np.int64) + 100
    seen, group = np.unique((cell[:, 0] * 201 + cell[:, 1]) * 201 + cell[:, 2], return_inverse=True)
    held = np.bincount(group.reshape(-1), weights=area, minlength=len(seen))
    out = []
    for key in seen[np.argsort(-held, kind="stable")[:CANDIDATES]].tolist():
        direction: Floats = np.array([key // 201**2, key // 201 % 201, key % 201]) / 100 - 1.0
        settled = _settled(unit, area, direction)
        if settled is not None:
            out.append(settled)
    return np.array(out).reshape(-1, 3)


def _sample(unit: Floats, area: Floats) -> tuple[Floats, Floats]:
    """Normals and shares of faces drawn by their area, one from each stretch of the sum of all areas.

    Where in its stretch is drawn at random, so that no order of the faces misleads; with a fixed seed, so that the
    same pick gives the same datum every time.
    """
    places = (np.arange(SAMPLED) + np.random.default_rng(1).random(SAMPLED)) / SAMPLED
    drawn, often = np.unique(np.searchsorted(np.cumsum(area), places), return_counts=True)
    return unit[np.minimum(drawn, len(area) - 1)], often / SAMPLED


def _settled(unit: Floats, area: Floats, direction: Floats) -> Floats | None:
    """(3,) the direction of the plate that looks nearly along one; None where its faces cancel each other."""
    for near in (SERVED, FLAT):
        size = np.linalg.norm(direction)
        if size == 0:
            return None
        direction = direction / size
        share, mean = _plate(unit, area, direction, near)
        if share > 0:
            direction = mean
    size = np.linalg.norm(direction)
    return None if size == 0 else direction / size


def _least_squares(surface: Surface, faces: Ints) -> Floats:
    """The normal of the plane of least squares; where no direction is thinnest (a cube, a ball), that in
    which most of the area looks."""
    normals = surface.normals[faces]
    total, size = normals.sum(axis=0), np.linalg.norm(normals, axis=1).sum()
    spread, directions = np.linalg.eigh(surface_moments(surface, faces)[1])
    if spread[0] < DISTINCT * spread[1]:
        z: Floats = directions[:, 0]
        return z
    if np.linalg.norm(total) > 1e-6 * size:
        mean: Floats = total / np.linalg.norm(total)
        return mean
    unit = unit_rows(normals)
    most: Floats = np.linalg.eigh(unit.T @ normals)[1][:, -1]
    return most


def _turned_outward(surface: Surface, faces: Ints, z: Floats, towards: Floats | None) -> Floats:
    seen = seen_side(surface, faces, z)
    if abs(seen) > EVEN:
        return z if seen > 0 else -z
    if towards is not None and abs(float(towards @ z)) > 1e-6 * float(np.linalg.norm(towards)):
        return z if towards @ z > 0 else -z
    normals = surface.normals[faces]
    looks = float(normals.sum(axis=0) @ z)
    if abs(looks) > EVEN * np.linalg.norm(normals, axis=1).sum():
        return z if looks > 0 else -z
    # A board that is alike from both sides looks away from the middle of the model.
    away = float((surface.points_of(faces).mean(axis=0) - surface.bounds.mean(axis=0)) @ z)
    if abs(away) > 1e-3 * float(np.ptp(surface.bounds, axis=0).max()):
        return z if away > 0 else -z
    # Neither way round is better: the way that its largest component is positive.
    return z if z[np.argmax(np.abs(z))] > 0 else -z
