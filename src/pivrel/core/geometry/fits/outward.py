"""The side from which faces are seen: outward where they belong to a body, undecided where they are a sheet."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints, marked
from pivrel.core.geometry.components import find_components
from pivrel.core.geometry.portion import portion
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.vectors import unit_rows
from pivrel.core.geometry.winding import winding_numbers

JUDGED = 48
"""Faces whose surroundings are looked at, the largest first: a hundred more change no answer."""

WHOLE_MODEL = 200_000
"""Triangles up to which all of the model may hide a face; above, only the bodies that the pick belongs to."""

CLEAR = 0.2
"""Winding numbers at the two sides of a face that differ by less are those of a sheet."""

FACING = np.sqrt(0.5)
"""Faces within 45 degrees of a direction, either way, are laid along it."""

EVEN = 0.05
"""Two sides that are seen equally to within this share of the area decide nothing."""


def seen_side(surface: Surface, faces: Ints, direction: Floats) -> float:
    """From -1 to 1: the share of the area that is seen from where the direction points, less that from behind.

    Only faces that look along the direction, either way, count; those inside another body are seen from
    nowhere, and a sheet's two sides are as good as each other.
    """
    # A face without area has no direction, so that it looks along none.
    unit = unit_rows(surface.normals[faces])
    rows = np.flatnonzero(np.abs(unit @ direction) >= FACING)
    if not len(rows):
        return 0.0
    rows = rows[np.argsort(-surface.face_areas[faces[rows]], kind="stable")[:JUDGED]]
    facing, unit = faces[rows], unit[rows]
    area = surface.face_areas[facing]
    sense = np.sign(unit @ direction)
    return float((area * sense * _outward(surface, facing, unit)).sum() / area.sum())


def _outward(surface: Surface, faces: Ints, unit: Floats) -> Floats:
    """(K,) 1 where a face is seen from where its normal points, -1 from behind, 0 where neither is outside."""
    triangles = surface.triangles
    if len(triangles) > WHOLE_MODEL:
        body = find_components(surface).component
        held = marked(body[faces], int(body.max()) + 1)
        triangles = triangles[held[body][surface.triangle_face]]
    corners = (surface.mesh.points[surface.mesh.corners[triangles[:, k]]] for k in range(3))
    own = _places_on(surface, faces)
    # Near enough that nothing lies between, far enough for the last digits of a solid angle.
    off = np.maximum(1e-3 * np.sqrt(surface.face_areas[faces]), 1e-4)[:, None] * unit
    found = np.abs(winding_numbers(np.concatenate([own + off, own - off]), *corners))
    before, behind = found[: len(faces)], found[len(faces) :]
    clear = np.abs(behind - before) >= CLEAR
    out: Floats = np.where(clear, np.sign(behind - before), 0.0)
    return out


def _places_on(surface: Surface, faces: Ints) -> Floats:
    """(K, 3) a place well within each face: the middle of its largest triangle."""
    own = portion(surface, faces)
    order = np.lexsort((-own.areas, own.row))
    largest = own.triangles[order[np.searchsorted(own.row[order], np.arange(len(faces)))]]
    middle: Floats = surface.mesh.points[own.points[largest]].mean(axis=1)
    return middle
