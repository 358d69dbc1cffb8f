"""A solution: the raw laying of a region, as a solver found it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.corner_rows import corner_rows
from pivrel.core.geometry.surface import Surface


@dataclass(frozen=True)
class Solution:
    """A region's raw laying; it depends on the faces and on what was asked of the solver, and on no placement.

    faces: (K,) int32, ascending. st: (N, 2) raw (s, t) in mm for their corners, face after face.
    piece: (K,) int32, the connected piece of the laying that each face belongs to.
    cuts: (E,) half-edges along which the laying was cut open.
    """

    faces: Ints
    st: Floats
    piece: Ints
    cuts: Ints

    @property
    def nbytes(self) -> int:
        """The memory that the arrays take."""
        return self.faces.nbytes + self.st.nbytes + self.piece.nbytes + self.cuts.nbytes

    def laid(self, surface: Surface, faces: Ints) -> Floats:
        """(M, 2) raw (s, t) for the corners of `faces` (int32, ascending), which are some of the solution's."""
        if len(faces) == len(self.faces):
            return self.st
        own, start = corner_rows(surface.mesh, self.faces), corner_rows(surface.mesh, faces)
        at = own[np.searchsorted(self.faces, faces)]
        rows = np.repeat(at - start[:-1], np.diff(start)) + np.arange(int(start[-1]))
        out: Floats = self.st[rows]
        return out
