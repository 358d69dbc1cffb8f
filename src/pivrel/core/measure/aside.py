"""Bare faces beside the pieces of a finish: laid out patch by patch as they are, so that none is forgotten."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints, rows_by
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
    out: Ints = bare[np.isin(part[bare], part[laid])]
    return out


def set_aside(surface: Surface, faces: Ints, beside: Pieces) -> Pieces:
    """Faces (K,) int32, ascending, each patch of them in its own plane, standing as it stands, right of some pieces."""
    low, high = beside.boxes[:, :2].min(axis=0), beside.boxes[:, 2:].max(axis=0)
    gap = GAP * float((high - low).max())
    mesh = surface.mesh
    patches, patch = np.unique(surface.patches()[faces], return_inverse=True)
    corners = np.flatnonzero(surface.corners_of(faces))
    own = rows_by(np.repeat(patch, np.diff(mesh.face_start)[faces]), len(patches))
    flat = [
        _in_plane(surface, faces[rows], mesh.points[mesh.corners[corners[mine]]])
        for rows, mine in zip(rows_by(patch, len(patches)), own, strict=True)
    ]
    sizes = np.array([np.ptp(st, axis=0) for st in flat])
    places = shelved(sizes, gap) + np.array([high[0] + 3 * gap, low[1]])
    final = np.empty((len(corners), 2))
    for mine, st, place in zip(own, flat, places, strict=True):
        final[mine] = st - st.min(axis=0) + place
    return find_pieces(surface, faces, final)


def _in_plane(surface: Surface, faces: Ints, points: Floats) -> Floats:
    """(N, 2) mm places on a patch in its mean plane, its level across along s."""
    normal = surface.face_areas[faces] @ surface.normals[faces]
    normal /= max(float(np.linalg.norm(normal)), 1e-300)
    if not normal.any():
        normal = np.array([0.0, 0.0, 1.0])
    across = level_across(normal)
    out: Floats = points @ np.stack([across, np.cross(normal, across)], axis=1)
    return out
