"""The tape: from one place of the model to another over its surface, and what of a pattern lies between."""

from __future__ import annotations

from typing import Any

import numpy as np
from flask import Blueprint, Response, abort, jsonify, request

from pivrel.computing import COMPUTING
from pivrel.core.laying import BARE, lay_by_corner
from pivrel.core.setout import units_of
from pivrel.core.tape import Tape, lay_tape, sheet_between, spot_on
from pivrel.laid_project import LaidProject
from pivrel.recipe import Triple
from pivrel.web.asked import Asked
from pivrel.web.context import laid_by_id, rounded

bp = Blueprint("tape", __name__)


class End(Asked):
    """A place on a face, in the model's own coordinates."""

    face: int
    place: Triple


class TapeRequest(Asked):
    """The two ends of a tape."""

    a: End
    b: End


@bp.post("/projects/<int:project_id>/tape")
def tape(project_id: int) -> Response:
    """Length and way of a tape; for the finish that lies longest under it what of its sheet lies between."""
    asked = TapeRequest.model_validate(request.get_json())
    _, project = laid_by_id(project_id)
    surface = project.surface
    for end in (asked.a, asked.b):
        if not 0 <= end.face < surface.mesh.face_count:
            abort(404, f"face {end.face} does not exist")
    with COMPUTING:
        ends = [spot_on(surface, end.face, np.array(end.place)) for end in (asked.a, asked.b)]
        laid = lay_tape(surface, ends[0], ends[1])
        told: dict[str, Any] = {
            "length_mm": laid.length_mm,
            "straight_mm": float(np.linalg.norm(ends[1].point - ends[0].point)),
            "over_surface": laid.over_surface,
            "points_mm": [rounded(p, 4) for p in laid.points],
            "finish": None,
        }
        key = _under(project, laid)
        if key is not None:
            told |= _counted(project, laid, key)
    return jsonify(told)


def _under(project: LaidProject, tape: Tape) -> str | None:
    """The finish that lies longest under a tape, or None."""
    length = np.linalg.norm(np.diff(tape.points, axis=0), axis=1)
    under = project.covering().face_finish[project.surface.triangle_face[tape.triangles]]
    under = np.where(tape.triangles < 0, BARE, under)
    share = np.bincount(under + 1, weights=length, minlength=len(project.keys) + 1)[1:]
    return project.keys[int(np.argmax(share))] if len(share) and share.max() > 0 else None


def _counted(project: LaidProject, tape: Tape, key: str) -> dict[str, Any]:
    finish = project.finish(key)
    final = lay_by_corner(project.surface, finish, project.drawn(key), project.settled(key))
    along, up = sheet_between(project.surface, tape, final).tolist()
    width, height = finish.material.repeat_mm
    unit = units_of(finish.material)
    joints = finish.material.joints
    return {
        "finish": key,
        "name": finish.name,
        "along_mm": along,
        "up_mm": up,
        "repeats": [along / width, up / height],
        # Only where the material is made of units that way.
        "units": [mm / unit[k] if joints and joints.unit_mm[k] else None for k, mm in enumerate((along, up))],
    }
