"""A mesh together with all that is derived from it once and used everywhere."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from pivrel.core.arrays import Floats, Floats32, Ints, Mask, distinct, marked
from pivrel.core.geometry.corner_rows import corner_rows, gathered
from pivrel.core.geometry.edge_pairs import EdgePairs, find_edge_pairs
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.patches import CREASE_DEG, find_patches
from pivrel.core.geometry.polygons import face_centroids, face_normals, triangle_areas, triangulate
from pivrel.core.geometry.shading import smooth_normals
from pivrel.core.geometry.topology import Topology, build_topology

SPARSE = 50
"""Of fewer than one in so many numbers those that occur are found by sorting, of more by marking them."""


@dataclass
class Surface:
    """A mesh that can be laid, picked and measured; what is costly is made on first use.

    normals: (F, 3) area vectors in mm².
    triangles: (T, 3) int32 corner ids; triangle_face: (T,) int32.
    """

    mesh: Mesh
    _patches: dict[float, Ints] = field(default_factory=dict, repr=False)

    @cached_property
    def bounds(self) -> Floats:
        """(2, 3) mm, from `Mesh.bounds`."""
        return self.mesh.bounds()

    @cached_property
    def normals(self) -> Floats:
        return face_normals(self.mesh.points, self.mesh.corners, self.mesh.face_start)

    @cached_property
    def centroids(self) -> Floats:
        """(F, 3) in mm, of each face's area."""
        return face_centroids(self.mesh.points, self.mesh.corners, self.mesh.face_start, self.normals)

    @cached_property
    def _triangulation(self) -> tuple[Ints, Ints]:
        mesh = self.mesh
        return triangulate(mesh.points, mesh.corners, mesh.face_start, self.normals)

    @property
    def triangles(self) -> Ints:
        return self._triangulation[0]

    @property
    def triangle_face(self) -> Ints:
        return self._triangulation[1]

    @cached_property
    def triangle_start(self) -> Ints:
        """(F + 1,) int32; face f owns triangles[triangle_start[f]:triangle_start[f + 1]]."""
        counts = np.bincount(self.triangle_face, minlength=self.mesh.face_count)
        return np.concatenate([[0], np.cumsum(counts)]).astype(np.int32)

    @cached_property
    def triangle_points(self) -> Ints:
        """(T, 3) int32 point ids."""
        points: Ints = self.mesh.corners[self.triangles]
        return points

    def points_of(self, faces: Ints) -> Floats:
        """(N, 3) mm, the points that these faces use, each once."""
        mesh = self.mesh
        if len(faces) == mesh.face_count:
            return mesh.points[mesh.used_points]
        held = gathered(mesh.corners, mesh.face_start, faces, corner_rows(mesh, faces))
        if SPARSE * len(held) < len(mesh.points):
            return mesh.points[distinct(held)]
        return mesh.points[marked(held, len(mesh.points))]

    def corners_of(self, faces: Ints) -> Mask:
        """(C,) the corners of these faces."""
        return np.repeat(self.held(faces), np.diff(self.mesh.face_start))

    def held(self, faces: Ints) -> Mask:
        """(F,) true for these faces."""
        return marked(faces, self.mesh.face_count)

    @cached_property
    def triangle_areas(self) -> Floats:
        """(T,) in mm²."""
        return triangle_areas(self.mesh.points, self.mesh.corners, self.triangles)

    @cached_property
    def face_areas(self) -> Floats:
        """(F,) in mm², the sum of each face's triangles."""
        count = self.mesh.face_count
        areas = np.bincount(self.triangle_face, weights=self.triangle_areas, minlength=count)
        return areas.astype(np.float64)

    @cached_property
    def area_m2(self) -> float:
        """The area of all faces."""
        return float(self.face_areas.sum()) / 1e6

    @cached_property
    def topology(self) -> Topology:
        return build_topology(self.mesh.points, self.mesh.corners, self.mesh.face_start, self.mesh.face_part)

    @cached_property
    def across(self) -> Ints:
        """(C,) int32 the half-edge of the one other face at each half-edge's edge; -1 where there is none, or more."""
        out = np.full(self.mesh.corner_count, -1, np.int32)
        pairs = self.topology.pairs[self.topology.manifold]
        out[pairs[:, 0]], out[pairs[:, 1]] = pairs[:, 1], pairs[:, 0]
        return out

    def ends_of(self, half_edges: Ints) -> Ints:
        """(E, 2) the points at the ends of half-edges (E,), which are named by the corners that they begin at."""
        corners = self.mesh.corners
        ends: Ints = np.stack([corners[half_edges], corners[self.topology.next_corner[half_edges]]], axis=1)
        return ends

    @cached_property
    def edge_pairs(self) -> EdgePairs:
        """Where faces meet at edges as the eye sees it."""
        return find_edge_pairs(self.mesh, self.topology, self.normals)

    @cached_property
    def edges_by_face(self) -> tuple[Ints, Ints]:
        """(E,) int32 the edge pairs by the face of their near side, and (F + 1,) where each face's begin."""
        face = self.topology.corner_face[self.edge_pairs.near]
        counts = np.bincount(face, minlength=self.mesh.face_count)
        start = np.concatenate([[0], np.cumsum(counts)]).astype(np.int32)
        return np.argsort(face, kind="stable").astype(np.int32), start

    def patches(self, crease_deg: float = CREASE_DEG) -> Ints:
        """(F,) patch ids at this crease angle; where the file states its patches, those at the usual one."""
        if crease_deg == CREASE_DEG and self.mesh.face_patch is not None:
            return self.mesh.face_patch
        if crease_deg not in self._patches:
            self._patches[crease_deg] = find_patches(self.normals, self.topology, crease_deg)
        return self._patches[crease_deg]

    @cached_property
    def shading_normals(self) -> Floats32:
        """(C, 3) unit normals: the file's own, or smooth within each patch."""
        if self.mesh.normals is not None:
            return self.mesh.normals
        return smooth_normals(self.mesh, self.normals, self.topology.place, self.patches())
