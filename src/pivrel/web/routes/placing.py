"""Placing a projection: its datum as it is drawn, and the pattern while it is dragged."""

from __future__ import annotations

from dataclasses import asdict, replace

import numpy as np
from flask import Blueprint, Response, request

from pivrel.core.arrays import Floats, Floats32, Ints
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import Piece
from pivrel.core.projection.charts import reach
from pivrel.core.solve.solution import Frame
from pivrel.errors import InputError, NotFoundError
from pivrel.project.laid import LaidProject, fit_of
from pivrel.recipe import DatumModel, projection_model
from pivrel.web.context import computing, known_finish, laid_by_id, triple
from pivrel.web.wire.base import answer, asked
from pivrel.web.wire.laying import (
    ChartState,
    DatumDrawing,
    FrameState,
    LineState,
    Preview,
    Roundness,
)

bp = Blueprint("placing", __name__)


@bp.get("/projects/<int:project_id>/datum/<finish>")
def datum(project_id: int, finish: str) -> Response:
    """What is drawn of a finish's datum, in datum coordinates, and what was measured or fitted.

    The query's coat, counted from 0, asks for that of a coat with a laying of its own.
    """
    _, project = laid_by_id(project_id)
    schedule = project.schedule
    coat = request.args.get("coat", type=int)
    if coat is not None:
        return _datum_of_coat(project, known_finish(project, finish), coat)
    key = schedule.laying_key(known_finish(project, finish))
    if failure := schedule.failure(finish):
        return answer(DatumDrawing(laying_key=key, parts=0, charts=[], troubles=(failure,)))
    settled = schedule.settled(finish)
    if settled.of_face is not None:
        return answer(DatumDrawing(laying_key=key, parts=len(settled.pieces), charts=[]))
    (piece,) = settled.pieces
    ties = tuple(round(float(off), 3) for off in schedule.tie_offs(finish))
    if not piece.projection.has_datum:
        return answer(
            DatumDrawing(
                laying_key=key,
                parts=1,
                charts=[],
                projection=projection_model(piece.projection),
                frames=tuple(_frame(frame) for frame in settled.solution.frames) if settled.solution else (),
                troubles=settled.solution.troubles if settled.solution else (),
                tie_off_mm=ties,
            )
        )
    return answer(_drawing(project, finish, piece, key, ties))


def _drawing(
    project: LaidProject, finish: str, piece: Piece, key: str, ties: tuple[float, ...] = ()
) -> DatumDrawing:
    """A datum and the charts about it, as far as the faces of a finish reach."""
    with computing().short:
        bounds = reach(project.surface, project.schedule.held(finish), piece.datum)
    return DatumDrawing(
        laying_key=key,
        parts=1,
        datum=DatumModel.of(piece.datum),
        reach_mm=(triple(bounds[0], 4), triple(bounds[1], 4)),
        charts=[ChartState(**asdict(chart)) for chart in piece.projection.charts(bounds)],
        projection=projection_model(piece.projection),
        tie_off_mm=ties,
    )


def _datum_of_coat(project: LaidProject, finish: str, row: int) -> Response:
    """The datum of a coat with a laying of its own that measures from one."""
    schedule = project.schedule
    coats = schedule.finishes[finish].coats
    sheet = coats[row].sheet if 0 <= row < len(coats) else None
    if sheet is None or sheet.projection is None:
        raise NotFoundError(f"{finish} has no coat {row} with a laying of its own")
    key = schedule.over_key(finish, sheet)
    with computing().short:
        settled = schedule.laid_over(finish, sheet).settled
    if settled.of_face is not None or not settled.pieces[0].projection.has_datum:
        return answer(DatumDrawing(laying_key=key, parts=len(settled.pieces), charts=[]))
    return answer(_drawing(project, finish, settled.pieces[0], key))


def _frame(frame: Frame) -> FrameState:
    return FrameState(
        form=frame.form,
        lines=[LineState(name=line.name, points=_places(line.points)) for line in frame.lines],
        corners=_places(frame.corners),
        size_mm=frame.size_mm,
        veil=_places(frame.veil.reshape(-1, 3)),
    )


def _places(points: Floats) -> list[tuple[float, float, float]]:
    return [(x, y, z) for x, y, z in np.round(points, 4).tolist()]


@bp.get("/projects/<int:project_id>/roundness/<finish>")
def roundness(project_id: int, finish: str) -> Response:
    """How well the pick of a round finish fits a true cylinder, cone or sphere."""
    _, project = laid_by_id(project_id)
    stated = project.stated(known_finish(project, finish))
    if not stated.projection.core.is_round:
        raise InputError(f"{finish} is not laid by a round projection")
    found = fit_of(computing(), project.surface, stated)
    return answer(
        Roundness(
            residual_mm=found.residual_mm,
            share=found.share,
            radius_mm=found.radius_mm,
            half_angle_deg=found.half_angle_deg,
            datum=DatumModel.of(found.datum),
        )
    )


@bp.post("/projects/<int:project_id>/preview/<finish>")
def preview(project_id: int, finish: str) -> Response:
    """(K, 2) float32 mm as the finish would be laid, for the faces that it is laid on.

    What a drag leaves as it is (the pick, a solution, the faces that it covers) is not found anew.
    """
    wanted = asked(Preview)
    _, project = laid_by_id(project_id)
    was = project.finish(known_finish(project, finish))
    now = was
    if wanted.datum is not None:
        now = replace(now, datum=wanted.datum.to_core(), datum_for="pick")
    if wanted.projection is not None:
        now = replace(now, projection=wanted.projection.to_core())
    if wanted.placed is not None and now.raw_key is not None:
        placed = wanted.placed
        now = replace(
            now, turn_deg=placed.turn_deg, grain_deg=None, offset_mm=placed.offset_mm, scale=placed.scale
        )
    then = project.schedule.with_finish(finish, now)
    st, faces, shown = then.laying(finish), then.drawn(finish), project.schedule.drawn(finish)
    if len(faces) != len(shown) or not np.array_equal(faces, shown):
        st = _on_faces(project.surface, st, faces, shown)
    return Response(st.astype("<f4", copy=False).tobytes(), mimetype="application/octet-stream")


def _on_faces(surface: Surface, st: Floats32, faces: Ints, shown: Ints) -> Floats32:
    """(N, 2) a laying of `faces` for the corners of those shown; zero on what it does not lay."""
    out = np.zeros((surface.mesh.corner_count, 2), np.float32)
    out[surface.corners_of(faces)] = st
    return out[surface.corners_of(shown)]
