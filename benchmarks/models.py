"""Made-up meshes of a given size."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.geometry.mesh import Mesh


def rolling(triangles: int) -> Mesh:
    """A rolling surface of about this many triangles with shared points, 40 m by 40 m."""
    n = int(np.ceil(np.sqrt(triangles / 2)))
    x = np.linspace(0, 40_000, n + 1)
    u, v = np.meshgrid(x, x, indexing="ij")
    z = 900 * np.sin(u / 2100) * np.cos(v / 1700) + 60 * np.sin(u / 130 + v / 170)
    points = np.stack([u.ravel(), v.ravel(), z.ravel()], axis=1)
    i = np.arange(n * n)
    a = (i // n) * (n + 1) + i % n
    quads = np.stack([a, a + n + 1, a + n + 2, a, a + n + 2, a + 1], axis=1)
    corners = quads.reshape(-1)[: triangles * 3].astype(np.int32)
    return Mesh(
        points=points,
        corners=corners,
        face_start=np.arange(0, len(corners) + 1, 3, dtype=np.int32),
        face_part=np.zeros(len(corners) // 3, np.int32),
        part_names=("rolling",),
    )


def squares(faces: int) -> Mesh:
    """A flat square field of about this many faces of four corners, with shared points, 40 m by 40 m."""
    n = int(np.ceil(np.sqrt(faces)))
    x = np.linspace(0, 40_000, n + 1)
    u, v = (g.ravel() for g in np.meshgrid(x, x, indexing="ij"))
    i = np.arange(n * n)
    a = (i // n) * (n + 1) + i % n
    corners = np.stack([a, a + n + 1, a + n + 2, a + 1], axis=1).reshape(-1).astype(np.int32)
    return Mesh(
        points=np.stack([u, v, np.zeros_like(u)], axis=1),
        corners=corners,
        face_start=np.arange(0, len(corners) + 1, 4, dtype=np.int32),
        face_part=np.zeros(n * n, np.int32),
        part_names=("squares",),
    )


def unshared(mesh: Mesh) -> Mesh:
    """The same mesh with a point of its own for every corner."""
    return replace(
        mesh, points=mesh.points[mesh.corners], corners=np.arange(mesh.corner_count, dtype=np.int32)
    )


def blocks(count: int, rows: int) -> Mesh:
    """Blocks of many sizes, six patches each, every patch of rows x rows quads with points of its own."""
    rng = np.random.default_rng(3)
    grid = np.linspace(0, 1, rows + 1)
    u, v = (g.reshape(-1) for g in np.meshgrid(grid, grid, indexing="ij"))
    one, none = np.ones_like(u), np.zeros_like(u)
    sides = np.stack(
        [np.stack(side, axis=1) for side in (
            (u, none, v), (v, one, u), (none, v, u), (one, u, v), (v, u, none), (u, v, one))]
    )  # fmt: skip
    i = np.arange(rows * rows)
    a = (i // rows) * (rows + 1) + i % rows
    quads = np.stack([a, a + rows + 1, a + rows + 2, a + 1], axis=1)
    size = rng.uniform(200, 1500, (count, 1, 1, 3))
    place = np.stack([np.arange(count) % 40, np.arange(count) // 40, np.zeros(count)], axis=1) * 2000
    # The stubs take a product of floats for a complex number.
    points: Floats = np.asarray(sides[None] * size + place[:, None, None, :], np.float64).reshape(-1, 3)
    corners = (quads[None] + (np.arange(count * 6) * (rows + 1) ** 2)[:, None, None]).reshape(-1)
    faces = count * 6 * rows * rows
    return Mesh(
        points=points,
        corners=corners.astype(np.int32),
        face_start=np.arange(0, 4 * faces + 1, 4, dtype=np.int32),
        face_part=np.repeat(np.arange(count), 6 * rows * rows).astype(np.int32),
        part_names=tuple(f"block {k}" for k in range(count)),
    )


def boards(count: int) -> Mesh:
    """Boards of one size but for their length, each a part of its own, tilted a little, ten faces along each side."""
    one = blocks(count, 4)
    rng = np.random.default_rng(5)
    points = one.points.copy()
    corners = one.corners.reshape(count, -1)
    for own in corners:
        used = np.unique(own)
        turn = rng.uniform(0, 0.2)
        x, y = points[used, 0] - points[used[0], 0], points[used, 1] - points[used[0], 1]
        points[used, 0] += x * (np.cos(turn) - 1) - y * np.sin(turn)
        points[used, 1] += x * np.sin(turn) + y * (np.cos(turn) - 1)
    return replace(one, points=points, part_names=tuple(f"board {k}" for k in range(count)))
