"""Straight edges of a pick."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.surface import Surface


def longest_edge(surface: Surface, faces: Ints) -> Floats | None:
    """(3,) the direction of the pick's longest straight edge, or None where it has no edge.

    Edges are where the pick ends and where its patches meet. Pieces on one line count together, so
    that a sill with a window in it is as long as it looks.
    """
    topology = surface.topology
    held = surface.held(faces)
    patches = surface.patches()
    ends = topology.corner_face[topology.pairs]
    rim = held[ends].any(axis=1) & ((patches[ends[:, 0]] != patches[ends[:, 1]]) | ~held[ends].all(axis=1))
    opens = topology.open_edges[held[topology.corner_face[topology.open_edges]]]
    edges = np.concatenate([topology.pairs[rim, 0], opens])
    found = _longest_lines(surface, edges, np.zeros(len(edges), np.int32))
    return found[0] if len(found) and found[0].any() else None


def longest_edges(surface: Surface, faces: Ints, group: Ints) -> Floats:
    """(G, 3) the direction of the longest straight border of each group of faces, zero where it has none.

    group: (K,) int32, the group of each of `faces`.
    """
    topology = surface.topology
    of_face = np.full(surface.mesh.face_count, -1, np.int32)
    of_face[faces] = group
    within = of_face[topology.corner_face]
    ends = within[topology.pairs]
    inside = (ends[:, 0] == ends[:, 1]) & (ends[:, 0] >= 0)
    rim = within >= 0
    rim[topology.pairs[inside].reshape(-1)] = False
    edges = np.flatnonzero(rim)
    out = np.zeros((int(group.max()) + 1 if len(group) else 0, 3))
    found = _longest_lines(surface, edges, within[edges])
    out[: len(found)] = found
    return out


def _longest_lines(surface: Surface, edges: Ints, group: Ints) -> Floats:
    """(G, 3) the direction of each group's longest line of edges; half-edges and their groups."""
    topology, mesh = surface.topology, surface.mesh
    start = mesh.points[mesh.corners[edges]]
    along = mesh.points[mesh.corners[topology.next_corner[edges]]] - start
    length = np.linalg.norm(along, axis=1)
    keep = length > 1e-6
    if not keep.any():
        return np.zeros((0, 3))
    start, length, group = start[keep] - start[keep].mean(axis=0), length[keep], group[keep]
    along = along[keep] / length[:, None]
    # One way round, so that both neighbours of an edge name the same line.
    first = np.argmax(np.abs(along) > 1e-6, axis=1)
    along = along * np.sign(along[np.arange(len(along)), first])[:, None]
    size = float(np.abs(start).max()) + 1.0
    line = np.column_stack([group, np.round(np.column_stack([along, np.cross(start, along) / size]), 4)])
    lines, at, which = np.unique(line, axis=0, return_index=True, return_inverse=True)
    total = np.bincount(which.reshape(-1), weights=length)
    out = np.zeros((int(group.max()) + 1, 3))
    # The longest is written last; of equal ones the first in order of direction.
    order = np.lexsort((-np.arange(len(lines)), np.round(total, 6)))
    out[lines[order, 0].astype(np.int64)] = along[at[order]]
    return out
