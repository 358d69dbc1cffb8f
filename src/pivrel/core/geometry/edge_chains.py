"""The edge nearest to a place; and the border or crease there, as far as it runs on without a corner."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.surface import Surface

CORNER_DEG = 40.0
"""A chain ends where it would turn by more than this."""


def chain_at(surface: Surface, face: int, place: Floats) -> Floats:
    """(N, 3) mm: the border or crease of a face's patch that lies nearest to a place (3,), from corner to corner.

    Where the patch has neither, as a closed smooth body has none, the face's own nearest edge.
    """
    topology, mesh = surface.topology, surface.mesh
    patches = surface.patches()
    one, other = _between_patches(surface).T
    edges = np.concatenate([topology.open_edges, one, other])
    edges = edges[patches[topology.corner_face[edges]] == patches[face]]
    if not len(edges):
        edges = np.arange(mesh.face_start[face], mesh.face_start[face + 1])
    start, end = end_places(surface, edges)
    first = int(np.argmin(_distances(mesh.points[start], mesh.points[end], place)))
    return _run(mesh.points, start, end, first)


def run_through(surface: Surface, half: int) -> Floats:
    """(N, 3) mm: the edge of a half-edge (corner id), and what it runs on to on both sides without a corner.

    A crease or a border runs on along creases and borders, any other edge along whatever edge goes on most straightly.
    """
    topology, mesh = surface.topology, surface.mesh
    sharp = np.concatenate([topology.open_edges, _between_patches(surface)[:, 0]])
    every = np.concatenate([topology.open_edges, topology.pairs[:, 0]])
    own = np.sort(np.stack(end_places(surface, np.array([half])), axis=1), axis=1)
    for edges in (sharp, every):
        start, end = end_places(surface, edges)
        found = np.flatnonzero((np.sort(np.stack([start, end], axis=1), axis=1) == own).all(axis=1))
        if len(found):
            return _run(mesh.points, start, end, int(found[0]))
    return mesh.points[own[0]]


def _between_patches(surface: Surface) -> Ints:
    """(E, 2) half-edges of faces of different patches that meet at an edge."""
    pairs = surface.topology.pairs
    patch = surface.patches()[surface.topology.corner_face[pairs]]
    out: Ints = pairs[patch[:, 0] != patch[:, 1]]
    return out


def end_places(surface: Surface, halves: Ints) -> tuple[Ints, Ints]:
    """The places (ids) where half-edges begin and end."""
    corners, place = surface.mesh.corners, surface.topology.place
    return place[corners[halves]], place[corners[surface.topology.next_corner[halves]]]


def _run(points: Floats, start: Ints, end: Ints, first: int) -> Floats:
    """(N, 3) the places along one of some edges and all that it runs on to."""
    chain = [int(start[first]), int(end[first])]
    used = {first}
    for forwards in (True, False):
        while (found := _following(points, start, end, chain, used, forwards)) is not None:
            used.add(found)
            a, b = int(start[found]), int(end[found])
            tip = chain[-1] if forwards else chain[0]
            following = b if a == tip else a
            if forwards:
                chain.append(following)
            else:
                chain.insert(0, following)
            if chain[0] == chain[-1]:
                break
    out: Floats = points[chain]
    return out


def _following(
    points: Floats, start: Ints, end: Ints, chain: list[int], used: set[int], forwards: bool
) -> int | None:
    """The edge that runs on from the chain's tip with the smallest turn, None where all turn too far."""
    if chain[0] == chain[-1]:
        return None
    tip, before = (chain[-1], chain[-2]) if forwards else (chain[0], chain[1])
    ahead = points[tip] - points[before]
    best, found = np.cos(np.radians(CORNER_DEG)), None
    for row in np.flatnonzero((start == tip) | (end == tip)).tolist():
        other = int(end[row]) if int(start[row]) == tip else int(start[row])
        along = points[other] - points[tip]
        size = float(np.linalg.norm(along) * np.linalg.norm(ahead))
        if row in used or other == before or size <= 0:
            continue
        cosine = float(along @ ahead) / size
        if cosine > best:
            best, found = cosine, row
    return found


def nearest_edge(surface: Surface, face: int, place: Floats) -> int:
    """The half-edge (corner id) of a face that is nearest to a place (3,) in mm."""
    return nearest_edge_of(surface, np.array([face], np.int32), place)


def nearest_edge_of(surface: Surface, faces: Ints, place: Floats) -> int:
    """The half-edge (corner id) of some faces that is nearest to a place (3,) in mm."""
    mesh = surface.mesh
    corners = np.flatnonzero(surface.corners_of(faces))
    a, b = (mesh.points[mesh.corners[c]] for c in (corners, surface.topology.next_corner[corners]))
    return int(corners[np.argmin(_distances(a, b, place))])


def _distances(start: Floats, end: Floats, place: Floats) -> Floats:
    """(E,) mm from a place to each edge."""
    along = end - start
    share = np.einsum("ij,ij->i", place - start, along) / np.maximum(
        np.einsum("ij,ij->i", along, along), 1e-300
    )
    nearest = start + np.clip(share, 0, 1)[:, None] * along
    out: Floats = np.linalg.norm(nearest - place, axis=1)
    return out
