"""Patches: faces that join smoothly, bounded by creases."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.topology import Topology
from pivrel.core.geometry.union_find import join, numbered
from pivrel.core.kernels import kernel

CREASE_DEG = 30.0
"""The crease angle that the ids in a pick rule `{"patches": [...]}` refer to."""


@kernel
def _patches(normals: Floats, pairs: Ints, smooth: Mask, opposed: Mask, face: Ints, cosine: float) -> Ints:
    count = len(normals)
    parent, odd = np.arange(count).astype(np.int32), np.zeros(count, np.bool_)
    for e in range(len(pairs)):
        if not smooth[e]:
            continue
        f, g = face[pairs[e, 0]], face[pairs[e, 1]]
        a, b = normals[f], normals[g]
        dot = a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
        if not opposed[e]:
            dot = -dot
        size = np.sqrt((a[0] ** 2 + a[1] ** 2 + a[2] ** 2) * (b[0] ** 2 + b[1] ** 2 + b[2] ** 2))
        if size > 0.0 and dot >= cosine * size:
            join(parent, odd, f, g, True)
    return numbered(parent, odd)[0]


def find_patches(normals: Floats, topology: Topology, crease_deg: float = CREASE_DEG) -> Ints:
    """(F,) patch of each face, numbered from 0 in the order of their first faces.

    normals: (F, 3) of any length. Faces join where their normals differ by at most `crease_deg`;
    where neighbours wind in opposite senses one normal is taken the other way round. An edge of
    more than two faces, and a face without area, always bound a patch.
    """
    # A hair of slack: strips built at exactly the crease angle belong together.
    cosine = float(np.cos(np.radians(crease_deg))) - 1e-9
    return _patches(
        normals, topology.pairs, topology.manifold, topology.opposed, topology.corner_face, cosine
    )
