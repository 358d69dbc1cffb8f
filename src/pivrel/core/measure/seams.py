"""Whether the pattern runs on across the edges within one finish."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.edge_pairs import GLUED
from pivrel.core.geometry.surface import Surface
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


@njit(cache=True)
def _reduced(ds: float, dt: float, width: float, height: float, bond: float) -> float:
    """The length of a vector modulo a grid whose rows, `height` apart, are each shifted by bond * width."""
    row = np.round(dt / height) if height > 0.0 else 0.0
    dt -= height * row
    ds -= bond * width * row
    if width > 0.0:
        ds -= width * np.round(ds / width)
    return np.hypot(ds, dt)


@njit(cache=True)
def _gap(
    final: Floats, a: int, end_a: int, near: int, far: int, width: float, height: float, bond: float
) -> float:
    """The larger gap at the two ends of an edge, from a to end_a on one side, from near to far on the other."""
    worst = 0.0
    for p, q in ((a, near), (end_a, far)):
        ds, dt = final[p, 0] - final[q, 0], final[p, 1] - final[q, 1]
        worst = max(worst, _reduced(ds, dt, width, height, bond))
    return worst


@njit(cache=True)
def _gaps(final: Floats, pairs: Ints, opposed: Mask, after: Ints, width: float, height: float) -> Floats:
    """(E,) the larger gap at the two ends of each edge; as they are where width and height are 0."""
    out = np.empty(len(pairs))
    for e in range(len(pairs)):
        a, b = pairs[e, 0], pairs[e, 1]
        near, far = (after[b], b) if opposed[e] else (b, after[b])
        out[e] = _gap(final, a, after[a], near, far, width, height, 0.0)
    return out


@njit(cache=True)
def _joints_meet(
    final: Floats, pairs: Ints, opposed: Mask, after: Ints, width: float, height: float, bond: float
) -> Mask:
    """(E,) whether the joints of both sides meet all along an edge.

    At both ends the gap is a whole number of units, and the joints that cross the edge are equally far
    apart on both sides: the edge runs the same way over both sheets, or along a row of units on each.
    """
    out = np.empty(len(pairs), np.bool_)
    for e in range(len(pairs)):
        a, b = pairs[e, 0], pairs[e, 1]
        near, far = (after[b], b) if opposed[e] else (b, after[b])
        worst = _gap(final, a, after[a], near, far, width, height, bond)
        u0, u1 = final[after[a], 0] - final[a, 0], final[after[a], 1] - final[a, 1]
        v0, v1 = final[far, 0] - final[near, 0], final[far, 1] - final[near, 1]
        same_way = np.hypot(u0 - v0, u1 - v1) <= MATCHED_MM
        step_u = width if abs(u1) <= MATCHED_MM else height if abs(u0) <= MATCHED_MM else -1.0
        step_v = width if abs(v1) <= MATCHED_MM else height if abs(v0) <= MATCHED_MM else -2.0
        out[e] = worst <= MATCHED_MM and (same_way or abs(step_u - step_v) < 1e-6)
    return out


def find_seams(
    surface: Surface,
    covered: Mask,
    final: Floats,
    repeat_mm: tuple[float, float] | None,
    joints: Joints | None = None,
) -> Seams:
    """The seams of one finish.

    covered: (F,) the faces that it covers. final: (C, 2) mm by corner id. repeat_mm: None for a sheet
    that is shown once. joints: where the material has them. Faces that lie on each other, as the cuts
    of a mitre do, are no pair: nobody sees the edge between them.
    """
    topology, edge_pairs = surface.topology, surface.edge_pairs
    face = topology.corner_face
    seen = covered[face[edge_pairs.near]] & covered[face[edge_pairs.far]] & (edge_pairs.opening > GLUED)
    pairs = np.stack([edge_pairs.near[seen], edge_pairs.far[seen]], axis=1)
    given = (final, pairs, edge_pairs.opposed[seen], topology.next_corner)
    gap = _gaps(*given, *(repeat_mm or (0.0, 0.0)))
    meet = np.zeros(len(pairs), bool)
    if joints is not None and repeat_mm is not None and any(joints.unit_mm):
        unit = [own or repeat for own, repeat in zip(joints.unit_mm, repeat_mm, strict=True)]
        meet = _joints_meet(*given, unit[0], unit[1], joints.bond)
    matched = gap <= MATCHED_MM
    return Seams(pairs, gap, edge_pairs.length_mm[seen], matched, meet & ~matched)


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
