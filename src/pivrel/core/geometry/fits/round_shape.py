"""Cylinders, cones and spheres found on open, partial and noisy surfaces by least squares."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import least_squares

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.fits.frame import unit
from pivrel.core.geometry.fits.inliers import RADIAL, WINDOW, Consensus, Middles, agreed, refined_axes
from pivrel.core.geometry.portion import portion
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.vectors import unit_rows

CAP = np.cos(np.radians(45.0))
SAMPLE = 8000
TRIED = 600
"""Points that the last fit sees, and those that a first guess of the axis is judged by."""
MANY = 100_000
"""Of more corners a fair sample is looked at."""
DIRECTIONS = 150
MIDDLES = 1200
"""Faces that the search by normals sees."""
LEAST_SHARE = 0.3
"""A shape that less of the area agrees with says nothing of the pick."""
SAME_AXIS = np.cos(np.radians(1.0))
BETTER_AS_CONE = 0.6
"""A cone has one more number to fit with, so it must fit much better than the cylinder does."""


@dataclass(frozen=True)
class RoundFit:
    """A cylinder or cone.

    point, axis: (3,) on the axis in mm, and its direction. radius_mm: at the point's height.
    half_angle_deg: 0 for a cylinder; the angle between a cone's axis and its side.
    residual_mm: root mean square distance from the shape, of the faces that lie on it. share: of the
    pick's area, that of these faces.
    """

    point: Floats
    axis: Floats
    radius_mm: float
    half_angle_deg: float
    residual_mm: float
    share: float = 1.0


@dataclass(frozen=True)
class SphereFit:
    """centre (3,) and radius in mm; residual_mm and share as for RoundFit."""

    centre: Floats
    radius_mm: float
    residual_mm: float
    share: float = 1.0


@dataclass(frozen=True)
class _Sample:
    """Corners of faces: places (N, 3), weights (N,) by area that sum to 1, the faces' unit normals (N, 3).

    ids: (N,) the points that the corners are at.
    """

    points: Floats
    weights: Floats
    normals: Floats
    ids: Ints

    def some(self, count: int) -> _Sample:
        if len(self.points) <= count:
            return self
        # A fixed seed: the same pick must give the same datum every time.
        kept = np.random.default_rng(1).choice(len(self.points), count, replace=False)
        return self.only(kept)

    def fair(self, count: int) -> _Sample:
        """At most so many that stand for all by their weights, however unequal these are (systematic sampling)."""
        if len(self.points) <= count:
            return self
        places = (np.arange(count) + 0.5) / count
        kept, often = np.unique(np.searchsorted(np.cumsum(self.weights), places), return_counts=True)
        kept = np.minimum(kept, len(self.points) - 1)
        return _Sample(self.points[kept], often / count, self.normals[kept], self.ids[kept])

    def only(self, kept: Ints | Mask) -> _Sample:
        return _Sample(self.points[kept], _shares(self.weights[kept]), self.normals[kept], self.ids[kept])

    def merged(self) -> _Sample:
        """Each point once, with the weight of all its corners: what noise does to areas averages out."""
        weights: Floats = np.bincount(self.ids, weights=self.weights).astype(np.float64)
        first = np.full(len(weights), -1)
        # The last one written is the first of its place.
        first[self.ids[::-1]] = np.arange(len(self.ids))[::-1]
        held = np.flatnonzero(first >= 0)
        first = first[held]
        return _Sample(self.points[first], weights[held], self.normals[first], self.ids[first])


def _shares(weights: Floats) -> Floats:
    """Weights that sum to 1; equal ones where none has any."""
    total = float(weights.sum())
    return weights / total if total > 0 else np.full(len(weights), 1 / max(len(weights), 1))


def _sampled(surface: Surface, faces: Ints) -> _Sample:
    mesh = surface.mesh
    sizes = np.diff(mesh.face_start)[faces]
    share = np.repeat(surface.face_areas[faces] / sizes, sizes)
    normals = unit_rows(surface.normals[faces])
    ids = portion(surface, faces).points
    return _Sample(mesh.points[ids], _shares(share), np.repeat(normals, sizes, axis=0), ids)


def _across(axis: Floats) -> tuple[Floats, Floats]:
    """Two directions that are square to the axis and to each other."""
    u = unit(np.cross(axis, np.eye(3)[np.argmin(np.abs(axis))]))
    return u, np.cross(axis, u)


def _circle(flat: Floats, weights: Floats) -> tuple[Floats, float, float]:
    """Centre (2,), radius and RMS distance of the circle through points (N, 2), by linear least squares.

    I. Kasa, "A circle fitting procedure and its error analysis", IEEE Transactions on
    Instrumentation and Measurement 25(1), 1976.
    """
    root = np.sqrt(weights)[:, None]
    system = np.column_stack([2 * flat, np.ones(len(flat))]) * root
    answer = np.linalg.lstsq(system, (flat**2).sum(axis=1) * root[:, 0], rcond=None)[0]
    radius = float(np.sqrt(max(answer[2] + answer[:2] @ answer[:2], 0.0)))
    off = np.linalg.norm(flat - answer[:2], axis=1) - radius
    return answer[:2], radius, float(np.sqrt((weights * off**2).sum()))


def _directions(sample: _Sample) -> Floats:
    """(D, 3) axes worth trying: those that the normals tell, the body's own, and a fan over the hemisphere."""
    weighted = sample.normals * sample.weights[:, None]
    mean = weighted.sum(axis=0)
    scatter = weighted.T @ sample.normals
    about_mean = scatter - np.outer(mean, mean)
    bodies = sample.points.T * sample.weights @ sample.points
    told = [np.linalg.eigh(m)[1].T for m in (scatter, about_mean, bodies)]
    k = np.arange(DIRECTIONS) + 0.5
    height, turn = k / DIRECTIONS, k * np.pi * (3 - np.sqrt(5))
    ring = np.sqrt(1 - height**2)
    fan = np.column_stack([ring * np.cos(turn), ring * np.sin(turn), height])
    return np.concatenate([*told, np.eye(3), fan])


