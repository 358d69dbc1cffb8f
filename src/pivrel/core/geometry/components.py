"""Components: faces that hang together over edges, which way each is turned, and which are closed."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.union_find import join, numbered


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


@njit(cache=True)
def _joined(pairs: Ints, manifold: Mask, opposed: Mask, face: Ints, count: int) -> tuple[Ints, Mask]:
    """Each face's component, numbered in face order, and whether it winds against the component's first face."""
    parent, odd = np.arange(count).astype(np.int32), np.zeros(count, np.bool_)
    for e in range(len(pairs)):
        if manifold[e]:
            join(parent, odd, face[pairs[e, 0]], face[pairs[e, 1]], opposed[e])
    return numbered(parent, odd)


def find_components(surface: Surface) -> Components:
    """The components of a surface; faces join over edges of exactly two faces."""
    mesh, topology = surface.mesh, surface.topology
    component, odd = _joined(
        topology.pairs, topology.manifold, topology.opposed, topology.corner_face, mesh.face_count
    )
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
    a, b, c = (mesh.points[mesh.corners[surface.triangles[:, k]]] for k in range(3))
    middle = mesh.points.mean(axis=0)
    sixth = np.einsum("ij,ij->i", a - middle, np.cross(b - middle, c - middle)) / 6
    sign = np.where(against[surface.triangle_face], -1.0, 1.0)
    volume = np.bincount(component[surface.triangle_face], sixth * sign, count)
    return Components(component, against, closed, volume.astype(np.float64))
