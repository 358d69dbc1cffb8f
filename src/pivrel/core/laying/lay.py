"""Settled finishes laid: (s', t') in mm for every corner."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints, Precision
from pivrel.core.geometry.corner_rows import corner_rows, scatter
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying.finish import Finish
from pivrel.core.laying.settled import Piece, Settled
from pivrel.core.projection import ClosedForm

UNTOUCHED = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
"""The sheet as the projection lays it: final coordinates that equal the raw ones."""


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
    if settled.solution is not None:
        raw = settled.solution.laid(surface, faces)
        return (raw @ sheets[0, :, :2].T + sheets[0, :, 2]).astype(dtype, copy=False)
    if settled.of_face is None:
        return _laid_piece(surface, faces, settled.pieces[0], sheets, dtype)
    piece_of = settled.of_face[faces]
    rows = corner_rows(surface.mesh, faces)
    out = np.empty((int(rows[-1]), 2), dtype)
    order = np.argsort(piece_of, kind="stable")
    bounds = np.searchsorted(piece_of[order], np.arange(len(settled.pieces) + 1))
    for row, piece in enumerate(settled.pieces):
        own = order[bounds[row] : bounds[row + 1]]
        if len(own):
            laid = _laid_piece(surface, faces[own], piece, sheets, dtype)
            scatter(laid, rows, own, out)
    return out


def hands(finish: Finish, faces: Ints, settled: Settled) -> Floats:
    """(K,) -1 for each of `faces` (int32, ascending) on which the sheet is turned over on its way from raw, else 1."""
    if settled.sheets is None:
        return np.full(len(faces), np.sign(finish.scale[0] * finish.scale[1]))
    return settled.sheets.hand[np.searchsorted(settled.sheets.faces, faces)]


def strongest_axes(surface: Surface, faces: Ints, settled: Settled) -> Ints:
    """(K,) int8: 0, 1 or 2, the sheet that each face takes of a finish with one for every axis of its datum."""
    out = np.zeros(len(faces), np.int8)
    for row, piece in enumerate(settled.pieces):
        own = np.ones(len(faces), bool) if settled.of_face is None else settled.of_face[faces] == row
        axes = piece.projection.axes(surface, faces[own], piece.datum)
        if axes is not None:
            out[own] = axes
    return out


def _laid_piece(surface: Surface, faces: Ints, piece: Piece, sheets: Floats, dtype: Precision) -> Floats:
    projection, datum = piece.projection, piece.datum
    assert isinstance(projection, ClosedForm), "a solved projection has its solution settled"
    out = projection.lay(surface, faces, datum, sheets[0], dtype)
    if (sheets == sheets[0]).all():
        return out
    axes = projection.axes(surface, faces, datum)
    if axes is not None:
        axis = np.repeat(axes, np.diff(surface.mesh.face_start)[faces])
        for k in (1, 2):
            out[axis == k] = projection.lay(surface, faces, datum, sheets[k], dtype)[axis == k]
    return out
