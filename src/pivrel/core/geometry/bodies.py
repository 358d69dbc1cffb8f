"""Bodies: faces that hang together over edges, which way each is turned, and which are closed."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface


@dataclass(frozen=True)
class Bodies:
    """body: (F,) int32. against: (F,) bool, faces wound against their body's larger area.

    closed: (B,) bool, bodies without an open edge, and without one of more than two faces of a part.
    volume_mm3: (B,) signed, with the `against` faces turned; below zero where a closed body faces inward.
    """

    body: Ints
    against: Mask
    closed: Mask
    volume_mm3: Floats

    @property
    def inward(self) -> Mask:
        """(B,) closed bodies whose faces look to the inside."""
        return self.closed & (self.volume_mm3 < 0)


@njit(cache=True)
def _joined(pairs: Ints, manifold: Mask, opposed: Mask, face: Ints, count: int) -> tuple[Ints, Mask]:
    """Each face's body, numbered in face order, and whether it winds against the body's first face."""
    parent = np.arange(count).astype(np.int32)
    odd = np.zeros(count, np.bool_)
    path = np.empty(count, np.int32)
    for e in range(len(pairs)):
        if not manifold[e]:
            continue
        f, g = face[pairs[e, 0]], face[pairs[e, 1]]
        a, a_odd = _root(parent, odd, path, f)
        b, b_odd = _root(parent, odd, path, g)
        if a != b:
            low, high = min(a, b), max(a, b)
            parent[high] = low
            odd[high] = (a_odd != b_odd) != (not opposed[e])
    body = np.empty(count, np.int32)
    against = np.empty(count, np.bool_)
    number = np.full(count, -1, np.int32)
    bodies = 0
    for f in range(count):
        root, is_odd = _root(parent, odd, path, f)
        if number[root] < 0:
            number[root] = bodies
            bodies += 1
        body[f], against[f] = number[root], is_odd
    return body, against


@njit(cache=True)
def _root(parent: Ints, odd: Mask, path: Ints, f: int) -> tuple[int, bool]:
    """The root of a face and whether the face winds against it; shortens the way for the next time."""
    length = 0
    while parent[f] != f:
        path[length] = f
        length += 1
        f = parent[f]
    sense = False
    for k in range(length - 1, -1, -1):
        sense = sense != odd[path[k]]
        odd[path[k]] = sense
        parent[path[k]] = f
    return f, sense


def find_bodies(surface: Surface) -> Bodies:
    """The bodies of a surface; faces join over edges of exactly two faces."""
    mesh, topology = surface.mesh, surface.topology
    body, odd = _joined(
        topology.pairs, topology.manifold, topology.opposed, topology.corner_face, mesh.face_count
    )
    count = int(body.max()) + 1
    areas = surface.face_areas
    lesser = np.bincount(body, areas * odd, count) > np.bincount(body, areas * ~odd, count)
    against = odd != lesser[body]

    closed = np.ones(count, bool)
    closed[body[topology.corner_face[topology.open_edges]]] = False
    # Parts that touch along an edge are each closed by themselves.
    shared = topology.corner_face[topology.pairs[~topology.manifold]]
    within = shared[mesh.face_part[shared[:, 0]] == mesh.face_part[shared[:, 1]]]
    closed[body[within].reshape(-1)] = False
    a, b, c = (mesh.points[mesh.corners[surface.triangles[:, k]]] for k in range(3))
    middle = mesh.points.mean(axis=0)
    sixth = np.einsum("ij,ij->i", a - middle, np.cross(b - middle, c - middle)) / 6
    sign = np.where(against[surface.triangle_face], -1.0, 1.0)
    volume = np.bincount(body[surface.triangle_face], sixth * sign, count)
    return Bodies(body, against, closed, volume.astype(np.float64))
