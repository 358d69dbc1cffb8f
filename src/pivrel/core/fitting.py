"""A projection's datum fitted to a pick: by itself, or towards what the artist names."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.fits.edges import longest_edge
from pivrel.core.geometry.fits.exact import exact_round, exact_sphere
from pivrel.core.geometry.fits.frame import (
    UP,
    at_lowest_corner,
    datum_at,
    level_across,
    made_upright,
    unit,
    vector,
)
from pivrel.core.geometry.fits.plane import best_normal, served_share
from pivrel.core.geometry.fits.round_shape import fit_round, fit_sphere
from pivrel.core.geometry.fits.tight_box import tightest_axes
from pivrel.core.geometry.frames import Datum, Vector
from pivrel.core.geometry.surface import Surface
from pivrel.core.projection import Box, Cylindrical, Planar, Projection, Spherical, Triplanar

AXES = {
    sign + name: (1.0 if sign == "+" else -1.0) * np.eye(3)[k]
    for k, name in enumerate("xyz")
    for sign in "+-"
}


class FitError(ValueError):
    """A fit that cannot be made; the message says why in one sentence."""


@dataclass(frozen=True)
class Aim:
    """What a datum is fitted to.

    to: "pick" is the best fit, "box" the pick's tightest oriented box, "face" the face named,
    "view" the direction `towards` the viewer with `right` on the screen, "axis" a model axis.
    along_edge: x runs along the pick's longest straight edge. towards: also the side that a seam is
    turned away from.
    """

    to: Literal["pick", "box", "face", "view", "axis"] = "pick"
    face: int | None = None
    axis: Literal["+x", "-x", "+y", "-y", "+z", "-z"] = "+z"
    towards: Vector | None = None
    right: Vector | None = None
    along_edge: bool = False


@dataclass(frozen=True)
class Fit:
    """A fitted datum; what was found, and how well it serves.

    share: of the pick's area, what the shape that was fitted serves: a plane lays it true to scale, a
    cylinder, cone or sphere passes through it. residual_mm: how far that share is off the round shape.
    """

    datum: Datum
    share: float = 1.0
    residual_mm: float | None = None
    radius_mm: float | None = None
    half_angle_deg: float = 0.0


BEST = Aim()


def fit(surface: Surface, faces: Ints, projection: Projection, aim: Aim = BEST) -> Fit:
    """The datum that a projection takes on these faces (int32 ids). FitError where the aim has no sense."""
    if not len(faces):
        return Fit(Datum())
    match projection:
        case Planar():
            return _planar(surface, faces, aim)
        case Box() | Triplanar():
            return Fit(_box(surface, faces, projection, aim))
        case Cylindrical():
            return _cylindrical(surface, faces, aim)
        case Spherical():
            return _spherical(surface, faces, aim)


def _direction(surface: Surface, faces: Ints, aim: Aim) -> Floats:
    """What the aim looks along, away from the surface."""
    if aim.to == "face":
        if aim.face is None or not 0 <= aim.face < surface.mesh.face_count:
            raise FitError(f"face {aim.face} does not exist")
        normal = surface.normals[aim.face]
        if not normal.any():
            raise FitError(f"face {aim.face} has no area, so it looks nowhere")
        return unit(normal)
    if aim.to == "view":
        if aim.towards is None or not any(aim.towards):
            raise FitError("a fit along the view needs to know where the view stands")
        return unit(np.asarray(aim.towards, float))
    if aim.to == "axis":
        return AXES[aim.axis]
    towards = None if aim.towards is None else np.asarray(aim.towards, float)
    return best_normal(surface, faces, towards)


def _across(surface: Surface, faces: Ints, aim: Aim, z: Floats) -> Floats:
    """The x axis that goes with z: along the longest edge or the screen, or level."""
    wanted: Floats | None = longest_edge(surface, faces) if aim.along_edge else None
    if wanted is None and aim.to == "view" and aim.right is not None:
        wanted = np.array(aim.right, float)
    level: Floats = level_across(z)
    if wanted is None:
        return level
    flat: Floats = wanted - (wanted @ z) * z
    if np.linalg.norm(flat) < 1e-6:
        return level
    flat = unit(flat)
    return flat if (aim.to == "view" and not aim.along_edge) or flat @ level >= 0 else -flat


def _planar(surface: Surface, faces: Ints, aim: Aim) -> Fit:
    z = _direction(surface, faces, aim)
    datum = at_lowest_corner(surface.points_of(faces), _across(surface, faces, aim, z), z, outermost=True)
    return Fit(datum, served_share(surface, faces, z))


def _box(surface: Surface, faces: Ints, projection: Projection, aim: Aim) -> Datum:
    points = surface.points_of(faces)
    x, z = np.array([1.0, 0, 0]), UP
    if aim.to == "box":
        x, _, z = tightest_axes(points)
    elif aim.to in ("face", "view"):
        # One side of the box lies on the face; an upright face leaves the box upright.
        out = _direction(surface, faces, aim)
        if abs(out[2]) < 0.7:
            x = level_across(out)
            z = np.cross(out, x)
        else:
            x, z = _across(surface, faces, aim, out), out
    elif aim.to == "axis":
        z = AXES[aim.axis]
        x = level_across(z)
    if aim.along_edge:
        edge = longest_edge(surface, faces)
        if edge is not None and np.linalg.norm(np.cross(edge, z)) > 1e-3:
            x = unit(edge - (edge @ z) * z)
            x = x if x @ np.array([1.0, 0.1, 0.01]) >= 0 else -x
    datum = at_lowest_corner(points, x, z, outermost=False)
    if isinstance(projection, Box) and projection.corners == "wrapped":
        # The box is centred on the datum; the courses still begin at the bottom.
        inside = points @ datum.axes.T
        middle = (inside.min(axis=0) + inside.max(axis=0)) / 2
        middle[2] = inside[:, 2].min()
        return datum_at(middle @ datum.axes, x, z)
    return datum


def _cylindrical(surface: Surface, faces: Ints, aim: Aim) -> Fit:
    if aim.to == "box":
        raise FitError("a cylinder has no tightest box; fit it to the pick")
    given = None if aim.to == "pick" else _direction(surface, faces, aim)
    found = (None if given is not None else exact_round(surface, faces)) or fit_round(surface, faces, given)
    z = made_upright(found.axis) if aim.to == "pick" else found.axis
    low = float((surface.points_of(faces) @ z).min())
    origin = found.point + (low - found.point @ z) * z
    x = _away_from_seam(surface, faces, origin, z, aim)
    return Fit(
        datum_at(origin, x, z), found.share, found.residual_mm, found.radius_mm, abs(found.half_angle_deg)
    )


def _spherical(surface: Surface, faces: Ints, aim: Aim) -> Fit:
    found = exact_sphere(surface, faces) or fit_sphere(surface, faces)
    z = UP if aim.to in ("pick", "box") else _direction(surface, faces, aim)
    x = _away_from_seam(surface, faces, found.centre, z, aim)
    return Fit(datum_at(found.centre, x, z), found.share, found.residual_mm, found.radius_mm)


def _away_from_seam(surface: Surface, faces: Ints, origin: Floats, z: Floats, aim: Aim) -> Floats:
    """The x axis, opposite the seam: towards the viewer, or towards the middle of an open shape.

    A shape that goes all round has its seam at the model's back.
    """
    if aim.towards is not None and aim.to != "view":
        wanted = np.asarray(aim.towards, float)
    else:
        weight = surface.face_areas[faces]
        out = surface.centroids[faces] - origin
        out = out - (out @ z)[:, None] * z
        middle = weight @ out / max(float(weight.sum()), 1e-300)
        size = weight @ np.linalg.norm(out, axis=1) / max(float(weight.sum()), 1e-300)
        closed = np.linalg.norm(middle) < 0.02 * size
        wanted = np.array([0.0, -1.0, 0.0]) if closed else middle
    flat = wanted - (wanted @ z) * z
    if np.linalg.norm(flat) < 1e-9 * max(float(np.linalg.norm(wanted)), 1e-300):
        return level_across(z)
    return unit(flat)


def seam_turned(datum: Datum, away_from: Vector | None = None, to_point: Vector | None = None) -> Datum:
    """The datum turned about its z axis so that the seam, on its -x side, falls where it is wanted.

    away_from: a direction that the seam shall not be seen from. to_point: a place that it runs through.
    """
    z = datum.axes[2]
    if to_point is not None:
        wanted = np.asarray(datum.origin_mm) - np.asarray(to_point, float)
    else:
        wanted = np.asarray(away_from, float)
    flat = wanted - (wanted @ z) * z
    if np.linalg.norm(flat) < 1e-9 * max(float(np.linalg.norm(wanted)), 1e-300):
        raise FitError("the seam cannot run there: the place lies on the axis itself")
    return Datum(datum.origin_mm, vector(unit(flat)), vector(z))
