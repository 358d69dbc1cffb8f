"""What is wrong with a model as it came in: found, counted, and mended where that is safe."""

from __future__ import annotations

import re
from collections.abc import Collection
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from pivrel.core.arrays import Ints, Mask
from pivrel.core.geometry.components import find_components
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.surface import Surface

Key = Literal[
    "degenerate",
    "duplicate",
    "mixed",
    "inverted",
    "straight",
    "open",
    "shared",
    "coincident",
    "far",
    "unnamed",
]

MENDABLE: tuple[Key, ...] = ("degenerate", "duplicate", "mixed", "inverted")
"""Faults that `mended` takes away."""

STRAIGHT_SINE = 1e-6
"""A corner whose edges turn by less lies on a straight edge."""

FAR = 20.0
"""A model is far from the origin where its middle lies more than this many of its sizes away."""

_UNNAMED = re.compile(r"part( \d+)?( \(\d+\))?")


@dataclass(frozen=True)
class Fault:
    """One kind of fault: how many there are, and (K,) int32 the faces where it shows."""

    key: Key
    count: int
    faces: Ints

    @property
    def mendable(self) -> bool:
        return self.key in MENDABLE


def find_faults(surface: Surface) -> list[Fault]:
    """Every kind of fault that the model has, the mendable ones first."""
    mesh, topology = surface.mesh, surface.topology
    components = find_components(surface)
    inward = components.inward[components.component] & ~components.against
    straight = _straight_corners(surface)
    used = np.unique(mesh.corners)
    unshared = len(used) - len(np.unique(topology.place[used]))
    # Loose triangles repeat every vertex, and B-rep faces those of their edges: their way, not a fault.
    loose = len(used) == mesh.corner_count or mesh.face_patch is not None
    centre, size = surface.bounds.mean(axis=0), float(np.ptp(surface.bounds, axis=0).max())
    unnamed = np.array([_UNNAMED.fullmatch(name) is not None for name in mesh.part_names])
    open_faces = topology.corner_face[topology.open_edges]
    shared_faces = topology.corner_face[topology.pairs[~topology.manifold]].reshape(-1)
    nobody = np.empty(0, np.int32)
    faults = [
        _of("degenerate", _degenerate(surface)),
        _of("duplicate", _duplicate(surface)),
        _of("mixed", components.against),
        Fault("inverted", int(components.inward.sum()), np.flatnonzero(inward).astype(np.int32)),
        Fault("straight", int(straight.sum()), np.unique(topology.corner_face[straight])),
        Fault("open", len(topology.open_edges), np.unique(open_faces)),
        Fault("shared", int((~topology.manifold).sum()), np.unique(shared_faces)),
        Fault("coincident", 0 if loose else unshared, nobody),
        Fault("far", int(np.abs(centre).max() > FAR * size), nobody),
        Fault("unnamed", int(unnamed.sum()), np.flatnonzero(unnamed[mesh.face_part]).astype(np.int32)),
    ]
    return [fault for fault in faults if fault.count]


def _of(key: Key, faces: Mask) -> Fault:
    return Fault(key, int(faces.sum()), np.flatnonzero(faces).astype(np.int32))


def _degenerate(surface: Surface) -> Mask:
    """(F,) faces without area: less than a ten-millionth of their longest edge squared."""
    mesh, topology = surface.mesh, surface.topology
    edge = mesh.points[mesh.corners[topology.next_corner]] - mesh.points[mesh.corners]
    longest = np.maximum.reduceat(np.einsum("ij,ij->i", edge, edge), mesh.face_start[:-1])
    out: Mask = surface.face_areas <= 1e-7 * longest
    return out