def _off_cone(p: Floats, points: Floats, axis: Floats, u: Floats, v: Floats, cone: bool) -> Floats:
    """Distances from the cylinder or cone p = (tilt u, tilt v, place u, place v, radius[, slope])."""
    tilted = axis + p[0] * u + p[1] * v
    tilted = tilted / np.linalg.norm(tilted)
    near = points - p[2] * u - p[3] * v
    height = near @ tilted
    radius = np.sqrt(np.maximum((near**2).sum(axis=1) - height**2, 0.0))
    if not cone:
        out: Floats = radius - p[4]
        return out
    sloped: Floats = (radius - p[4] - p[5] * height) / np.sqrt(1 + p[5] ** 2)
    return sloped


def _refined(sample: _Sample, start: Floats, cone: bool) -> tuple[RoundFit, float]:
    """The best cylinder or cone near an axis, and its mean square distance."""
    u, v = _across(start)
    centre, radius, _ = _circle(sample.points @ np.column_stack([u, v]), sample.weights)
    first = np.array([0.0, 0.0, *centre, radius, *([0.0] if cone else [])])
    root = np.sqrt(sample.weights * len(sample.weights))
    size = max(float(np.abs(sample.points).max()), 1e-9)
    scales = np.array([1.0, 1.0, size, size, size, *([1.0] if cone else [])])
    found = least_squares(
        lambda p: root * _off_cone(p, sample.points, start, u, v, cone),
        first, x_scale=scales, method="trf", max_nfev=60,
    )  # fmt: skip
    p = found.x
    axis = unit(start + p[0] * u + p[1] * v)
    off = _off_cone(p, sample.points, start, u, v, cone)
    square = float((sample.weights * off**2).sum())
    slope = float(p[5]) if cone else 0.0
    fit = RoundFit(
        p[2] * u + p[3] * v, axis, float(p[4]), float(np.degrees(np.arctan(slope))), float(np.sqrt(square))
    )
    return fit, square


