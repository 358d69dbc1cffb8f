"""Tangents: where the sheet's +s runs at each corner, so that a normal map is lit as the view lights it."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.geometry.surface import Surface


def tangents(surface: Surface, st: Floats, normals: Floats) -> Floats:
    """(C, 4) unit tangents in model axes and their handedness, as glTF 2.0 and MikkTSpace mean them.

    The tangent runs along +s, square to the shading normal; cross(normal, tangent) times the fourth number
    runs along +t. Averaged over the triangles of a face that meet at the corner, by their angle there.
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
    along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-300)
    total, hand = np.zeros((surface.mesh.corner_count, 3)), np.zeros(surface.mesh.corner_count)
    for k in range(3):
        a, b = points[:, (k + 1) % 3] - points[:, k], points[:, (k + 2) % 3] - points[:, k]
        size = np.linalg.norm(a, axis=1) * np.linalg.norm(b, axis=1)
        angle = np.arccos(np.clip((a * b).sum(axis=1) / np.maximum(size, 1e-300), -1, 1))
        weight = angle * np.abs(sign)
        np.add.at(total, triangles[:, k], along * weight[:, None])
        np.add.at(hand, triangles[:, k], sign * weight)
    normal = normals.astype(np.float64)
    total -= (total * normal).sum(axis=1, keepdims=True) * normal
    length = np.linalg.norm(total, axis=1)
    lost = length < 1e-9
    if lost.any():
        # Any direction square to the normal: nothing is laid there, or nothing that has one.
        axis = np.eye(3)[np.argmin(np.abs(normal[lost]), axis=1)]
        total[lost] = np.cross(normal[lost], axis)
        length = np.linalg.norm(total, axis=1)
    unit = total / np.maximum(length, 1e-300)[:, None]
    return np.column_stack([unit, np.where(hand >= 0, 1.0, -1.0)])
