"""The arrays that the view draws coats with: their sheets at the corners, and the lines that masks are near to."""

from __future__ import annotations

import numpy as np
from flask import Blueprint, Response

from pivrel.core.arrays import Floats
from pivrel.core.coats.segments import LineGrid
from pivrel.core.evaluation.settling import face_tones
from pivrel.errors import NotFoundError
from pivrel.web.context import computing, known_finish, laid_by_id, outdated
from pivrel.web.packet import packet
from pivrel.web.state import grids_key, tones_key, view_origin
from pivrel.web.wire.coats import GridState, LinesHeader

bp = Blueprint("coats", __name__)

NOWHERE = -1e30
"""Where a face could not be laid by the sheet of a coat."""


@bp.get("/projects/<int:project_id>/coats/<finish>/laying/<int:row>")
def coat_laying(project_id: int, finish: str, row: int) -> Response:
    """(K, 2) float32 mm of a sheet over a finish, counted as stated, for the corners of the faces that it is laid on."""
    _, laid = laid_by_id(project_id)
    schedule, key = laid.schedule, known_finish(laid, finish)
    sheets = schedule.finishes[key].sheets_over
    if row >= len(sheets) or sheets[row].projection is None:
        raise NotFoundError(f"{finish} has no sheet {row} with a laying of its own")
    if outdated(schedule.over_key(key, sheets[row])):
        return Response(status=204)
    with computing().short:
        st = schedule.laid_over(key, sheets[row]).st[laid.surface.corners_of(schedule.drawn(key))]
    laid_st = np.nan_to_num(st, nan=NOWHERE).astype("<f4")
    return Response(laid_st.tobytes(), mimetype="application/octet-stream")


@bp.get("/projects/<int:project_id>/coats/<finish>/lines")
def coat_lines(project_id: int, finish: str) -> Response:
    """texels: (N, 4) float32, the lines that the masks of a finish's coats are near to, sorted into grids."""
    _, laid = laid_by_id(project_id)
    schedule, key = laid.schedule, known_finish(laid, finish)
    if outdated(grids_key(schedule, key) or ""):
        return Response(status=204)
    origin = np.array(view_origin(laid.surface.bounds))
    grids, texels, at = [], [], 0
    with computing().short:
        for mask in schedule.finishes[key].near_masks:
            state, data = _texels(schedule.grid(key, mask), origin, at)
            grids.append(state)
            texels.append(data)
            at += len(data)
    texture = np.concatenate(texels) if texels else np.zeros((0, 4))
    return packet(LinesHeader(grids=grids), texels=texture.astype("<f4"))


@bp.get("/projects/<int:project_id>/coats/<finish>/tones")
def coat_tones(project_id: int, finish: str) -> Response:
    """(K, 5) float32 what red, green and blue, roughness and bumps of each face are multiplied by that it is laid on."""
    _, laid = laid_by_id(project_id)
    schedule, key = laid.schedule, known_finish(laid, finish)
    if outdated(tones_key(schedule, key) or ""):
        return Response(status=204)
    with computing().short:
        tones = face_tones(laid.surface, schedule.finishes[key])
    faces = schedule.drawn(key)
    found = np.ones((len(faces), 5)) if tones is None else tones[faces]
    return Response(found.astype("<f4").tobytes(), mimetype="application/octet-stream")


def _texels(grid: LineGrid, origin: Floats, at: int) -> tuple[GridState, Floats]:
    """A grid as texels (N, 4), the first of them at `at`."""
    lines = grid.lines
    cells = np.zeros((len(grid.first) - 1, 4))
    cells[:, 0], cells[:, 1] = grid.first[:-1], np.diff(grid.first)
    rows = np.zeros((len(grid.rows) + 3) // 4 * 4)
    rows[: len(grid.rows)] = grid.rows
    ends = np.zeros((len(lines.ends), 3, 4))
    ends[:, :2, :3] = lines.ends - origin
    ends[:, 0, 3] = lines.radius_mm
    ends[:, 2, :3] = lines.normal
    x, y, z = (grid.origin - origin).tolist()
    i, j, k = grid.counts.tolist()
    first = (at, at + len(cells), at + len(cells) + len(rows) // 4)
    state = GridState(
        origin=(x, y, z), cell_mm=grid.cell_mm, counts=(i, j, k), soft_mm=grid.soft_mm, cells=first[0],
        rows=first[1], lines=first[2],
    )  # fmt: skip
    return state, np.concatenate([cells, rows.reshape(-1, 4), ends.reshape(-1, 4)])
