"""Bare faces beside the pieces of a finish: laid out patch by patch as they are, so that none is forgotten."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.fits.frame import level_across
from pivrel.core.geometry.surface import Surface
from pivrel.core.measure.pieces import Pieces, find_pieces
from pivrel.core.solve.layout import shelved

MOST_FACES = 20_000
"""More bare faces than these are counted, and not laid out: nothing has been laid yet where so many are."""

GAP = 0.02
"""Between them, as a share of the size of what they stand beside."""


def left_aside(surface: Surface, bare: Ints, laid: Ints) -> Ints:
    """Of bare faces those of the parts that some laid faces belong to; (K,) int32, ascending."""
    part = surface.mesh.face_part
    out: Ints = bare[np.isin(part[bare], np.unique(part[laid]))]
    return out


def set_aside(surface: Surface, faces: Ints, beside: Pieces) -> Pieces:
    """Faces (K,) int32, ascending, each patch of them in its own plane, standing as it stands, right of some pieces."""
    st = np.zeros((surface.mesh.corner_count, 2))
    low, high = beside.boxes[:, :2].min(axis=0), beside.boxes[:, 2:].max(axis=0)
    gap = GAP * float((high - low).max())
    patch = surface.patches()[faces]
    patches = np.unique(patch)
    own = [_corners(surface, faces[patch == number]) for number in patches.tolist()]
    for corners, number in zip(own, patches.tolist(), strict=True):
        st[corners] = _in_plane(surface, faces[patch == number], corners)
    lows = np.array([st[corners].min(axis=0) for corners in own])
    sizes = np.array([st[corners].max(axis=0) for corners in own]) - lows
    places = shelved(sizes, gap) + np.array([high[0] + 3 * gap, low[1]])
    for corners, place, was in zip(own, places, lows, strict=True):
        st[corners] += place - was
    return find_pieces(surface, faces, st[surface.corners_of(faces)])


def _corners(surface: Surface, faces: Ints) -> Ints:
    out: Ints = np.flatnonzero(surface.corners_of(faces))
    return out


def _in_plane(surface: Surface, faces: Ints, corners: Ints) -> Floats:
    """(N, 2) mm the corners of a patch in its mean plane, its level across along s."""
    normal = surface.face_areas[faces] @ surface.normals[faces]
    normal /= max(float(np.linalg.norm(normal)), 1e-300)
    if not normal.any():
        normal = np.array([0.0, 0.0, 1.0])
    across = level_across(normal)
    points = surface.mesh.points[surface.mesh.corners[corners]]
    out: Floats = points @ np.stack([across, np.cross(normal, across)], axis=1)
    return out
