"""Faces and parts that are like one another: in one plane, on one surface, in one ring, of one shape."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.edge_chains import nearest_edge
from pivrel.core.geometry.fits.exact import same_surface
from pivrel.core.geometry.surface import Surface
from pivrel.core.picks import as_faces

PLANE_DEG = 0.1
"""Faces in one plane look the same way to within this angle."""

SHAPE = 1e-4
"""Copies agree in their areas and distances to within this share of their size."""


def coplanar(surface: Surface, face: int) -> Mask:
    """(F,) faces in the plane of a face that look the same way.

    Their corners lie within a hundredth of a mm of it, or what float32 can tell apart where that is more.
    """
    mesh = surface.mesh
    normal = surface.normals[face]
    length = np.linalg.norm(surface.normals, axis=1)
    out = np.zeros(mesh.face_count, bool)
    if length[face] == 0:
        out[face] = True
        return out
    normal = normal / length[face]
    same = surface.normals @ normal >= np.cos(np.radians(PLANE_DEG)) * length
    origin = surface.centroids[face]
    tolerance = max(0.01, float(np.ptp(surface.bounds, axis=0).max()) * 2.0**-20)
    off = np.abs((mesh.points - origin) @ normal)[mesh.corners]
    flat = np.maximum.reduceat(off, mesh.face_start[:-1]) <= tolerance
    out = same & flat & (length > 0)
    out[face] = True
    return out


def same_exact_surface(surface: Surface, face: int) -> Ints:
    """(K,) patches on the exact surface that a face is a piece of; its own patch where it has none."""
    mesh = surface.mesh
    own = int(surface.patches()[face])
    if mesh.face_patch is None:
        return np.array([own], np.int32)
    alike = [k for k, exact in enumerate(mesh.exact) if k == own or same_surface(exact, mesh.exact[own])]
    return np.array(alike, np.int32)


def _signature(surface: Surface, part: int) -> tuple[Floats, float]:
    """What moving and turning a part leaves as it is: its faces' areas and distances from its middle,
    sorted, and its size."""
    faces = as_faces(surface.mesh.face_part == part)
    points = surface.points_of(faces)
    middle = points.mean(axis=0)
    spread = np.sort(np.linalg.norm(points - middle, axis=1))
    size = float(spread[-1]) or 1.0
    areas = np.sort(surface.face_areas[faces]) / size**2
    return np.concatenate([areas, spread / size]), size


def copies(surface: Surface, part: int) -> Ints:
    """(K,) the parts of the same shape and size, wherever they stand and however they are turned."""
    mesh = surface.mesh
    faces = np.bincount(mesh.face_part, minlength=len(mesh.part_names))
    areas = np.bincount(mesh.face_part, surface.face_areas, len(mesh.part_names))
    likely = np.flatnonzero(
        (faces == faces[part]) & (np.abs(areas - areas[part]) <= 4 * SHAPE * max(areas[part], 1e-12))
    )
    wanted, size = _signature(surface, part)
    out = []
    for other in likely:
        found, other_size = _signature(surface, int(other))
        fits = len(found) == len(wanted) and abs(other_size - size) <= SHAPE * size
        if fits and np.abs(found - wanted).max() <= 10 * SHAPE:
            out.append(int(other))
    return np.array(out, np.int32)


def ring(surface: Surface, face: int, near: Floats) -> Mask:
    """(F,) the faces that go round with a face: across the edge nearest to a place (3,) in mm, over the
    opposite edge of each face with an even number of corners, until the way ends or closes.

    The way is followed to both sides. It ends at faces with an odd number of corners, open edges and
    edges of more than two faces.
    """
    start, out = surface.mesh.face_start, np.zeros(surface.mesh.face_count, bool)
    out[face] = True
    if _sides(start, face) % 2:
        return out
    first = nearest_edge(surface, face, near)
    for begin in (first, _opposite(first, face, start)):
        edge = int(surface.across[begin])
        while edge >= 0:
            here = int(surface.topology.corner_face[edge])
            if out[here] or _sides(start, here) % 2:
                break
            out[here] = True
            edge = int(surface.across[_opposite(edge, here, start)])
    return out


def _sides(start: Ints, face: int) -> int:
    """How many corners a face has."""
    return int(start[face + 1] - start[face])


def _opposite(corner: int, face: int, start: Ints) -> int:
    """The half-edge opposite to one of a face with an even number of corners."""
    first, sides = int(start[face]), _sides(start, face)
    return first + (corner - first + sides // 2) % sides
