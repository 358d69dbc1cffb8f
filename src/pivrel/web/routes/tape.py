"""The tape: from one place of the model to another over its surface, and what of a pattern lies between."""

from __future__ import annotations

import numpy as np
from flask import Blueprint, Response

from pivrel.core.laying import BARE, lay_by_corner
from pivrel.core.measure.tape import Tape, lay_tape, neighbours, sheet_between, spot_on
from pivrel.core.set_out.cuts import units_of
from pivrel.errors import NotFoundError
from pivrel.project.laid import LaidProject
from pivrel.web.context import computing, laid_by_id, triple
from pivrel.web.wire.base import answer, asked
from pivrel.web.wire.picking import TapeRead, TapeRequest

bp = Blueprint("tape", __name__)


@bp.post("/projects/<int:project_id>/tape")
def tape(project_id: int) -> Response:
    """Length and way of a tape; for the finish that lies longest under it what of its sheet lies between."""
    wanted = asked(TapeRequest)
    _, project = laid_by_id(project_id)
    surface = project.surface
    for end in (wanted.a, wanted.b):
        if not 0 <= end.face < surface.mesh.face_count:
            raise NotFoundError(f"face {end.face} does not exist")
    with computing().short:
        ends = [spot_on(surface, end.face, np.array(end.place)) for end in (wanted.a, wanted.b)]
        across = computing().get(
            "across",
            project.mesh,
            lambda: neighbours(surface, surface.edge_pairs),
            lambda found: found.nbytes,
        )
        laid = lay_tape(surface, ends[0], ends[1], across)
        read = TapeRead(
            length_mm=laid.length_mm,
            straight_mm=float(np.linalg.norm(ends[1].point - ends[0].point)),
            over_surface=laid.over_surface,
            points_mm=[triple(p, 4) for p in laid.points],
        )
        key = _under(project, laid)
        return answer(read if key is None else _counted(read, project, laid, key))


def _under(project: LaidProject, tape: Tape) -> str | None:
    """The finish that lies longest under a tape, or None."""
    length = np.linalg.norm(np.diff(tape.points, axis=0), axis=1)
    under = project.schedule.covering().face_finish[project.surface.triangle_face[tape.triangles]]
    under = np.where(tape.triangles < 0, BARE, under)
    share = np.bincount(under + 1, weights=length, minlength=len(project.keys) + 1)[1:]
    return project.keys[int(np.argmax(share))] if len(share) and share.max() > 0 else None


def _counted(read: TapeRead, project: LaidProject, tape: Tape, key: str) -> TapeRead:
    """The same with what of a finish's sheet lies under the tape."""
    finish, schedule = project.finish(key), project.schedule
    final = lay_by_corner(project.surface, finish, schedule.drawn(key), schedule.settled(key))
    along, up = sheet_between(project.surface, tape, final).tolist()
    width, height = finish.material.repeat_mm
    unit = units_of(finish.material)
    joints = finish.material.joints
    # Only where the material is made of units that way.
    bricks, courses = (
        mm / unit[k] if joints and joints.unit_mm[k] else None for k, mm in enumerate((along, up))
    )
    return read.model_copy(
        update={
            "finish": key,
            "name": finish.name,
            "along_mm": along,
            "up_mm": up,
            "repeats": (along / width, up / height),
            "units": (bricks, courses),
        }
    )
