"""Cuts as lines for drawing: half-edges one after another."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.solve.region import Region


def cut_lines(region: Region, halves: Ints) -> list[Floats]:
    """(N, 3) mm for every run of half-edges on the border of a region, in the border's own direction."""
    start, end = region.ends
    after = dict(zip(start[halves].tolist(), end[halves].tolist(), strict=True))
    # A run begins where no other half-edge leads to; what is left after those goes round.
    heads = [v for v in after if v not in set(after.values())]
    out: list[Floats] = []
    while after:
        vertex = heads.pop() if heads else next(iter(after))
        run = [vertex]
        while vertex in after:
            vertex = after.pop(vertex)
            run.append(vertex)
        out.append(region.points[np.array(run)])
    return out