def fit_round(surface: Surface, faces: Ints, axis: Floats | None = None) -> RoundFit:
    """The cylinder or cone that most of a pick lies on; shoulders, flanges and caps are told apart.

    axis: (3,) a direction that is given rather than found. Two ways are tried, and the one that more of
    the area agrees with is taken: the faces' normals, which tell exact shapes from what is joined to
    them, and least squares of all that stands along the axis, which noise does not mislead.
    """
    whole = _sampled(surface, faces)
    centre = whole.weights @ whole.points
    whole = _Sample(whole.points - centre, whole.weights, whole.normals, whole.ids)
    middles = _middles(surface, faces, centre)
    plain = _about(whole, unit(axis)) if axis is not None else _least_squares(whole)
    loosely = _share_near(middles, plain)
    found, share = plain, loosely
    agreeing = _by_normals(whole, surface, faces, middles, axis)
    if (
        agreeing is not None
        and agreeing.share > float(middles.weights[_lies_on(middles, plain)].sum()) + 0.01
    ):
        found, share = agreeing, agreeing.share
    return RoundFit(
        centre + found.point, found.axis, abs(found.radius_mm), found.half_angle_deg, found.residual_mm, share
    )


def _about(whole: _Sample, axis: Floats) -> RoundFit:
    """The circle of least squares about a given direction."""
    u, v = _across(axis)
    sides = _sides(whole, axis)
    place, radius, off = _circle(sides.points @ np.column_stack([u, v]), sides.weights)
    return RoundFit(place[0] * u + place[1] * v, axis, radius, 0.0, off)


def _least_squares(whole: _Sample) -> RoundFit:
    """A first guess is judged for many directions by the circle that the points make when seen along them;
    the best are refined by nonlinear least squares of the distances."""
    whole = whole.fair(MANY)
    judged, few = [], whole.some(TRIED)
    directions = _directions(few)
    for direction in directions:
        upright = np.abs(few.normals @ direction) <= CAP
        sides = _sides(few, direction)
        u, v = _across(direction)
        off = _circle(sides.points @ np.column_stack([u, v]), sides.weights)[2]
        # The more of the pick lies on the sides, the better.
        judged.append(off / max(float(few.weights[upright].sum()), 1e-3))
    best: tuple[RoundFit, float] | None = None
    for at in np.argsort(judged)[:4]:
        tried = _best_of_two(_sides(whole, directions[at]).some(TRIED), directions[at])
        if best is None or tried[1] < best[1]:
            best = tried
    assert best is not None
    cone = best[0].half_angle_deg != 0.0
    return _refined(_sides(whole, best[0].axis).merged().some(SAMPLE), best[0].axis, cone)[0]


def _middles(surface: Surface, faces: Ints, centre: Floats) -> Middles:
    normals = surface.normals[faces]
    weights = _shares(np.linalg.norm(normals, axis=1))
    return Middles(surface.centroids[faces] - centre, unit_rows(normals), weights)


def _by_normals(
    whole: _Sample, surface: Surface, faces: Ints, middles: Middles, axis: Floats | None
) -> RoundFit | None:
    """The shape that most faces agree with by their normals, refined on these alone; None where none do."""
    kept = np.arange(len(faces))
    if len(kept) > MIDDLES:
        kept = np.random.default_rng(1).choice(len(kept), MIDDLES, replace=False)
    few = Middles(middles.places[kept], middles.normals[kept], _shares(middles.weights[kept]))
    best: Consensus | None = None
    for cone in (False, True):
        for start, slope in _axes_of(few, whole, axis, cone):
            tried = agreed(few, start, slope)
            if best is None or tried.share > best.share + (0.02 if cone else 1e-6):
                best = tried
    if best is None or best.share < LEAST_SHARE:
        return None
    held = np.zeros(len(faces), bool)
    held[kept[best.held]] = True
    sizes = np.diff(surface.mesh.face_start)[faces]
    fit: RoundFit | None = None
    for _ in range(3):
        sample = whole.only(np.repeat(held, sizes)).merged().some(SAMPLE)
        if len(sample.points) < 6:
            return fit
        start = best.axis if fit is None else fit.axis
        if axis is None:
            fit, _ = _refined(sample, start, abs(best.slope) > np.sin(np.radians(1.0)))
        else:
            fit = _about(sample, start)
        held = _lies_on(middles, fit)
        fit = replace(fit, share=float(middles.weights[held].sum()))
    return fit


