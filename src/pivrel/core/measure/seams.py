"""Whether the pattern runs on across the edges within one finish."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface

MATCHED_MM = 0.5


@dataclass(frozen=True)
class Seams:
    """The edges between two faces of one finish.

    pairs: (E, 2) half-edges. gap_mm: (E,) the larger of the gaps at the two ends.
    length_mm: (E,). matched: (E,) where the gap is at most 0.5 mm.
    """

    pairs: Ints
    gap_mm: Floats
    length_mm: Floats
    matched: Mask


@njit(cache=True)
def _gaps(final: Floats, pairs: Ints, opposed: Mask, after: Ints, width: float, height: float) -> Floats:
    out = np.empty(len(pairs))
    for e in range(len(pairs)):
        a, b = pairs[e, 0], pairs[e, 1]
        near, far = (after[b], b) if opposed[e] else (b, after[b])
        worst = 0.0
        for p, q in ((a, near), (after[a], far)):
            ds, dt = final[p, 0] - final[q, 0], final[p, 1] - final[q, 1]
            ds -= width * np.round(ds / width)
            dt -= height * np.round(dt / height)
            worst = max(worst, np.hypot(ds, dt))
        out[e] = worst
    return out


def find_seams(surface: Surface, covered: Mask, final: Floats, repeat_mm: tuple[float, float]) -> Seams:
    """The seams of one finish.

    covered: (F,) the faces that it covers. final: (C, 2) mm by corner id.
    """
    topology = surface.topology
    inside = covered[topology.corner_face[topology.pairs]].all(axis=1)
    pairs = topology.pairs[inside]
    gap = _gaps(final, pairs, topology.opposed[inside], topology.next_corner, *repeat_mm)
    mesh = surface.mesh
    start = mesh.points[mesh.corners[pairs[:, 0]]]
    end = mesh.points[mesh.corners[topology.next_corner[pairs[:, 0]]]]
    return Seams(pairs, gap, np.linalg.norm(end - start, axis=1), gap <= MATCHED_MM)


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
