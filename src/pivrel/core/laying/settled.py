"""All that a finish leaves open, as it was measured: datums, sizes, a solution, and the sheet on each face."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Ints
from pivrel.core.geometry.frames import Datum
from pivrel.core.laying.face_sheets import FaceSheets
from pivrel.core.projection import Projection
from pivrel.core.solve.solution import Solution


@dataclass(frozen=True)
class Piece:
    """What of a finish is measured from one datum: all of it, a part, or a board.

    projection: settled, so nothing of it is left open. part: None for all. residual_mm: how far the
    faces are off a true cylinder, cone or sphere, where the datum was fitted to one.
    """

    projection: Projection
    datum: Datum
    part: int | None = None
    residual_mm: float | None = None


@dataclass(frozen=True)
class Settled:
    """All that a finish leaves open, measured once.

    pieces: what is measured from a datum of its own. of_face: (F,) the piece of each face, -1 for those
    that the finish does not hold; None where there is one piece. sheets: how the sheet lies on each
    face, None where the finish's own placement serves all. solution: the raw laying, where it was solved.
    """

    pieces: tuple[Piece, ...]
    of_face: Ints | None = None
    sheets: FaceSheets | None = None
    solution: Solution | None = None

    def laid_of(self, faces: Ints) -> Ints:
        """Those of some faces (int32, ascending) that are laid: all of them, but for what could not be solved."""
        return (
            faces if self.solution is None else np.intersect1d(faces, self.solution.faces, assume_unique=True)
        )
