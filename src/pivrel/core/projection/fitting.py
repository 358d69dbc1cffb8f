"""What a datum is fitted to, and what the fits of the projections have in common."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.fits.edges import longest_edge
from pivrel.core.geometry.fits.frame import level_across, unit, vector
from pivrel.core.geometry.fits.plane import best_normal
from pivrel.core.geometry.frames import Datum, Vector
from pivrel.core.geometry.portion import portion
from pivrel.core.geometry.surface import Surface
from pivrel.errors import InputError

AXES = {
    sign + name: (1.0 if sign == "+" else -1.0) * np.eye(3)[k]
    for k, name in enumerate("xyz")
    for sign in "+-"
}


class FitError(InputError):
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


def direction_of(surface: Surface, faces: Ints, aim: Aim) -> Floats:
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


def x_axis_across(surface: Surface, faces: Ints, aim: Aim, z: Floats) -> Floats:
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


def away_from_seam(surface: Surface, faces: Ints, origin: Floats, z: Floats, aim: Aim) -> Floats:
    """The x axis, opposite the seam, which lies in the gap of an open shape.

    A shape that goes all round has it away from the viewer, or at the model's back.
    """
    gap = _gap(surface, faces, origin, z)
    if gap is not None:
        return -gap
    towards = None if aim.to == "view" else aim.towards
    wanted = np.asarray(towards or (0.0, -1.0, 0.0), float)
    flat = wanted - (wanted @ z) * z
    if np.linalg.norm(flat) < 1e-9 * max(float(np.linalg.norm(wanted)), 1e-300):
        return level_across(z)
    return unit(flat)


SECTORS = 90
"""As many directions round an axis are told apart."""

OPEN = 3
"""So many of them in a row without a face are a gap."""


SAMPLES = 300_000
"""Places on edges that are looked at, about."""


def _gap(surface: Surface, faces: Ints, origin: Floats, z: Floats) -> Floats | None:
    """(3,) the unit direction of the middle of the widest gap of faces round an axis; None where they go all round."""
    own = portion(surface, faces)
    if len(own.triangles) > SAMPLES:
        # Of many triangles each is small, and its corners do.
        along = surface.points_of(faces) - origin
    else:
        corners = surface.mesh.points[own.points[own.triangles]] - origin
        points = min(max(SAMPLES // max(len(corners), 1), 1), 16)
        share = np.linspace(0.0, 1.0, points, endpoint=False)[:, None, None, None]
        along = (corners + share * (corners[:, [1, 2, 0]] - corners)).reshape(-1, 3)
    x = level_across(z)
    y = np.cross(z, x)
    sector = np.floor(np.arctan2(along @ y, along @ x) / (2 * np.pi) * SECTORS).astype(np.int64) % SECTORS
    met = np.flatnonzero(np.bincount(sector, minlength=SECTORS))
    wide = np.diff(np.append(met, met[0] + SECTORS)) - 1
    row = int(np.argmax(wide))
    if wide[row] < OPEN:
        return None
    angle = (met[row] + 1 + wide[row] / 2) / SECTORS * 2 * np.pi
    return np.asarray(np.cos(angle) * x + np.sin(angle) * y)


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