def _axes_of(few: Middles, whole: _Sample, axis: Floats | None, cone: bool) -> list[tuple[Floats, float]]:
    """Directions worth trying, each once, with the sine of the angle that faces have to them."""
    if axis is not None:
        return [] if cone else [(unit(axis), 0.0)]
    axes, slopes = refined_axes(few, _directions(whole.some(TRIED)), cone)
    apart: list[int] = []
    for at, direction in enumerate(axes):
        if (np.abs(axes[apart] @ direction) < SAME_AXIS).all():
            apart.append(at)
    # Those that most of the area stands along.
    near = np.abs(axes[apart] @ few.normals.T - slopes[apart, None]) < 0.05
    most = np.argsort(-(near @ few.weights), kind="stable")[:6]
    return [(axes[apart[at]], float(slopes[apart[at]])) for at in most]


def _off_shape(middles: Middles, fit: RoundFit) -> tuple[Floats, Floats]:
    """(N,) how far face middles lie off a shape in mm, and the cosines of their normals to its own."""
    near = middles.places - fit.point
    height = near @ fit.axis
    out = near - height[:, None] * fit.axis
    distance = np.linalg.norm(out, axis=1)
    slope = np.radians(fit.half_angle_deg)
    off = (distance - abs(fit.radius_mm) - np.tan(slope) * height) * np.cos(slope)
    own = out / np.maximum(distance, 1e-12)[:, None] * np.cos(slope) - np.sin(slope) * fit.axis
    return off, np.abs((middles.normals * own).sum(axis=1))


def _lies_on(middles: Middles, fit: RoundFit) -> Mask:
    """(N,) the faces that lie on a shape and look away from it."""
    off, cosine = _off_shape(middles, fit)
    on_it: Mask = (np.abs(off) <= WINDOW * abs(fit.radius_mm)) & (cosine >= RADIAL)
    return on_it


def _share_near(middles: Middles, fit: RoundFit) -> float:
    """The share of the area within a shape's own noise, whichever way its faces look."""
    off, cosine = _off_shape(middles, fit)
    near = np.abs(off) <= max(WINDOW * abs(fit.radius_mm), 2 * fit.residual_mm)
    return float(middles.weights[near & (cosine > CAP)].sum())


def _best_of_two(sample: _Sample, direction: Floats) -> tuple[RoundFit, float]:
    cylinder, cone = _refined(sample, direction, False), _refined(sample, direction, True)
    return cone if cone[1] < BETTER_AS_CONE**2 * cylinder[1] and cone[1] >= 0 else cylinder


def _sides(sample: _Sample, axis: Floats) -> _Sample:
    """The sample without the faces that look along the axis, unless hardly any others are there."""
    sides = np.abs(sample.normals @ axis) <= CAP
    return sample.only(sides) if sides.sum() >= 6 else sample


def fit_sphere(surface: Surface, faces: Ints) -> SphereFit:
    """The sphere that fits a pick: linear least squares, refined to the least squares of the distances."""
    sample = _sampled(surface, faces).merged().some(SAMPLE)
    middle = sample.weights @ sample.points
    points = sample.points - middle
    root = np.sqrt(sample.weights)[:, None]
    system = np.column_stack([2 * points, np.ones(len(points))]) * root
    answer = np.linalg.lstsq(system, (points**2).sum(axis=1) * root[:, 0], rcond=None)[0]
    radius = float(np.sqrt(max(answer[3] + answer[:3] @ answer[:3], 0.0)))
    found = least_squares(
        lambda p: root[:, 0] * (np.linalg.norm(points - p[:3], axis=1) - p[3]),
        np.array([*answer[:3], radius]), x_scale=max(radius, 1e-9), max_nfev=60,
    ).x  # fmt: skip
    off = np.linalg.norm(points - found[:3], axis=1) - found[3]
    residual = float(np.sqrt((sample.weights * off**2).sum()))
    near = np.abs(off) <= max(WINDOW * abs(float(found[3])), 2 * residual)
    share = float(sample.weights[near].sum() / sample.weights.sum())
    return SphereFit(middle + found[:3], abs(float(found[3])), residual, share)
