"""How large an image is on a model by the model's own texture coordinates."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.tolerances import TOLERANCE


@dataclass(frozen=True)
class UvScale:
    """The real size of an image, estimated. true_share: of the area, what shows it at this size."""

    width_mm: float
    height_mm: float
    true_share: float


def uv_scale(surface: Surface, faces: Ints, uv: Floats, repeats: tuple[float, float]) -> UvScale | None:
    """The median mm of surface a UV unit, along and up, by area; None where no face has UVs of any size.

    uv: (C, 2) by corner. repeats: how often the image lies on a UV unit, each way.
    """
    own = np.flatnonzero(surface.held(faces)[surface.triangle_face])
    triangles = surface.triangles[own]
    points = surface.mesh.points[surface.mesh.corners[triangles]]
    st = uv[triangles] * np.array(repeats)
    p, q = points[:, 1] - points[:, 0], points[:, 2] - points[:, 0]
    a, b = st[:, 1] - st[:, 0], st[:, 2] - st[:, 0]
    det = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    area = surface.triangle_areas[own]
    with np.errstate(invalid="ignore"):
        known = np.isfinite(det) & (np.abs(det) > 1e-12) & (area > 0)
    if not known.any():
        return None
    p, q, a, b, det, area = (v[known] for v in (p, q, a, b, det, area))
    # One unit along, and one up, as vectors on the surface.
    along = (b[:, 1:] * p - a[:, 1:] * q) / det[:, None]
    up = (a[:, :1] * q - b[:, :1] * p) / det[:, None]
    sizes = np.stack([np.linalg.norm(along, axis=1), np.linalg.norm(up, axis=1)])
    width, height = (_median(side, area) for side in sizes)
    ratio = sizes / np.array([[width], [height]])
    true = ((ratio >= 1 / (1 + TOLERANCE)) & (ratio <= 1 + TOLERANCE)).all(axis=0)
    return UvScale(width, height, float(area[true].sum() / area.sum()))


def _median(values: Floats, weights: Floats) -> float:
    order = np.argsort(values, kind="stable")
    total = np.cumsum(weights[order])
    return float(values[order][np.searchsorted(total, total[-1] / 2)])
