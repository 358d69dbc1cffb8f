"""Picks, projections and finishes together: (s', t') in mm for every corner."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask, Precision
from pivrel.core.face_sheets import FaceSheets, boards, spread_sheets
from pivrel.core.finish import Finish
from pivrel.core.fitting import BEST, Aim, fit
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.picks import Pick, as_faces, resolve
from pivrel.core.projection import Box, Projection, Triplanar

UNTOUCHED = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
"""The sheet as the projection lays it: final coordinates that equal the raw ones."""

BARE = -1


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
    face, None where the finish's own placement serves all.
    """

    pieces: tuple[Piece, ...]
    of_face: Ints | None = None
    sheets: FaceSheets | None = None


def cover(surface: Surface, picks: Sequence[Pick]) -> Ints:
    """(F,) int32, for each face the last pick that holds it, or BARE."""
    out = np.full(surface.mesh.face_count, BARE, np.int32)
    for row, pick in enumerate(picks):
        out[resolve(pick, surface)] = row
    return out


def settle(surface: Surface, finish: Finish, faces: Ints | None = None) -> Settled:
    """Datums, measured sizes and sheets of a finish, off its whole pick, covered by later rows or not.

    faces: (K,) int32 ids that the pick holds, where they are known already.
    """
    if faces is None:
        faces = as_faces(resolve(finish.pick, surface))
    settled = settle_pieces(surface, finish, faces)
    if finish.is_one_sheet:
        return settled
    return with_sheets(surface, finish, faces, settled)


def settle_pieces(surface: Surface, finish: Finish, faces: Ints) -> Settled:
    """Datums and measured sizes alone. faces: (K,) int32 ids that the pick holds."""
    if finish.datum_for == "pick":
        return Settled((_piece(surface, finish, faces, finish.datum),))
    number = surface.mesh.face_part if finish.datum_for == "part" else boards(surface)
    used, piece = np.unique(number[faces], return_inverse=True)
    of_face = np.full(surface.mesh.face_count, -1, np.int32)
    of_face[faces] = piece
    order = np.argsort(piece, kind="stable")
    own = np.split(faces[order], np.cumsum(np.bincount(piece, minlength=len(used)))[:-1])
    aim = Aim(to="box") if finish.datum_for == "board" else BEST
    pieces = tuple(
        _piece(surface, finish, faces_of, None, int(surface.mesh.face_part[faces_of[0]]), aim)
        for faces_of in own
        if len(faces_of)
    )
    return Settled(pieces, of_face)


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
    if datum is None:
        # Only a box can be tight; what is round is fitted round.
        boxed = isinstance(finish.projection, Box | Triplanar)
        found = fit(surface, faces, finish.projection, aim if boxed else BEST)
        datum, residual = found.datum, found.residual_mm
    settled = finish.projection.settled(surface, faces, datum, finish.material.repeat_mm)
    return Piece(settled, datum, part, residual)


def lay(
    surface: Surface, finish: Finish, faces: Ints, settled: Settled, dtype: Precision = np.float64
) -> Floats:
    """(K, 2) final (s', t') in mm for the corners of `faces` (int32, ascending), face after face."""
    if settled.sheets is None:
        return _laid(surface, faces, settled, finish.sheets, dtype)
    return settled.sheets.laid(surface, faces, lay_raw(surface, faces, settled), dtype)


def lay_by_corner(surface: Surface, finish: Finish, faces: Ints, settled: Settled) -> Floats:
    """(C, 2) final (s', t') in mm by corner id, NaN elsewhere than on `faces` (int32, ascending)."""
    out = np.full((surface.mesh.corner_count, 2), np.nan)
    out[surface.corners_of(faces)] = lay(surface, finish, faces, settled)
    return out


def lay_raw(surface: Surface, faces: Ints, settled: Settled) -> Floats:
    """(K, 2) raw (s, t) in mm, before turn, offset and scale."""
    return _laid(surface, faces, settled, np.stack([UNTOUCHED] * 3), np.float64)


def _laid(surface: Surface, faces: Ints, settled: Settled, sheets: Floats, dtype: Precision) -> Floats:
    if settled.of_face is None:
        return _laid_piece(surface, faces, settled.pieces[0], sheets, dtype)
    piece_of = settled.of_face[faces]
    sizes = np.diff(surface.mesh.face_start)[faces]
    rows = np.concatenate([[0], np.cumsum(sizes)])
    out = np.empty((int(rows[-1]), 2), dtype)
    order = np.argsort(piece_of, kind="stable")
    bounds = np.searchsorted(piece_of[order], np.arange(len(settled.pieces) + 1))
    for row, piece in enumerate(settled.pieces):
        own = order[bounds[row] : bounds[row + 1]]
        if len(own):
            laid = _laid_piece(surface, faces[own], piece, sheets, dtype)
            out[np.concatenate([np.arange(rows[k], rows[k + 1]) for k in own])] = laid
    return out


def strongest_axes(surface: Surface, faces: Ints, settled: Settled) -> Ints:
    """(K,) int8: 0, 1 or 2, the datum's axis that each face of a triplanar finish looks along most."""
    out = np.zeros(len(faces), np.int8)
    for row, piece in enumerate(settled.pieces):
        own = np.ones(len(faces), bool) if settled.of_face is None else settled.of_face[faces] == row
        if isinstance(piece.projection, Triplanar):
            out[own] = piece.projection.strongest_axis(surface, faces[own], piece.datum)
    return out


def _laid_piece(surface: Surface, faces: Ints, piece: Piece, sheets: Floats, dtype: Precision) -> Floats:
    projection, datum = piece.projection, piece.datum
    out = projection.lay(surface, faces, datum, sheets[0], dtype)
    if isinstance(projection, Triplanar) and not (sheets == sheets[0]).all():
        axis = np.repeat(
            projection.strongest_axis(surface, faces, datum), np.diff(surface.mesh.face_start)[faces]
        )
        for k in (1, 2):
            out[axis == k] = projection.lay(surface, faces, datum, sheets[k], dtype)[axis == k]
    return out


@dataclass(frozen=True)
class Layers:
    """What lies on each face once the single sheets are told from those that tile.

    base: (F,) int32 row of the last finish that tiles, or BARE. singles: for each row that does not
    tile, (F,) where it lies over that base; later ones lie over earlier ones.
    """

    base: Ints
    singles: dict[int, Mask]


def layers(surface: Surface, finishes: Sequence[Finish]) -> Layers:
    """The layers of a schedule."""
    base = np.full(surface.mesh.face_count, BARE, np.int32)
    singles: dict[int, Mask] = {}
    for row, finish in enumerate(finishes):
        held = resolve(finish.pick, surface)
        if finish.tile:
            base[held] = row
            for mask in singles.values():
                mask &= ~held
        else:
            singles[row] = held
    return Layers(base, singles)
