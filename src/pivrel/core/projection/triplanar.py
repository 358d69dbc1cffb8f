"""Triplanar: three layings blended at every point by the direction that the surface looks there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from pivrel.core.arrays import Floats, Ints, Precision
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.projection.affine import composed, lay_sides
from pivrel.core.projection.base import ClosedForm
from pivrel.core.projection.box import RULES, box_datum, box_sides
from pivrel.core.projection.charts import Chart, box_charts
from pivrel.core.projection.fitting import Aim, Fit

LEAST_BLEND = 0.03

AxisMaterials = tuple[str | None, str | None, str | None]


def blend_weights(normals: Floats, blend: float) -> Floats:
    """(N, 3) shares of the x, y and z layings; normals (N, 3) of any length, in datum axes.

    The formula of MaterialX 1.39's `triplanarprojection`: |n_i|^(1/b) over the sum of the three,
    with b = max(blend, 0.03).
    """
    size = np.abs(normals)
    # The largest component becomes 1 first: a power of 33 of a short vector would vanish.
    size = size / np.maximum(size.max(axis=1, keepdims=True), 1e-300)
    raised = size ** (1.0 / max(blend, LEAST_BLEND))
    weights: Floats = raised / np.maximum(raised.sum(axis=1, keepdims=True), 1e-300)
    return weights


@dataclass(frozen=True)
class Triplanar(ClosedForm):
    """Three layings by the box's rules, blended by the shading normal.

    backs "mirrored": both signs of an axis take the plus side's rule. materials: the ids of a
    material of their own for x, y and z, None for the finish's.
    """

    blend: float = 0.3
    backs: Literal["unmirrored", "mirrored"] = "unmirrored"
    materials: AxisMaterials = (None, None, None)
    kind: ClassVar[str] = "triplanar"
    blends: ClassVar[bool] = True
    takes_box: ClassVar[bool] = True

    def fit(self, surface: Surface, faces: Ints, aim: Aim) -> Fit:
        return Fit(box_datum(surface, faces, aim))

    def lay(
        self, surface: Surface, faces: Ints, datum: Datum, sheet: Floats, dtype: Precision = np.float64
    ) -> Floats:
        """(K, 2) mm for the corners of `faces`, each by its strongest axis, for what cannot blend."""
        side = self.sides(surface, faces, datum)
        return lay_sides(surface.mesh, faces, side, composed(RULES, datum, sheet), dtype)

    def sides(self, surface: Surface, faces: Ints, datum: Datum) -> Ints:
        """(len(faces),) int8 row of the box's rules for each face."""
        side = box_sides(surface.normals, faces, datum.axes)
        if self.backs == "mirrored":
            side &= ~1
        return side

    def axes(self, surface: Surface, faces: Ints, datum: Datum) -> Ints:
        """(len(faces),) int8: 0, 1 or 2, the axis that each face looks along most."""
        axis: Ints = box_sides(surface.normals, faces, datum.axes) // 2
        return axis

    def charts(self, bounds: Floats) -> list[Chart]:
        return box_charts(RULES, bounds)

    def sheet_directions(
        self, normals: Floats, datum: Datum, sheet: Floats, axis: int
    ) -> tuple[Floats, Floats]:
        """(N, 3) unit directions in model coordinates in which s' and t' run on an axis' sheet."""
        side = 2 * axis + (((normals @ datum.axes[axis]) < 0) if self.backs == "unmirrored" else 0)
        across = composed(RULES, datum, sheet)[:, :, :3]
        across = across / np.linalg.norm(across, axis=2, keepdims=True)
        chosen = across[np.broadcast_to(side, len(normals))]
        return chosen[:, 0], chosen[:, 1]

    def at_points(
        self, points: Floats, normals: Floats, datum: Datum, sheets: Floats
    ) -> tuple[Floats, Floats]:
        """(N, 3, 2) the three final (s', t') in mm at each point, and (N, 3) their weights.

        points, normals: (N, 3) in model coordinates, the normals those that shade. sheets: (3, 2, 3)
        raw to final, one an axis.
        """
        inside = normals @ datum.axes.T
        away = inside < 0 if self.backs == "unmirrored" else np.zeros_like(inside, bool)
        side = np.arange(3) * 2 + away
        st = np.empty((len(points), 3, 2))
        homogeneous = np.column_stack([points, np.ones(len(points))])
        for axis in range(3):
            maps = composed(RULES, datum, sheets[axis])
            st[:, axis] = np.einsum("nij,nj->ni", maps[side[:, axis]], homogeneous)
        return st, blend_weights(inside, self.blend)
