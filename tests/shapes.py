"""Small meshes for the tests, stated by hand."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

import numpy as np

from pivrel.core.geometry.mesh import Mesh, checked
from pivrel.core.geometry.surface import Surface
from pivrel.demo import lido

CUBE_FACES = [(0, 3, 2, 1), (4, 5, 6, 7), (0, 1, 5, 4), (2, 3, 7, 6), (1, 2, 6, 5), (3, 0, 4, 7)]
"""-z, +z, -y, +y, +x, -x."""


def mesh_of(
    points: Sequence[Sequence[float]] | np.ndarray,
    faces: Sequence[Sequence[int]] | Sequence[np.ndarray] | np.ndarray,
    parts: Sequence[str] = ("part",),
    face_part: Sequence[int] | None = None,
) -> Mesh:
    return checked(
        Mesh(
            points=np.asarray(points, float),
            corners=np.concatenate([np.asarray(f) for f in faces]).astype(np.int32),
            face_start=np.cumsum([0, *(len(f) for f in faces)]).astype(np.int32),
            face_part=np.asarray(face_part if face_part is not None else [0] * len(faces), np.int32),
            part_names=tuple(parts),
        )
    )


def cuboid(x: float = 1000.0, y: float = 1000.0, z: float = 1000.0) -> Mesh:
    """A box from the origin, quads wound outward, in the order of CUBE_FACES."""
    points = [(0, 0, 0), (x, 0, 0), (x, y, 0), (0, y, 0), (0, 0, z), (x, 0, z), (x, y, z), (0, y, z)]
    return mesh_of(points, CUBE_FACES)


def strips(count: int, radius: float = 1000.0, height: float = 500.0, arc_deg: float = 180.0) -> Mesh:
    """A barrel of flat strips about z, looking outward."""
    a = np.radians(np.linspace(0, arc_deg, count + 1))
    ring = np.stack([radius * np.cos(a), radius * np.sin(a)], axis=1)
    points = np.concatenate([np.column_stack([ring, np.full(count + 1, h)]) for h in (0.0, height)])
    n = count + 1
    return mesh_of(points, [(i, i + 1, n + i + 1, n + i) for i in range(count)])


def prism_45() -> Mesh:
    """Three faces: one looks along +z, one stands at 45 degrees to it, one edge-on (0.3 m²)."""
    points = [
        (0, 0, 0), (1000, 0, 0), (1000, 500, 0), (0, 500, 0),
        (1400, 0, -400), (1400, 500, -400),
        (0, 0, -600), (0, 500, -600),
    ]  # fmt: skip
    return mesh_of(points, [(0, 1, 2, 3), (1, 4, 5, 2), (0, 3, 7, 6)])


def column(sides: int, radius: float = 150.0, height: float = 3000.0, rows: int = 1) -> Mesh:
    """A closed upright column about z of flat sides, capped with one polygon at either end."""
    a = 2 * np.pi * np.arange(sides) / sides
    ring = np.stack([radius * np.cos(a), radius * np.sin(a)], axis=1)
    points = np.concatenate(
        [np.column_stack([ring, np.full(sides, h)]) for h in np.linspace(0, height, rows + 1)]
    )
    faces = [
        (r * sides + i, r * sides + (i + 1) % sides, (r + 1) * sides + (i + 1) % sides, (r + 1) * sides + i)
        for r in range(rows)
        for i in range(sides)
    ]
    top = tuple(range(rows * sides, (rows + 1) * sides))
    return mesh_of(points, [*faces, top, tuple(range(sides))[::-1]])


def revolved(profile: Sequence[tuple[float, float]], sides: int) -> Surface:
    """A surface turned about z from (radius, height) pairs, wound outward where they go up."""
    a = 2 * np.pi * np.arange(sides) / sides
    points = np.concatenate(
        [np.column_stack([r * np.cos(a), r * np.sin(a), np.full(sides, z)]) for r, z in profile]
    )
    faces = []
    for k, ((below, _), (above, _)) in enumerate(itertools.pairwise(profile)):
        for i in range(sides):
            j = (i + 1) % sides
            low, high = (k * sides + i, k * sides + j), ((k + 1) * sides + j, (k + 1) * sides + i)
            faces.append((low[0], *high) if below == 0 else (*low, high[1]) if above == 0 else (*low, *high))
    return Surface(mesh_of(points, faces))


def lido_obj(revision: int) -> bytes:
    """A revision of the lido as OBJ in metres, part by part."""
    mesh = lido.build(revision)
    lines = [f"v {x:.9f} {y:.9f} {z:.9f}" for x, y, z in (mesh.points / 1000).tolist()]
    part = -1
    for f in range(mesh.face_count):
        if mesh.face_part[f] != part:
            part = mesh.face_part[f]
            lines.append(f"o {mesh.part_names[part]}")
        lines.append(
            "f "
            + " ".join(str(c + 1) for c in mesh.corners[mesh.face_start[f] : mesh.face_start[f + 1]].tolist())
        )
    return ("\n".join(lines) + "\n").encode()
