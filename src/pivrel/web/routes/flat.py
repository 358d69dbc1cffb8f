"""The flat view of a finish: its faces as they lie on the sheet, in mm of the model."""

from __future__ import annotations

import numpy as np
from flask import Blueprint, Response

from pivrel.core.measure.pieces import Pieces
from pivrel.web.context import computing, known_finish, laid_by_id, outdated
from pivrel.web.packet import packet
from pivrel.web.wire.flat import FlatHeader, FlatPiece

bp = Blueprint("flat", __name__)


@bp.get("/projects/<int:project_id>/flat/<finish>")
def flat(project_id: int, finish: str) -> Response:
    """faces (K,), piece (K,), st: (N, 2) for their corners, face after face, rims: (R, 2, 2), rim_piece (R,)."""
    _, laid = laid_by_id(project_id)
    schedule = laid.schedule
    if outdated(schedule.laying_key(known_finish(laid, finish))):
        return Response(status=204)
    with computing().short:
        pieces = schedule.pieces(finish)
        header = FlatHeader(pieces=_told(pieces), overlap_m2=pieces.overlap_mm2 / 1e6)
        return packet(
            header,
            faces=pieces.faces.astype("<u4"),
            piece=pieces.piece.astype("<u4"),
            st=pieces.final.astype("<f4"),
            rims=pieces.rims.astype("<f4"),
            rim_piece=pieces.rim_piece.astype("<u4"),
        )


def _told(pieces: Pieces) -> list[FlatPiece]:
    _, first, faces = np.unique(pieces.piece, return_index=True, return_counts=True)
    sizes = np.sqrt(pieces.sheet_areas / np.maximum(pieces.areas, 1e-12))
    return [
        FlatPiece(
            face=int(pieces.faces[first[row]]),
            faces=int(faces[row]),
            area_m2=float(pieces.areas[row]) / 1e6,
            size=float(sizes[row]),
            box_mm=(float(a), float(b), float(c), float(d)),
        )
        for row, (a, b, c, d) in enumerate(pieces.boxes)
    ]
