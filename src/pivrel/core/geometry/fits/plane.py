"""The plane that fits a pick best."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.surface import Surface

DISTINCT = 0.999
"""Two spreads nearer to each other than this share do not tell a direction."""


def surface_moments(surface: Surface, faces: Ints) -> tuple[Floats, Floats]:
    """(3,) centre and (3, 3) mean outer product about it, over the area of the faces, in mm and mm².

    Exact for triangles: with corners a, b, c and centroid g, the mean of x x^T over one is
    (a a^T + b b^T + c c^T + 9 g g^T) / 12 (the second moment of a simplex).
    """
    own = surface.held(faces)[surface.triangle_face]
    corners = surface.mesh.points[surface.mesh.corners[surface.triangles[own]]]
    area = surface.triangle_areas[own]
    if area.sum() <= 0:
        area = np.ones(len(corners))
    weight = area / area.sum()
    centre = weight @ corners.mean(axis=1)
    near = corners - centre
    middle = near.mean(axis=1)
    moments = (
        np.einsum("t,tki,tkj->ij", weight, near, near) + 9 * np.einsum("t,ti,tj->ij", weight, middle, middle)
    ) / 12
    return centre, moments


def best_normal(surface: Surface, faces: Ints) -> Floats:
    """(3,) the normal of the plane that fits best: area-weighted least squares of the distances.

    It looks to the side that the faces look to. A pick without a thinnest direction (a cube, a ball)
    takes the direction in which most of its area looks.
    """
    normals = surface.normals[faces]
    total, size = normals.sum(axis=0), np.linalg.norm(normals, axis=1).sum()
    spread, directions = np.linalg.eigh(surface_moments(surface, faces)[1])
    if spread[0] < DISTINCT * spread[1]:
        z = directions[:, 0]
    elif np.linalg.norm(total) > 1e-6 * size:
        z = total / np.linalg.norm(total)
    else:
        unit = normals / np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-300)
        z = np.linalg.eigh(unit.T @ normals)[1][:, -1]
    towards = float(total @ z)
    if abs(towards) > 1e-6 * size:
        return z if towards > 0 else -z
    # Neither way round is better: the way that its largest component is positive.
    return z if z[np.argmax(np.abs(z))] > 0 else -z
