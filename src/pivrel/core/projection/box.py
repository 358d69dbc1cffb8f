"""Box: six planar layings, each face by the side it looks to most; on request wrapped round."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import ClassVar, Literal

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats, Ints, Precision
from pivrel.core.geometry.fits.edges import longest_edge
from pivrel.core.geometry.fits.frame import UP, at_lowest_corner, datum_at, level_across, unit
from pivrel.core.geometry.fits.tight_box import tightest_axes
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.kernels import kernel
from pivrel.core.projection.affine import composed, lay_sides
from pivrel.core.projection.base import ClosedForm, Projection
from pivrel.core.projection.charts import Chart, box_charts
from pivrel.core.projection.fitting import AXES, Aim, Fit, direction_of, x_axis_across

RULES: Floats = np.array(
    [
        [[0, 1, 0, 0], [0, 0, 1, 0]],  # +x
        [[0, -1, 0, 0], [0, 0, 1, 0]],  # -x
        [[-1, 0, 0, 0], [0, 0, 1, 0]],  # +y
        [[1, 0, 0, 0], [0, 0, 1, 0]],  # -y
        [[1, 0, 0, 0], [0, 1, 0, 0]],  # +z
        [[1, 0, 0, 0], [0, -1, 0, 0]],  # -z
    ],
    dtype=np.float64,
)
TOP, BOTTOM = 4, 5

TIE = 1e-6
"""Components of the unit normal this close to the largest tie; x goes before y before z."""


@kernel(parallel=True)
def box_sides(normals: Floats, faces: Ints, axes: Floats) -> Ints:
    """(len(faces),) int8 row of RULES for each face; normals (F, 3) of any length."""
    side = np.empty(len(faces), np.int8)
    for k in prange(len(faces)):
        f = faces[k]
        u, v, w = normals[f, 0], normals[f, 1], normals[f, 2]
        x = axes[0, 0] * u + axes[0, 1] * v + axes[0, 2] * w
        y = axes[1, 0] * u + axes[1, 1] * v + axes[1, 2] * w
        z = axes[2, 0] * u + axes[2, 1] * v + axes[2, 2] * w
        largest = max(abs(x), abs(y), abs(z))
        least = largest
        if min(largest - abs(x), largest - abs(y)) <= 2 * TIE * largest:
            # Only near a tie does the exact length matter; far from one its root is not worth taking.
            least -= TIE * np.sqrt(x * x + y * y + z * z)
        if abs(x) >= least:
            side[k] = 0 if x >= 0 else 1
        elif abs(y) >= least:
            side[k] = 2 if y >= 0 else 3
        else:
            side[k] = 4 if z >= 0 else 5
    return side


def wrapped_rules(half_x: float, half_y: float) -> Floats:
    """(6, 2, 4) rules that run the pattern round the upright sides, from the left end of -y."""
    rules = RULES.copy()
    rules[3, 0, 3] = half_x
    rules[0, 0, 3] = 2 * half_x + half_y
    rules[2, 0, 3] = 3 * half_x + 2 * half_y
    rules[1, 0, 3] = 4 * half_x + 3 * half_y
    return rules


def box_datum(surface: Surface, faces: Ints, aim: Aim) -> Datum:
    """The datum of a box laid on these faces, its origin at the pick's lowest corner."""
    points = surface.points_of(faces)
    x, z = np.array([1.0, 0, 0]), UP
    if aim.to == "box":
        x, _, z = tightest_axes(points)
    elif aim.to in ("face", "view"):
        # One side of the box lies on the face; an upright face leaves the box upright.
        out = direction_of(surface, faces, aim)
        if abs(out[2]) < 0.7:
            x = level_across(out)
            z = np.cross(out, x)
        else:
            x, z = x_axis_across(surface, faces, aim, out), out
    elif aim.to == "axis":
        z = AXES[aim.axis]
        x = level_across(z)
    if aim.along_edge:
        edge = longest_edge(surface, faces)
        if edge is not None and np.linalg.norm(np.cross(edge, z)) > 1e-3:
            x = unit(edge - (edge @ z) * z)
            x = x if x @ np.array([1.0, 0.1, 0.01]) >= 0 else -x
    return at_lowest_corner(points, x, z, outermost=False)


def centred(datum: Datum, points: Floats) -> Datum:
    """The datum in the middle of the box that holds the points (N, 3); the courses still begin at the bottom."""
    inside = points @ datum.axes.T
    middle = (inside.min(axis=0) + inside.max(axis=0)) / 2
    middle[2] = inside[:, 2].min()
    return datum_at(middle @ datum.axes, datum.axes[0], datum.axes[2])


@dataclass(frozen=True)
class Box(ClosedForm):
    """corners "separate": every side measures from the datum's origin on its own.

    corners "wrapped": the pattern runs on round the upright sides of a box of size_mm, centred on
    the datum. None is the box that just holds the faces.
    """

    corners: Literal["separate", "wrapped"] = "separate"
    size_mm: tuple[float, float, float] | None = None
    kind: ClassVar[str] = "box"
    takes_box: ClassVar[bool] = True

    @classmethod
    def tried(cls) -> Sequence[Box]:
        return cls(), cls("wrapped")

    def fit(self, surface: Surface, faces: Ints, aim: Aim) -> Fit:
        datum = box_datum(surface, faces, aim)
        return Fit(datum if self.corners == "separate" else centred(datum, surface.points_of(faces)))

    def fits_like(self, other: Projection) -> bool:
        # Where corners are wrapped the datum stands in the middle of the box, and not at its corner.
        return isinstance(other, Box) and other.corners == self.corners

    def settled(self, surface: Surface, faces: Ints, datum: Datum, repeat_mm: tuple[float, float]) -> Box:
        """With the size measured off the faces, where it is needed and left open."""
        if self.corners == "separate" or self.size_mm is not None:
            return self
        points = surface.points_of(faces)
        if not len(points):
            return replace(self, size_mm=(1.0, 1.0, 1.0))
        reach = np.abs((points - datum.origin_mm) @ datum.axes.T).max(axis=0)
        x, y, z = (float(2 * r) for r in reach)
        return replace(self, size_mm=(x, y, z))

    def lay(
        self, surface: Surface, faces: Ints, datum: Datum, sheet: Floats, dtype: Precision = np.float64
    ) -> Floats:
        """(K, 2) mm for the corners of `faces`; sheet (2, 3) from raw to final."""
        rules: Floats = RULES
        if self.corners == "wrapped":
            assert self.size_mm is not None, "settled first"
            rules = wrapped_rules(self.size_mm[0] / 2, self.size_mm[1] / 2)
        side = self.sides(surface, faces, datum)
        return lay_sides(surface.mesh, faces, side, composed(rules, datum, sheet), dtype)

    def sides(self, surface: Surface, faces: Ints, datum: Datum) -> Ints:
        """(len(faces),) int8 row of RULES for each face."""
        side: Ints = box_sides(surface.normals, faces, datum.axes)
        return side

    def charts(self, bounds: Floats) -> list[Chart]:
        if self.corners == "wrapped" and self.size_mm is not None:
            return box_charts(wrapped_rules(self.size_mm[0] / 2, self.size_mm[1] / 2), bounds)
        return box_charts(RULES, bounds)
