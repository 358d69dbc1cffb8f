"""Faces of many corners as triangles, where each triangle has to lie by itself."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from pivrel.core.arrays import Ints, Mask
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.surface import Surface


@dataclass(frozen=True)
class Split:
    """A mesh with some faces as triangles. face: (F,) of the mesh before; corner: (C,) of the mesh before."""

    mesh: Mesh
    face: Ints
    corner: Ints


def as_triangles(surface: Surface, chosen: Mask) -> Split:
    """The chosen faces (F,) as their triangles, all others as they are; points and looks stay."""
    mesh = surface.mesh
    sides = np.diff(mesh.face_start)
    chosen = chosen & (sides > 3)
    kept = np.flatnonzero(~chosen)
    cut = np.flatnonzero(chosen[surface.triangle_face])
    face = np.concatenate([kept, surface.triangle_face[cut]])
    count = np.concatenate([sides[kept], np.full(len(cut), 3)])
    corner = np.concatenate([np.flatnonzero(~np.repeat(chosen, sides)), surface.triangles[cut].reshape(-1)])
    order = np.argsort(face, kind="stable")
    start = np.concatenate([[0], np.cumsum(count)])
    length = count[order]
    begin = np.repeat(start[:-1][order] - np.concatenate([[0], np.cumsum(length)[:-1]]), length)
    corner = corner[begin + np.arange(len(corner))]
    face = face[order]

    def of(values: Ints | None) -> Ints | None:
        return None if values is None else values[face]

    return Split(
        replace(
            mesh,
            corners=mesh.corners[corner],
            face_start=np.concatenate([[0], np.cumsum(length)]).astype(np.int32),
            face_part=mesh.face_part[face],
            normals=surface.shading_normals[corner],
            face_source=of(mesh.face_source),
            face_patch=of(mesh.face_patch),
            uv_sets=tuple(uv[corner] for uv in mesh.uv_sets),
        ),
        face,
        corner,
    )
