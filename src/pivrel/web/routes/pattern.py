"""The pieces of a finish as patterns to cut by: as they lie, or nested on boards."""

from __future__ import annotations

import numpy as np
from flask import Blueprint, Response, request

from pivrel.core.content_key import content_key
from pivrel.core.geometry.nesting import Board, Nesting, nest
from pivrel.core.measure.pieces import WHOLE, Pieces
from pivrel.core.pattern.pattern import PatternPiece, find_pattern
from pivrel.core.phrases import area, counted
from pivrel.core.schedule import Schedule
from pivrel.core.solve.opening import NONE
from pivrel.errors import InputError, NotFoundError
from pivrel.formats.laid import safe_file_name
from pivrel.formats.pattern import PATTERNS, boards_drawn, drawn, side_by_side
from pivrel.formats.pattern.flat_obj import write_flat_obj
from pivrel.formats.zipping import zipped
from pivrel.project.laid import LaidProject
from pivrel.web.context import computing, laid_by_id, laid_pieces
from pivrel.web.turns import heavy
from pivrel.web.uploads import download
from pivrel.web.wire.base import answer
from pivrel.web.wire.flat import BoardsTold, PatternAsked, TooLarge

bp = Blueprint("pattern", __name__)


@bp.get("/projects/<int:project_id>/pattern/<finish>/<kind>")
@heavy
def pattern(project_id: int, finish: str, kind: str) -> Response:
    """The pieces of a finish as a file in true mm: as they lie, or on boards, all in one file or one each in a ZIP."""
    asked = PatternAsked.model_validate(request.args.to_dict())
    project, laid = laid_by_id(project_id)
    name = f"{safe_file_name(project.name)}_{finish}"
    pieces = _cut_out(laid, finish, asked.board)
    told = _told(laid.schedule, finish)
    if kind == "obj":
        stated = laid.schedule.finishes[finish]
        width, height = (side * by for side, by in zip(stated.material.repeat_mm, stated.scale, strict=True))
        return download(f"{name}_flat.obj", write_flat_obj(pieces, (width, height), told), "model/obj")
    if kind not in PATTERNS:
        raise NotFoundError(f"there is no pattern as {kind!r}")
    written = PATTERNS[kind]
    with computing().long_work():
        found = _pattern(laid.schedule, finish, pieces)
        material = laid.stated(finish).name
        if asked.board is None:
            data = written.write(drawn(found, material), told)
            return download(f"{name}{written.suffix}", data, written.mime)
        boards = boards_drawn(found, material, _nested(laid, finish, pieces, asked), asked.board)
        if not boards:
            raise InputError("no piece finds room on this board; take a larger one, or let pieces be turned")
        if asked.each:
            files = {
                f"{name}_board_{n}{written.suffix}": written.write(own, told)
                for n, own in enumerate(boards, 1)
            }
            return download(f"{name}_boards.zip", zipped(files), "application/zip")
        data = written.write(side_by_side(boards, asked.board), told)
        return download(f"{name}_boards{written.suffix}", data, written.mime)


@bp.get("/projects/<int:project_id>/pattern/<finish>/boards.json")
@heavy
def boards(project_id: int, finish: str) -> Response:
    """How many boards the pieces of a finish take, how much of each is used, and which pieces no board holds."""
    asked = PatternAsked.model_validate(request.args.to_dict())
    if asked.board is None:
        raise InputError("state the size of a board")
    _, laid = laid_by_id(project_id)
    pieces = _cut_out(laid, finish, asked.board)
    with computing().long_work():
        nesting = _nested(laid, finish, pieces, asked)
    used = np.zeros(nesting.boards)
    too_large = []
    for number, (polygon, place) in enumerate(zip(pieces.polygons, nesting.placed, strict=True), 1):
        if place is None:
            s0, t0, s1, t1 = polygon.bounds
            too_large.append(TooLarge(number=number, size_mm=(s1 - s0, t1 - t0)))
        else:
            used[place.board] += polygon.area
    whole = asked.board.width_mm * asked.board.height_mm
    return answer(BoardsTold(used=(used / whole).tolist(), too_large=too_large))


def _cut_out(laid: LaidProject, finish: str, board: Board | None) -> Pieces:
    """The pieces of a finish; InputError where they cannot be cut out of flat material as they lie."""
    pieces = laid_pieces(laid, finish, blended="it has no pattern to cut by", bare="cut out")
    name = laid.stated(finish).name
    with computing().short:
        own = pieces.sheet_areas - [polygon.area for polygon in pieces.polygons]
        over = np.flatnonzero(own > WHOLE * pieces.sheet_areas)
        if len(over):
            more = f", and {counted(len(over) - 1, 'other')}" if len(over) > 1 else ""
            raise InputError(
                f"piece {over[0] + 1} of {name}{more} would lie over itself on the sheet ({area(own[over].sum())}), "
                "so it cannot be cut out in one: cut it further, or let the flattening part what lies over itself"
            )
        if board is None and pieces.overlap_mm2:
            raise InputError(
                f"pieces of {name} share {area(pieces.overlap_mm2)} of the sheet; set them apart first, "
                "or lay them on boards"
            )
    return pieces


def _pattern(schedule: Schedule, finish: str, pieces: Pieces) -> list[PatternPiece]:
    solution = schedule.solution(finish)
    cuts = NONE if solution is None else solution.cuts
    found = find_pattern(pieces, schedule.finishes[finish].material, cuts)
    if not found:
        name = schedule.finishes[finish].name
        raise InputError(
            f"all pieces of {name} lie in a line or a point on the sheet, so nothing can be cut out"
        )
    return found


def _nested(laid: LaidProject, finish: str, pieces: Pieces, asked: PatternAsked) -> Nesting:
    """The pieces on boards; kept, for it is looked at before it is handed over."""
    board = asked.board
    assert board is not None, "asked of what states one"
    key = content_key("nest", laid.schedule.laying_key(finish), board, asked.turns)
    return computing().get(
        "nests", key, lambda: nest(pieces.polygons, board, asked.turns), lambda found: 300 * len(found.placed)
    )


def _told(schedule: Schedule, finish: str) -> str:
    """How far lengths on the pattern may be from those on the model."""
    f = schedule.figures(finish)
    return (
        f"{100 * f.true_share:.1f} % of the area within 5 % of its true size; "
        f"lengths from {100 * f.least_stretch:.1f} % to {100 * f.greatest_stretch:.1f} %"
    )
