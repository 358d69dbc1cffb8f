"""In place of a fit: the surface that a CAD file says the faces are pieces of."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Ints, distinct
from pivrel.core.geometry.exact import ExactSurface
from pivrel.core.geometry.fits.round_shape import RoundFit, SphereFit
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface

NEAR_MM, NEAR_SINE = 1e-3, 1e-6
"""Two surfaces are one where axes, places and radii differ by less; CAD files round their last digits."""


def exact_round(surface: Surface, faces: Ints) -> RoundFit | None:
    """The one cylinder or cone that the faces lie on, flat caps aside; None where there is none."""
    found = _one(surface, faces, ("cylinder", "cone"))
    if found is None:
        return None
    axis, point = np.array(found.axis), np.array(found.origin_mm)
    return RoundFit(point, axis, found.radius_mm, found.half_angle_deg, 0.0)


def exact_sphere(surface: Surface, faces: Ints) -> SphereFit | None:
    """The one sphere that the faces lie on, flat cuts aside; None where there is none."""
    found = _one(surface, faces, ("sphere",))
    return None if found is None else SphereFit(np.array(found.origin_mm), found.radius_mm, 0.0)


def exact_radius(surface: Surface, faces: Ints, datum: Datum, kind: str) -> float | None:
    """The radius of the one cylinder about the datum's axis, or sphere about its origin, that the faces
    lie on; None where there is none."""
    found = _one(surface, faces, (kind,))
    if found is None:
        return None
    off = np.subtract(found.origin_mm, datum.origin_mm)
    if kind == "cylinder":
        axis = datum.axes[2]
        if np.linalg.norm(np.cross(axis, found.axis)) > NEAR_SINE:
            return None
        off = off - (off @ axis) * axis
    return found.radius_mm if np.linalg.norm(off) <= NEAR_MM else None


def _one(surface: Surface, faces: Ints, kinds: tuple[str, ...]) -> ExactSurface | None:
    """The one surface of these kinds that the faces are pieces of, flat ones aside."""
    mesh = surface.mesh
    if mesh.face_patch is None or not len(faces):
        return None
    exact = [mesh.exact[patch] for patch in distinct(mesh.face_patch[faces])]
    curved = [s for s in exact if s.kind != "plane"]
    if not curved or any(s.kind not in kinds or not same_surface(s, curved[0]) for s in curved):
        return None
    return curved[0]


def same_surface(a: ExactSurface, b: ExactSurface) -> bool:
    """Whether two patches are pieces of one surface, seen from either side."""
    if a.kind != b.kind or a.kind == "free-form":
        return False
    off = np.subtract(b.origin_mm, a.origin_mm)
    axis = np.array(a.axis)
    if a.kind == "sphere":
        return bool(np.linalg.norm(off) <= NEAR_MM and abs(a.radius_mm - b.radius_mm) <= NEAR_MM)
    if np.linalg.norm(np.cross(axis, b.axis)) > NEAR_SINE:
        return False
    along = float(off @ axis)
    if a.kind == "plane":
        return abs(along) <= NEAR_MM
    if np.linalg.norm(off - along * axis) > NEAR_MM:
        return False
    if a.kind == "torus":
        return (
            abs(along) <= NEAR_MM
            and abs(a.radius_mm - b.radius_mm) <= NEAR_MM
            and abs(a.tube_mm - b.tube_mm) <= NEAR_MM
        )
    # A cone stated from another place on its axis, or the other way up, has another radius there.
    slope = float(np.tan(np.radians(a.half_angle_deg)))
    sense = 1.0 if float(axis @ b.axis) > 0 else -1.0
    return (
        abs(a.radius_mm + slope * along - b.radius_mm) <= NEAR_MM
        and abs(a.half_angle_deg - sense * b.half_angle_deg) <= 1e-4
    )
