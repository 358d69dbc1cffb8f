"""Some faces of a surface by themselves: their corners and triangles numbered among each other.

What is worked out of a few faces of a large model then takes time and memory for those faces alone.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.corner_rows import corner_rows, gathered
from pivrel.core.geometry.edge_pairs import GLUED
from pivrel.core.geometry.surface import Surface
from pivrel.core.kernels import kernel


@dataclass(frozen=True)
class Portion:
    """faces: (K,) int32, ascending, of a surface.

    rows: (K + 1,) where each face's corners begin among those of the portion. first: (K + 1,) where its triangles do.
    triangles: (T, 3) int32 into the corners of the portion.
    """

    surface: Surface
    faces: Ints
    rows: Ints
    first: Ints
    triangles: Ints

    @property
    def is_whole(self) -> bool:
        """Whether these are all faces there are."""
        return len(self.faces) == self.surface.mesh.face_count

    @cached_property
    def row(self) -> Ints:
        """(T,) the face of each triangle, into faces."""
        return np.repeat(np.arange(len(self.faces), dtype=np.int32), np.diff(self.first))

    @cached_property
    def ids(self) -> Ints:
        """(T,) int32 rows of the triangles among those of the surface."""
        return self.surface.triangle_start[self.faces][self.row] + _within(self.first, self.row)

    @cached_property
    def points(self) -> Ints:
        """(C,) int32 the point of each corner."""
        mesh = self.surface.mesh
        own: Ints = gathered(mesh.corners, mesh.face_start, self.faces, self.rows)
        return own

    @cached_property
    def areas(self) -> Floats:
        """(T,) mm² of each triangle."""
        areas = self.surface.triangle_areas
        start = self.surface.triangle_start
        own: Floats = areas if self.is_whole else gathered(areas, start, self.faces, self.first)
        return own

    @cached_property
    def of_face(self) -> Ints:
        """(F,) int32 the row of each face of the surface, -1 for those that are not among these."""
        out = np.full(self.surface.mesh.face_count, -1, np.int32)
        out[self.faces] = np.arange(len(self.faces), dtype=np.int32)
        return out

    @cached_property
    def shift(self) -> Ints:
        """(K,) int32, added to the corner ids of each face, gives their rows among the corners of the portion."""
        out: Ints = self.rows[:-1] - self.surface.mesh.face_start[self.faces]
        return out

    def own(self, corners: Ints) -> Ints:
        """(N,) corner ids of its faces as rows among the corners of the portion."""
        out: Ints = corners + self.shift[self.of_face[self.surface.topology.corner_face[corners]]]
        return out


def _within(first: Ints, row: Ints) -> Ints:
    """(T,) the place of each triangle within its face."""
    out: Ints = np.arange(len(row), dtype=np.int32) - first[:-1].astype(np.int32)[row]
    return out


@kernel
def _triangles(
    triangles: Ints, triangle_start: Ints, face_start: Ints, faces: Ints, rows: Ints, first: Ints
) -> Ints:
    out = np.empty((first[-1], 3), np.int32)
    for k in range(len(faces)):
        shift = rows[k] - face_start[faces[k]]
        begin = triangle_start[faces[k]] - first[k]
        for t in range(first[k], first[k + 1]):
            for corner in range(3):
                out[t, corner] = triangles[begin + t, corner] + shift
    return out


def portion(surface: Surface, faces: Ints) -> Portion:
    """Some faces (K,) int32, ascending, of a surface."""
    mesh, start = surface.mesh, surface.triangle_start
    rows = corner_rows(mesh, faces)
    if len(faces) == mesh.face_count:
        return Portion(surface, faces, rows, start, surface.triangles)
    first = np.concatenate([[0], np.cumsum(start[faces + 1] - start[faces])]).astype(np.int32)
    return Portion(
        surface, faces, rows, first,
        _triangles(surface.triangles, start, mesh.face_start, faces, rows, first),
    )  # fmt: skip


@kernel
def _edges_within(
    far: Ints, opening: Floats, face: Ints, by_face: Ints, start: Ints, faces: Ints, of_face: Ints
) -> Ints:
    count = 0
    for f in faces:
        count += start[f + 1] - start[f]
    out = np.empty(count, np.int32)
    found = 0
    for f in faces:
        for at in range(start[f], start[f + 1]):
            e = by_face[at]
            if opening[e] > GLUED and of_face[face[far[e]]] >= 0:
                out[found] = e
                found += 1
    return out[:found]


def edges_within(own: Portion) -> Ints:
    """(E,) int32 rows of the edge pairs of a surface, ascending, that lie open between two of some faces.

    Faces that lie on each other are no pair: nobody sees the edge between them.
    """
    pairs, face = own.surface.edge_pairs, own.surface.topology.corner_face
    if own.is_whole:
        return np.flatnonzero(pairs.opening > GLUED).astype(np.int32)
    by_face, start = own.surface.edges_by_face
    return np.sort(_edges_within(pairs.far, pairs.opening, face, by_face, start, own.faces, own.of_face))
