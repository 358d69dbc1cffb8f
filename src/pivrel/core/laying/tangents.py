"""Tangents: where the sheet's +s runs at each corner, so that a normal map is lit as the view lights it."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.same_rows import same_rows
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.vectors import unit_rows

LOST = 1e-9
"""A tangent shorter than this has no direction."""


def tangents(surface: Surface, st: Floats, normals: Floats) -> Floats:
    """(C, 4) unit tangents in model axes and their handedness, as glTF 2.0 and MikkTSpace mean them.

    The tangent runs along +s, square to the shading normal; cross(normal, tangent) times the fourth number runs along +t.
    Averaged over the triangles at all corners that share place, normal, (s, t) and handedness, each by its angle there, as
    M. Mikkelsen, "Simulation of Wrinkled Surfaces Revisited" (2008) and his mikktspace.c have it.
    st: (C, 2) mm by corner id, NaN where bare. normals: (C, 3). Corners without a laying get any tangent.
    """
    triangles = surface.triangles
    points = surface.mesh.points[surface.mesh.corners[triangles]]
    places = st[triangles]
    u, v = points[:, 1] - points[:, 0], points[:, 2] - points[:, 0]
    du, dv = places[:, 1] - places[:, 0], places[:, 2] - places[:, 0]
    det = du[:, 0] * dv[:, 1] - du[:, 1] * dv[:, 0]
    solid = np.isfinite(det) & (np.abs(np.nan_to_num(det)) > 1e-12)
    sign = np.where(solid, np.sign(np.nan_to_num(det)), 0.0)
    along = np.nan_to_num((u * dv[:, 1:] - v * du[:, 1:]) * sign[:, None])
    normal = normals.astype(np.float64)
    total: Floats = np.zeros((surface.mesh.corner_count, 3))
    hand = np.zeros(surface.mesh.corner_count)
    for k in range(3):
        own = normal[triangles[:, k]]
        a, b = (_square_to(own, points[:, (k + by) % 3] - points[:, k]) for by in (1, 2))
        angle = np.arccos(np.clip((a * b).sum(axis=1), -1, 1))
        weight = angle * np.abs(sign)
        np.add.at(total, triangles[:, k], _square_to(own, along) * weight[:, None])
        np.add.at(hand, triangles[:, k], sign * weight)
    group = _shared(surface, st, normals, hand >= 0)
    summed: Floats = np.stack([np.bincount(group, total[:, axis]) for axis in range(3)], axis=1)
    total = _square_to(normal, summed[group])
    lost = np.linalg.norm(total, axis=1) < LOST
    if lost.any():
        # Any direction square to the normal: nothing is laid there, or nothing that has one.
        axis = np.eye(3)[np.argmin(np.abs(normal[lost]), axis=1)]
        total[lost] = unit_rows(np.cross(normal[lost], axis))
    return np.column_stack([total, np.where(hand >= 0, 1.0, -1.0)])


def _square_to(normals: Floats, vectors: Floats) -> Floats:
    """(N, 3) unit vectors of these, square to normals; 0 where they have no direction."""
    out = vectors - (vectors * normals).sum(axis=1, keepdims=True) * normals
    length = np.linalg.norm(out, axis=1, keepdims=True)
    squared: Floats = np.where(length > LOST, out / np.maximum(length, LOST), 0.0)
    return squared


def _shared(surface: Surface, st: Floats, normals: Floats, hand: Mask) -> Ints:
    """(C,) a number that corners share which a file would hold as one vertex."""
    mesh = surface.mesh
    rows = np.column_stack([mesh.points[mesh.corners], normals, np.nan_to_num(st), hand]).astype(np.float32)
    return same_rows(rows)[0]
