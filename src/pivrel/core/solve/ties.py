"""Ties: what is known of a coordinate beforehand, as a linear map from what is left to be found."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from scipy.sparse import csr_array

from pivrel.core.arrays import Floats, Ints
from pivrel.core.content_key import content_key
from pivrel.core.solve.kept import Kept
from pivrel.core.solve.region import Region

CHAIN = 5
"""Squarings of the map until no vertex follows one that follows another: 32 edges that end on one another."""


@dataclass(frozen=True)
class Ties:
    """One coordinate of V vertices: x = matrix @ z + start, with z to be found.

    matrix: (V, Z) sparse. start: (V,) mm. name: the same for the same matrix over one region.
    """

    matrix: csr_array
    start: Floats
    name: str


@dataclass
class Tied:
    """What is asked of one coordinate of `count` vertices, and made into `Ties`.

    within: (D, 3) vertices on an edge and the edge's two ends; share: (D,) of the way. copies: (C, 2) vertices parted
    by a cut: the first is the second plus the jump, which is jump_mm, or unknown where that is None. fixed: vertices
    with their values in mm. together: groups of vertices that share one unknown value.
    """

    count: int
    within: Ints = field(default_factory=lambda: np.empty((0, 3), np.int64))
    share: Floats = field(default_factory=lambda: np.empty(0))
    copies: Ints = field(default_factory=lambda: np.empty((0, 2), np.int64))
    jump_mm: float | None = 0.0
    fixed: list[tuple[Ints, float | Floats]] = field(default_factory=list)
    together: list[Ints] = field(default_factory=list)

    @classmethod
    def of(cls, region: Region) -> Tied:
        """Nothing known of a region but that vertices on edges follow them."""
        return cls(len(region.points), within=region.edge_vertices, share=region.share)

    def ties(self, kept: Kept | None = None) -> Ties:
        """The map. What lies on an edge or across a cut follows that, whatever else is asked of it.

        kept: what is kept of the region; what is known of the same vertices again makes the same map.
        """
        name = self._name()
        linked = self._linked if kept is None else lambda: kept.get(("linked", name), self._linked)
        depends, matrix = linked()
        start = np.zeros(self.count + 1)
        if self.jump_mm is not None:
            start[-1] = self.jump_mm
        for vertices, values in self.fixed:
            start[vertices] = values
        return Ties(matrix, (depends @ start)[:-1], name)

    def _name(self) -> str:
        """The same where the map is."""
        groups = [*(vertices for vertices, _ in self.fixed), *self.together, self.copies, self.within]
        told = [np.asarray(group, np.int64).tobytes() for group in groups]
        return content_key(told, len(self.fixed), self.share.tobytes(), self.jump_mm is None, self.count)

    def _linked(self) -> tuple[csr_array, csr_array]:
        """(V + 1, V + 1) what every vertex and the jump follow, and (V, Z) that by what is left to be found."""
        depends = self._depends()
        column = np.full(self.count + 1, -1)
        free = np.zeros(self.count + 1, bool)
        free[depends.indices] = True
        if self.jump_mm is not None:
            free[-1] = False
        for vertices, _ in self.fixed:
            free[vertices] = False
        columns = 0
        for group in self.together:
            own = group[free[group]]
            column[own], free[own] = columns, False
            columns += 1 if len(own) else 0
        column[free] = columns + np.arange(int(free.sum()))
        has = np.flatnonzero(column >= 0)
        total = columns + int(free.sum())
        select = csr_array((np.ones(len(has)), (has, column[has])), (self.count + 1, total))
        return depends, csr_array(depends @ select)[:-1]

    def _depends(self) -> csr_array:
        """x = D x over all vertices and the jump, which comes last; vertices that follow no other stand for themselves."""
        follows = np.zeros(self.count + 1, bool)
        entries: list[tuple[int, int, float]] = []
        for (vertex, *ends), share in zip(self.within.tolist(), self.share.tolist(), strict=True):
            if not follows[vertex] and vertex not in ends:
                follows[vertex] = True
                entries += [(vertex, ends[0], 1 - share), (vertex, ends[1], share)]
        for copy, base in self.copies.tolist():
            if not follows[copy] and copy != base:
                follows[copy] = True
                entries += [(copy, base, 1.0), (copy, self.count, 1.0)]
        own = np.flatnonzero(~follows)
        rows, columns, weights = np.array(entries).reshape(-1, 3).T if entries else np.empty((3, 0))
        depends = csr_array(
            (
                np.concatenate([np.ones(len(own)), weights]),
                (np.concatenate([own, rows]).astype(int), np.concatenate([own, columns]).astype(int)),
            ),
            (self.count + 1, self.count + 1),
        )
        for _ in range(CHAIN if entries else 0):
            if not follows[depends.indices].any():
                break
            depends = csr_array(depends @ depends)
        return depends
