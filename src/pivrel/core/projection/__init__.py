"""The kinds of projection, each one module: its parameters, then its rules.

A kind is made known by one line in `recipe.projections`, which says how a recipe states it.
"""

from pivrel.core.arrays import Ints
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.projection.base import ClosedForm, Projection, Solved
from pivrel.core.projection.box import Box
from pivrel.core.projection.camera import Camera
from pivrel.core.projection.cylindrical import Cylindrical
from pivrel.core.projection.drape import Drape
from pivrel.core.projection.fitting import BEST, Aim, Fit, FitError, seam_turned
from pivrel.core.projection.flatten import Flatten
from pivrel.core.projection.flow import Flow
from pivrel.core.projection.lines import Lines
from pivrel.core.projection.planar import Planar
from pivrel.core.projection.roll import Roll
from pivrel.core.projection.spherical import Spherical
from pivrel.core.projection.triplanar import Triplanar


def fit(surface: Surface, faces: Ints, projection: Projection, aim: Aim = BEST) -> Fit:
    """The datum that a projection takes on these faces (int32 ids). FitError where the aim has no sense."""
    return projection.fit(surface, faces, aim) if len(faces) else Fit(Datum())


__all__ = [
    "BEST", "Aim", "Box", "Camera", "ClosedForm", "Cylindrical", "Drape", "Fit", "FitError", "Flatten", "Flow", "Lines",
    "Planar", "Projection", "Roll", "Solved", "Spherical", "Triplanar", "fit", "seam_turned",
]  # fmt: skip