def _duplicate(surface: Surface) -> Mask:
    """(F,) faces on the same places as an earlier one, wound either way."""
    mesh, place = surface.mesh, surface.topology.place
    at = place[mesh.corners].astype(np.int64)
    sides = np.diff(mesh.face_start)
    out = np.zeros(mesh.face_count, bool)
    for count in np.unique(sides):
        faces = np.flatnonzero(sides == count)
        rows = np.sort(at[mesh.face_start[faces][:, None] + np.arange(count)], axis=1)
        order = np.lexsort(rows.T[::-1])
        again = (rows[order][1:] == rows[order][:-1]).all(axis=1)
        # The sort is stable, so the first of each run is the first in the file.
        out[faces[order[1:][again]]] = True
    return out & ~_degenerate(surface)


def _straight_corners(surface: Surface) -> Mask:
    """(C,) corners of polygons with more than 3 of them that lie on a straight edge."""
    mesh, after = surface.mesh, surface.topology.next_corner
    points = mesh.points[mesh.corners]
    ahead = points[after] - points
    behind = np.empty_like(ahead)
    behind[after] = ahead
    sine = np.linalg.norm(np.cross(behind, ahead), axis=1)
    size = np.linalg.norm(behind, axis=1) * np.linalg.norm(ahead, axis=1)
    onward = np.einsum("ij,ij->i", behind, ahead) > 0
    polygon = np.repeat(np.diff(mesh.face_start) > 3, np.diff(mesh.face_start))
    out: Mask = polygon & onward & (size > 0) & (sine <= STRAIGHT_SINE * size)
    return out


def mended(mesh: Mesh, keys: Collection[Key]) -> Mesh:
    """The mesh without the faults named; the others stay. Faces keep their order.

    Shading normals of the file turn with the faces that are turned.
    """
    surface = Surface(mesh)
    if "mixed" in keys or "inverted" in keys:
        components = find_components(surface)
        turn = components.against & ("mixed" in keys)
        if "inverted" in keys:
            turn = turn ^ components.inward[components.component]
        mesh = _turned(mesh, turn)
    gone = np.zeros(mesh.face_count, bool)
    if "degenerate" in keys:
        gone |= _degenerate(surface)
    if "duplicate" in keys:
        gone |= _duplicate(surface)
    return mesh if not gone.any() or gone.all() else submesh(mesh, ~gone)


def _turned(mesh: Mesh, faces: Mask) -> Mesh:
    """The mesh with these faces wound the other way round."""
    start, sides = mesh.face_start[:-1], np.diff(mesh.face_start)
    corner = np.arange(mesh.corner_count)
    first, count = np.repeat(start, sides), np.repeat(sides, sides)
    over = np.repeat(faces, sides)
    order = np.where(over, 2 * first + count - 1 - corner, corner)
    normals = mesh.normals
    if normals is not None:
        normals = np.where(over[:, None], -normals[order], normals).astype(np.float32)
    uv_sets = tuple(uv[order] for uv in mesh.uv_sets)
    return replace(mesh, corners=mesh.corners[order], normals=normals, uv_sets=uv_sets)


def submesh(mesh: Mesh, faces: Mask) -> Mesh:
    """The mesh with these faces alone; parts without faces go."""
    corners = np.repeat(faces, np.diff(mesh.face_start))
    parts, face_part = np.unique(mesh.face_part[faces], return_inverse=True)
    return replace(
        mesh,
        corners=mesh.corners[corners],
        face_start=np.concatenate([[0], np.cumsum(np.diff(mesh.face_start)[faces])]).astype(np.int32),
        face_part=face_part.astype(np.int32),
        part_names=tuple(mesh.part_names[p] for p in parts),
        normals=None if mesh.normals is None else mesh.normals[corners],
        face_source=None if mesh.face_source is None else mesh.face_source[faces],
        face_patch=None if mesh.face_patch is None else mesh.face_patch[faces],
        part_elements=tuple(mesh.part_elements[p] for p in parts) if mesh.part_elements else (),
        part_storeys=tuple(mesh.part_storeys[p] for p in parts) if mesh.part_storeys else (),
        uv_sets=tuple(uv[corners] for uv in mesh.uv_sets),
    )
