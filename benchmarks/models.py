"""Made-up meshes of a given size."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

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


def unshared(mesh: Mesh) -> Mesh:
    """The same mesh with a point of its own for every corner."""
    return replace(
        mesh, points=mesh.points[mesh.corners], corners=np.arange(mesh.corner_count, dtype=np.int32)
    )
