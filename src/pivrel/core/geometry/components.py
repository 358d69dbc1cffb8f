"""Components: faces that hang together over edges, which way each is turned, and which are closed."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.union_find import join, numbered
from pivrel.core.kernels import kernel


@dataclass(frozen=True)
class Components:
    """component: (F,) int32. against: (F,) bool, faces wound against their component's larger area.

    closed: (B,) bool, components without an open edge, and without one of more than two faces of a part.
    volume_mm3: (B,) signed, with the `against` faces turned; below zero where a closed component faces inward.
    """

    component: Ints
    against: Mask
    closed: Mask
    volume_mm3: Floats

    @property
    def inward(self) -> Mask:
        """(B,) closed components whose faces look to the inside."""
        return self.closed & (self.volume_mm3 < 0)


@kernel
def _joined(pairs: Ints, manifold: Mask, opposed: Mask, face: Ints, parent: Ints) -> tuple[Ints, Mask]:
    """Each face's component, numbered in face order, and whether it winds against the component's first face.

    parent: (F,) the faces' numbers.
    """
    odd = np.zeros(len(parent), np.bool_)
    for e in range(len(pairs)):
        if manifold[e]:
            join(parent, odd, face[pairs[e, 0]], face[pairs[e, 1]], opposed[e])
    return numbered(parent, odd)


def find_components(surface: Surface) -> Components:
    """The components of a surface; faces join over edges of exactly two faces."""
    mesh, topology = surface.mesh, surface.topology
    faces = np.arange(mesh.face_count, dtype=np.int32)
    component, odd = _joined(topology.pairs, topology.manifold, topology.opposed, topology.corner_face, faces)
    count = int(component.max()) + 1
    areas = surface.face_areas
    lesser = np.bincount(component, areas * odd, count) > np.bincount(component, areas * ~odd, count)
    against = odd != lesser[component]

    closed = np.ones(count, bool)
    closed[component[topology.corner_face[topology.open_edges]]] = False
    # Parts that touch along an edge are each closed by themselves.
    shared = topology.corner_face[topology.pairs[~topology.manifold]]
    within = shared[mesh.face_part[shared[:, 0]] == mesh.face_part[shared[:, 1]]]
    closed[component[within].reshape(-1)] = False
    middle = np.array([column.mean() for column in mesh.points.T])
    volume = _volumes(
        mesh.points, mesh.corners, surface.triangles, surface.triangle_face, component, against, middle, count
    )
    return Components(component, against, closed, volume)


@kernel
def _volumes(
    points: Floats, corners: Ints, triangles: Ints, face: Ints, component: Ints, against: Mask, middle: Floats,
    count: int,
) -> Floats:  # fmt: skip
    """(B,) mm³ between the triangles of each component and a place, those that look away from it counting as positive."""
    out = np.zeros(count)
    for t in range(len(triangles)):
        a, b, c = (
            points[corners[triangles[t, 0]]],
            points[corners[triangles[t, 1]]],
            points[corners[triangles[t, 2]]],
        )
        ax, ay, az = a[0] - middle[0], a[1] - middle[1], a[2] - middle[2]
        bx, by, bz = b[0] - middle[0], b[1] - middle[1], b[2] - middle[2]
        cx, cy, cz = c[0] - middle[0], c[1] - middle[1], c[2] - middle[2]
        sixth = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)
        out[component[face[t]]] += -sixth / 6 if against[face[t]] else sixth / 6
    return out
