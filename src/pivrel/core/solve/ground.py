"""The ground that a laying is solved over: a pick's faces with their regions, and what is kept of those."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from pivrel.core.arrays import Ints
from pivrel.core.geometry.surface import Surface
from pivrel.core.solve.kept import BYTES, MOST_TRIANGLES, Kept
from pivrel.core.solve.region import Region, find_regions


@dataclass(frozen=True)
class Ground:
    """Some faces (K,) int32, ascending, of a surface. Whoever solves over them again hands in the same ground."""

    surface: Surface
    faces: Ints

    @cached_property
    def triangles(self) -> int:
        """How many triangles the faces are."""
        return int(self.surface.held(self.faces)[self.surface.triangle_face].sum())

    @cached_property
    def regions(self) -> list[Region]:
        """The faces as regions, that with the most faces first."""
        return find_regions(self.surface, self.faces)

    @cached_property
    def kept(self) -> Kept:
        """What was found for it before."""
        return Kept(self.triangles)

    @cached_property
    def unnamed(self) -> Ints:
        """Corners of the faces that no triangle with an area has."""
        missing = self.surface.corners_of(self.faces)
        for region in self.regions:
            missing[region.named[0]] = False
        return np.flatnonzero(missing)

    def apart(self, region: Region) -> list[Region]:
        """A region taken apart at its creases."""
        return region.kept.get(
            "apart", lambda: find_regions(self.surface, region.faces, self.surface.patches())
        )

    @property
    def nbytes(self) -> int:
        """The memory that it takes once something has been solved over it, about."""
        return 200 * self.triangles + (BYTES * self.triangles if self.triangles <= MOST_TRIANGLES else 0)
