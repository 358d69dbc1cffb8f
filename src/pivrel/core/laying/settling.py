"""What a finish leaves open, measured once: datums, sizes, a solution, and how the sheet lies on each face."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from pivrel.core.arrays import Floats, Ints, rows_by
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying.face_sheets import boards, spread_sheets
from pivrel.core.laying.finish import DatumFor, Finish
from pivrel.core.laying.lay import lay_raw
from pivrel.core.laying.settled import Piece, Settled
from pivrel.core.picks import as_faces, resolve
from pivrel.core.projection import BEST, Aim, Solved, fit
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.solution import Solution

FLAT_DEG = 1.0
"""Neighbouring faces that turn by no more than this make one flat side."""


def settle(
    surface: Surface, finish: Finish, faces: Ints | None = None, solution: Solution | None = None
) -> Settled:
    """Datums, measured sizes and sheets of a finish, off its whole pick, covered by later rows or not.

    faces: (K,) int32 ids that the pick holds, where they are known already. solution: from `solve`, where it is.
    """
    if faces is None:
        faces = as_faces(resolve(finish.pick, surface))
    solution = solution or solve(finish, Ground(surface, faces))
    faces = faces if solution is None else solution.faces
    settled = settle_pieces(surface, finish, faces, solution)
    if finish.is_one_sheet:
        return settled
    return with_sheets(surface, finish, faces, settled)


def solve(finish: Finish, ground: Ground, hasty: bool = False) -> Solution | None:
    """The raw laying of a projection that is solved over its region, and None for the others.

    hasty: near enough while a hand drags something, and at once.
    """
    if not isinstance(finish.projection, Solved):
        return None
    return finish.projection.solve(ground, finish.material.repeat_mm, hasty)


def settle_pieces(surface: Surface, finish: Finish, faces: Ints, solution: Solution | None = None) -> Settled:
    """Datums and measured sizes alone. faces: (K,) int32 ids that the pick holds. solution: from `solve`."""
    if finish.datum_for == "pick":
        return Settled((_piece(surface, finish, faces, finish.datum),), solution=solution)
    number = _numbered(surface, finish.datum_for)
    used, piece = np.unique(number[faces], return_inverse=True)
    of_face = np.full(surface.mesh.face_count, -1, np.int32)
    of_face[faces] = piece
    own = [faces[rows] for rows in rows_by(piece, len(used))]
    aim = Aim(to="box") if finish.datum_for == "board" else BEST
    pieces = tuple(
        _piece(surface, finish, faces_of, None, int(surface.mesh.face_part[faces_of[0]]), aim)
        for faces_of in own
    )
    return Settled(pieces, of_face, solution=solution)


def _numbered(surface: Surface, datum_for: DatumFor) -> Ints:
    """(F,) which of the things that have a datum of their own each face belongs to."""
    if datum_for == "part":
        return surface.mesh.face_part
    return surface.patches(FLAT_DEG) if datum_for == "side" else boards(surface)


def with_sheets(surface: Surface, finish: Finish, faces: Ints, settled: Settled) -> Settled:
    """The same, with the sheet settled on each face."""
    raw, piece, side = grounds(surface, faces, settled)
    return replace(settled, sheets=spread_sheets(surface, finish, faces, raw, piece, side))


def grounds(surface: Surface, faces: Ints, settled: Settled) -> tuple[Floats, Ints, Ints]:
    """What the sheets of faces are settled on: (C, 2) raw by corner id, (K,) pieces and (K,) sides."""
    raw = np.zeros((surface.mesh.corner_count, 2))
    raw[surface.corners_of(faces)] = lay_raw(surface, faces, settled)
    piece = np.zeros(len(faces), np.int32) if settled.of_face is None else settled.of_face[faces]
    side = np.zeros(len(faces), np.int8)
    for row, one in enumerate(settled.pieces):
        own = piece == row
        side[own] = one.projection.sides(surface, faces[own], one.datum)
    return raw, piece, side


def _piece(
    surface: Surface, finish: Finish, faces: Ints, datum: Datum | None, part: int | None = None,
    aim: Aim = BEST,
) -> Piece:  # fmt: skip
    residual = None
    if datum is None and not surface.face_areas[faces].any():
        datum = Datum()
    if datum is None:
        # Only a box can be tight; what is round is fitted round.
        found = fit(surface, faces, finish.projection, aim if finish.projection.takes_box else BEST)
        datum, residual = found.datum, found.residual_mm
    settled = finish.projection.settled(surface, faces, datum, finish.material.repeat_mm)
    return Piece(settled, datum, part, residual)
