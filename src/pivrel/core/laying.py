"""Picks, projections and finishes together: (s', t') in mm for every corner."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints, Precision
from pivrel.core.geometry.fits import fit_box, fit_planar
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.picks import Pick, resolve
from pivrel.core.projection import Box, Planar, Projection
from pivrel.core.sheet import Material, Placement, turn_for_grain

UNTOUCHED = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
"""The sheet as the projection lays it: final coordinates that equal the raw ones."""

BARE = -1


@dataclass(frozen=True)
class Finish:
    """One material laid on a pick through one projection: a row of the schedule.

    Exactly one of turn_deg and grain_deg says how the sheet is turned. Without a datum the
    projection is fitted to the pick.
    """

    name: str
    material: Material
    pick: Pick
    projection: Projection = Box()
    datum: Datum | None = None
    turn_deg: float | None = 0.0
    grain_deg: float | None = None
    offset_mm: tuple[float, float] = (0.0, 0.0)
    scale: tuple[float, float] = (1.0, 1.0)

    @property
    def placement(self) -> Placement:
        turn = (
            turn_for_grain(self.grain_deg, self.material)
            if self.grain_deg is not None
            else self.turn_deg or 0.0
        )
        return Placement(turn, self.offset_mm, self.scale)


def fit_datum(surface: Surface, faces: Ints, projection: Projection) -> Datum:
    """The datum that a projection takes on these faces when none is given."""
    match projection:
        case Planar():
            return fit_planar(surface, faces)
        case Box():
            return fit_box(surface, faces)


def cover(surface: Surface, picks: Sequence[Pick]) -> Ints:
    """(F,) int32, for each face the last pick that holds it, or BARE."""
    out = np.full(surface.mesh.face_count, BARE, np.int32)
    for row, pick in enumerate(picks):
        out[resolve(pick, surface)] = row
    return out


def datum_of(surface: Surface, finish: Finish) -> Datum:
    """The finish's own datum, or the one fitted to its whole pick, covered by later rows or not."""
    if finish.datum is not None:
        return finish.datum
    faces = np.flatnonzero(resolve(finish.pick, surface)).astype(np.int32)
    return fit_datum(surface, faces, finish.projection)


def lay(surface: Surface, finish: Finish, faces: Ints, datum: Datum, dtype: Precision = np.float64) -> Floats:
    """(K, 2) final (s', t') in mm for the corners of `faces`, face after face."""
    sheet = finish.placement.matrix
    return finish.projection.lay(surface.mesh, surface.normals, faces, datum, sheet, dtype)


def lay_raw(surface: Surface, finish: Finish, faces: Ints, datum: Datum) -> Floats:
    """(K, 2) raw (s, t) in mm, before turn, offset and scale."""
    return finish.projection.lay(surface.mesh, surface.normals, faces, datum, UNTOUCHED)
