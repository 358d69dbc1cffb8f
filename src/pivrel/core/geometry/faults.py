"""What is wrong with a model as it came in: found, counted, and mended where that is safe."""

from __future__ import annotations

import re
from collections.abc import Collection
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask, marked
from pivrel.core.geometry.components import find_components
from pivrel.core.geometry.hashing import mixed_in, row_slot, table_size
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.surface import Surface
from pivrel.core.kernels import kernel

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
    degenerate = _degenerate(surface)
    used = int(mesh.used_points.sum())
    unshared = used - int(marked(topology.place[mesh.used_points], len(mesh.points)).sum())
    # Loose triangles repeat every vertex, and B-rep faces those of their edges: their way, not a fault.
    loose = used == mesh.corner_count or mesh.face_patch is not None
    centre, size = surface.bounds.mean(axis=0), float(np.ptp(surface.bounds, axis=0).max())
    unnamed = np.array([_UNNAMED.fullmatch(name) is not None for name in mesh.part_names])
    open_faces = topology.corner_face[topology.open_edges]
    shared_faces = topology.corner_face[topology.pairs[~topology.manifold]].reshape(-1)
    nobody = np.empty(0, np.int32)
    faults = [
        _of("degenerate", degenerate),
        _of("duplicate", _duplicate(surface) & ~degenerate),
        _of("mixed", components.against),
        Fault("inverted", int(components.inward.sum()), np.flatnonzero(inward).astype(np.int32)),
        Fault("straight", int(straight.sum()), _each_once(surface, topology.corner_face[straight])),
        Fault("open", len(topology.open_edges), _each_once(surface, open_faces)),
        Fault("shared", int((~topology.manifold).sum()), _each_once(surface, shared_faces)),
        Fault("coincident", 0 if loose else unshared, nobody),
        Fault("far", int(np.abs(centre).max() > FAR * size), nobody),
        Fault("unnamed", int(unnamed.sum()), np.flatnonzero(unnamed[mesh.face_part]).astype(np.int32)),
    ]
    return [fault for fault in faults if fault.count]


def _of(key: Key, faces: Mask) -> Fault:
    return Fault(key, int(faces.sum()), np.flatnonzero(faces).astype(np.int32))


def _each_once(surface: Surface, faces: Ints) -> Ints:
    """(K,) int32 some faces, each once, ascending."""
    return np.flatnonzero(surface.held(faces)).astype(np.int32)


def _degenerate(surface: Surface) -> Mask:
    """(F,) faces without area: less than a ten-millionth of their longest edge squared."""
    mesh = surface.mesh
    found: Mask = _without_area(mesh.points, mesh.corners, mesh.face_start, surface.face_areas)
    return found


@kernel
def _without_area(points: Floats, corners: Ints, face_start: Ints, areas: Floats) -> Mask:
    out = np.empty(len(areas), np.bool_)
    for f in range(len(areas)):
        longest = 0.0
        p = corners[face_start[f + 1] - 1]
        for c in range(face_start[f], face_start[f + 1]):
            q = corners[c]
            x, y, z = points[q, 0] - points[p, 0], points[q, 1] - points[p, 1], points[q, 2] - points[p, 2]
            longest = max(longest, x * x + y * y + z * z)
            p = q
        out[f] = areas[f] <= 1e-7 * longest
    return out


def _duplicate(surface: Surface) -> Mask:
    """(F,) faces on the same places as an earlier one, wound either way."""
    mesh, start = surface.mesh, surface.mesh.face_start
    places = surface.topology.place[mesh.corners]
    for face in np.flatnonzero(np.diff(start) > FEW):
        places[start[face] : start[face + 1]].sort()
    found: Mask = _again(places, start)
    return found


@kernel
def _again(at: Ints, face_start: Ints) -> Mask:
    """(F,) faces whose corners lie on the same places (C,) as those of an earlier one; the places are left sorted.

    Those of faces with more than `FEW` corners are sorted already.
    """
    count = len(face_start) - 1
    slots = table_size(count)
    head, link = np.full(slots, -1, np.int32), np.empty(count, np.int32)
    out = np.zeros(count, np.bool_)
    for f in range(count):
        own = at[face_start[f] : face_start[f + 1]]
        if len(own) <= FEW:
            _sort(own)
        mixed = np.uint64(len(own))
        for place in own:
            mixed = mixed_in(mixed, place)
        slot = row_slot(mixed, slots)
        other = head[slot]
        while other >= 0 and not out[f]:
            out[f] = _same(at[face_start[other] : face_start[other + 1]], own)
            other = link[other]
        if not out[f]:
            link[f], head[slot] = head[slot], f
    return out


@kernel
def _sort(values: Ints) -> None:
    """Puts a few in their places one by one, in a tenth of the time that sorting takes."""
    for k in range(1, len(values)):
        value, at = values[k], k
        while at > 0 and values[at - 1] > value:
            values[at] = values[at - 1]
            at -= 1
        values[at] = value


FEW = 16


@kernel
def _same(one: Ints, other: Ints) -> bool:
    same = len(one) == len(other)
    for k in range(len(one) if same else 0):
        same = same and one[k] == other[k]
    return same


def _straight_corners(surface: Surface) -> Mask:
    """(C,) corners of polygons with more than 3 of them that lie on a straight edge."""
    mesh = surface.mesh
    found: Mask = _on_straight_edges(mesh.points, mesh.corners, mesh.face_start)
    return found


@kernel
def _on_straight_edges(points: Floats, corners: Ints, face_start: Ints) -> Mask:
    out = np.zeros(len(corners), np.bool_)
    for f in range(len(face_start) - 1):
        first, last = face_start[f], face_start[f + 1]
        if last - first <= 3:
            continue
        for c in range(first, last):
            p = points[corners[c - 1 if c > first else last - 1]]
            q, r = points[corners[c]], points[corners[c + 1 if c + 1 < last else first]]
            ax, ay, az = q[0] - p[0], q[1] - p[1], q[2] - p[2]
            bx, by, bz = r[0] - q[0], r[1] - q[1], r[2] - q[2]
            x, y, z = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
            size = np.sqrt((ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz))
            onward = ax * bx + ay * by + az * bz > 0.0
            out[c] = onward and size > 0.0 and np.sqrt(x * x + y * y + z * z) <= STRAIGHT_SINE * size
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
        gone |= _duplicate(surface) & ~_degenerate(surface)
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
