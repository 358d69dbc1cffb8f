"""The pieces of a finish as patterns to cut by."""

from __future__ import annotations

from flask import Blueprint, Response

from pivrel.core.pattern.pattern import NONE, find_pattern
from pivrel.core.schedule import Schedule
from pivrel.errors import InputError, NotFoundError
from pivrel.formats.laid import safe_file_name
from pivrel.formats.pattern import PATTERNS, drawn
from pivrel.web.context import computing, known_finish, laid_by_id
from pivrel.web.uploads import download

bp = Blueprint("pattern", __name__)


@bp.get("/projects/<int:project_id>/pattern/<finish>.<kind>")
def pattern(project_id: int, finish: str, kind: str) -> Response:
    """The pieces of a finish as SVG or DXF, in true mm."""
    if kind not in PATTERNS:
        raise NotFoundError(f"there is no pattern as {kind!r}")
    project, laid = laid_by_id(project_id)
    schedule = laid.schedule
    stated = schedule.finishes[known_finish(laid, finish)]
    if stated.projection.blends:
        raise InputError(f"{stated.name} blends three sheets over every face, so it has no pattern to cut by")
    with computing().short:
        pieces = schedule.pieces(finish)
        if not pieces.count:
            raise InputError(f"{stated.name} lies on no face, so there is nothing to cut out")
        if pieces.overlap_mm2:
            raise InputError(
                f"pieces of {stated.name} share {pieces.overlap_mm2 / 1e6:.4f} m² of the sheet; set them apart first"
            )
        solution = schedule.solution(finish)
        cuts = NONE if solution is None else solution.cuts
        lines = drawn(find_pattern(pieces, stated.material, cuts), stated.name)
        mime, write = PATTERNS[kind]
        data = write(lines, _told(schedule, finish))
    return download(f"{safe_file_name(project.name)}_{finish}.{kind}", data, mime)


def _told(schedule: Schedule, finish: str) -> str:
    """How far lengths on the pattern may be from those on the model."""
    f = schedule.figures(finish)
    return (
        f"{100 * f.true_share:.1f} % of the area within 5 % of its true size; "
        f"lengths from {100 * f.least_stretch:.1f} % to {100 * f.greatest_stretch:.1f} %"
    )
