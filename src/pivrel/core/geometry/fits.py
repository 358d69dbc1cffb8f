"""Datums fitted to a pick, so that the first try is nearly right.

Every fit puts the origin at a corner of the pick, where a tiler would begin.
"""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface

UP = np.array([0.0, 0.0, 1.0])


def _points(surface: Surface, faces: Ints) -> Floats:
    inside = np.zeros(surface.mesh.face_count, bool)
    inside[faces] = True
    corners = np.repeat(inside, np.diff(surface.mesh.face_start))
    return surface.mesh.points[np.unique(surface.mesh.corners[corners])]


def _at_lowest_corner(points: Floats, x: Floats, z: Floats, outermost: bool) -> Datum:
    """The frame with its origin where the pick begins: least x and y, and least or greatest z."""
    axes = np.stack([x, np.cross(z, x), z])
    inside = points @ axes.T
    low = inside.min(axis=0)
    if outermost:
        low[2] = inside[:, 2].max()
    # Tenths of a micrometre are noise of the rotation, and -0.0 reads badly.
    origin = np.round(low @ axes, 4) + 0.0
    return Datum(_vector(origin), _vector(x), _vector(z))


def _vector(v: Floats) -> tuple[float, float, float]:
    v = np.round(v, 12) + 0.0
    return float(v[0]), float(v[1]), float(v[2])


def fit_planar(surface: Surface, faces: Ints) -> Datum:
    """z along the pick's area-weighted mean normal, x level, origin at its bottom left.

    A closed or balanced pick has no mean direction: then z is the direction in which most
    area looks, either way round (the greatest eigenvector of the normals' scatter).
    """
    points = _points(surface, faces)
    if not len(points):
        return Datum()
    normals = surface.normals[faces]
    total, size = normals.sum(axis=0), np.linalg.norm(normals, axis=1).sum()
    if np.linalg.norm(total) > 1e-6 * size:
        z = total / np.linalg.norm(total)
    else:
        unit = normals / np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-300)
        z = np.linalg.eigh(unit.T @ normals)[1][:, -1]
        z = z * (1 if z[np.argmax(np.abs(z))] > 0 else -1)
    across = np.cross(UP, z)
    # On a level pick "left to right" is the model's own x.
    x = across / np.linalg.norm(across) if np.linalg.norm(across) > 1e-6 else np.array([1.0, 0, 0])
    x = x - (x @ z) * z
    return _at_lowest_corner(points, x / np.linalg.norm(x), z, outermost=True)


def fit_box(surface: Surface, faces: Ints) -> Datum:
    """The model's own axes, with the origin at the lowest corner of the pick's bounds."""
    points = _points(surface, faces)
    if not len(points):
        return Datum()
    return _at_lowest_corner(points, np.array([1.0, 0, 0]), UP, outermost=False)
