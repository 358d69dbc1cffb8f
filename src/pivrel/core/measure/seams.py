"""Whether the pattern runs on across the edges within one finish."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.portion import Portion, edges_within
from pivrel.core.geometry.surface import Surface
from pivrel.core.kernels import kernel
from pivrel.core.sheet import Joints

MATCHED_MM = 0.5


@dataclass(frozen=True)
class Seams:
    """The edges between two faces of one finish that border the same open space.

    pairs: (E, 2) half-edges. gap_mm: (E,) the larger of the gaps at the two ends. length_mm: (E,).
    matched: (E,) where the gap is at most 0.5 mm. joints: (E,) where the images differ but the joints of
    both sides meet, as at the corner of a tiled wall.
    """

    pairs: Ints
    gap_mm: Floats
    length_mm: Floats
    matched: Mask
    joints: Mask

    @property
    def broken(self) -> Mask:
        """(E,) where neither the pattern nor its joints run on."""
        return ~(self.matched | self.joints)


@kernel
def _reduced(ds: float, dt: float, width: float, height: float, bond: float) -> float:
    """The length of a vector modulo a grid whose rows, `height` apart, are each shifted by bond * width."""
    row = np.round(dt / height) if height > 0.0 else 0.0
    dt -= height * row
    ds -= bond * width * row
    if width > 0.0:
        ds -= width * np.round(ds / width)
    return np.hypot(ds, dt)


@kernel(parallel=True)
def _ends(near: Ints, far: Ints, opposed: Mask, after: Ints, face: Ints, of_face: Ints, shift: Ints) -> Ints:
    """(E, 4) rows of the corners at the ends of each edge: of one face, and of the other in the same order.

    of_face: (F,) the row of each face among some; shift: (K,) from corner ids to rows.
    """
    out = np.empty((len(near), 4), np.int32)
    for e in prange(len(near)):
        a, b = near[e], far[e]
        from_a, from_b = shift[of_face[face[a]]], shift[of_face[face[b]]]
        out[e, 0], out[e, 1] = a + from_a, after[a] + from_a
        out[e, 2], out[e, 3] = (after[b], b) if opposed[e] else (b, after[b])
        out[e, 2] += from_b
        out[e, 3] += from_b
    return out


@kernel
def _gap(final: Floats, ends: Ints, width: float, height: float, bond: float) -> float:
    """The larger gap at the two ends (4,) of an edge."""
    worst = 0.0
    for k in range(2):
        p, q = ends[k], ends[2 + k]
        ds, dt = final[p, 0] - final[q, 0], final[p, 1] - final[q, 1]
        worst = max(worst, _reduced(ds, dt, width, height, bond))
    return worst


@kernel(parallel=True)
def _gaps(final: Floats, ends: Ints, width: float, height: float) -> Floats:
    """(E,) the larger gap at the two ends of each edge; as they are where width and height are 0."""
    out = np.empty(len(ends))
    for e in prange(len(ends)):
        out[e] = _gap(final, ends[e], width, height, 0.0)
    return out


@kernel(parallel=True)
def _joints_meet(final: Floats, ends: Ints, width: float, height: float, bond: float) -> Mask:
    """(E,) whether the joints of both sides meet all along an edge.

    At both ends the gap is a whole number of units, and the joints that cross the edge are equally far
    apart on both sides: the edge runs the same way over both sheets, or along a row of units on each.
    """
    out = np.empty(len(ends), np.bool_)
    for e in prange(len(ends)):
        a, b, c, d = ends[e, 0], ends[e, 1], ends[e, 2], ends[e, 3]
        worst = _gap(final, ends[e], width, height, bond)
        u0, u1 = final[b, 0] - final[a, 0], final[b, 1] - final[a, 1]
        v0, v1 = final[d, 0] - final[c, 0], final[d, 1] - final[c, 1]
        same_way = np.hypot(u0 - v0, u1 - v1) <= MATCHED_MM
        step_u = width if abs(u1) <= MATCHED_MM else height if abs(u0) <= MATCHED_MM else -1.0
        step_v = width if abs(v1) <= MATCHED_MM else height if abs(v0) <= MATCHED_MM else -2.0
        out[e] = worst <= MATCHED_MM and (same_way or abs(step_u - step_v) < 1e-6)
    return out


def find_seams(
    own: Portion, final: Floats, repeat_mm: tuple[float, float] | None, joints: Joints | None = None
) -> Seams:
    """The seams of one finish.

    own: the faces that it covers. final: (C, 2) mm by their corners. repeat_mm: None for a sheet
    that is shown once. joints: where the material has them. Faces that lie on each other, as the cuts
    of a mitre do, are no pair: nobody sees the edge between them.
    """
    topology, edge_pairs = own.surface.topology, own.surface.edge_pairs
    edges = edges_within(own)
    near, far, opposed = edge_pairs.near[edges], edge_pairs.far[edges], edge_pairs.opposed[edges]
    ends = _ends(near, far, opposed, topology.next_corner, topology.corner_face, own.of_face, own.shift)
    gap = _gaps(final, ends, *(repeat_mm or (0.0, 0.0)))
    meet = np.zeros(len(edges), bool)
    if joints is not None and repeat_mm is not None and any(joints.unit_mm):
        unit = [each or repeat for each, repeat in zip(joints.unit_mm, repeat_mm, strict=True)]
        meet = _joints_meet(final, ends, unit[0], unit[1], joints.bond)
    matched = gap <= MATCHED_MM
    pairs = np.stack([near, far], axis=1)
    return Seams(pairs, gap, edge_pairs.length_mm[edges], matched, meet & ~matched)


SAME_NORMAL = 1e-3
"""Shading normals that differ by no more than this, in each component, shade alike."""


def smooth_pairs(surface: Surface, seams: Seams) -> Mask:
    """(E,) where the two faces of an edge have the same shading normals at both of its ends."""
    topology, normals = surface.topology, surface.shading_normals
    a, b = seams.pairs[:, 0], seams.pairs[:, 1]
    after_a, after_b = topology.next_corner[a], topology.next_corner[b]
    place = topology.place[surface.mesh.corners]
    opposed = place[a] != place[b]
    near, far = np.where(opposed, after_b, b), np.where(opposed, b, after_b)
    gap = np.maximum(
        np.abs(normals[a] - normals[near]).max(axis=1), np.abs(normals[after_a] - normals[far]).max(axis=1)
    )
    same: Mask = gap <= SAME_NORMAL
    return same
