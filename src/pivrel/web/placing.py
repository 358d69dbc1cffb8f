"""Placing a projection: its datum as it is drawn, the pattern while it is dragged, and trials."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import Any

import numpy as np
from flask import Blueprint, Response, abort, jsonify, request

from pivrel.computing import COMPUTING, let_others
from pivrel.core.charts import charts, reach
from pivrel.core.finish import Finish
from pivrel.core.laying import lay, settle
from pivrel.core.picks import as_faces, resolve
from pivrel.core.projection import Cylindrical, Spherical
from pivrel.core.trials import GOOD, Trial, advice, trials
from pivrel.edits import EditError
from pivrel.laid_project import LaidProject, fit_of, lane_for, sheet_of
from pivrel.project_looks import laid
from pivrel.recipe import DatumModel, PickModel, ProjectionModel, projection_json
from pivrel.store import projects
from pivrel.web.asked import AimModel, Asked
from pivrel.web.context import database, laid_by_id, project_or_404, rounded
from pivrel.web.packet import packet
from pivrel.web.turns import heavy

bp = Blueprint("placing", __name__)


def _known(project: LaidProject, key: str) -> str:
    if key not in project.contents.finishes:
        abort(404, f"the schedule has no finish {key}")
    return key


@bp.get("/projects/<int:project_id>/datum/<finish>")
def datum(project_id: int, finish: str) -> Response:
    """What is drawn of a finish's datum, in datum coordinates, and what was measured or fitted.

    reach_mm: how far the pick extends. charts: the sides that the sheet lies on. Round ones have
    their radius, the closing factor, and how well a true cylinder, cone or sphere fits the pick.
    """
    _, project = laid_by_id(project_id)
    settled = project.settled(_known(project, finish))
    if settled.of_face is not None:
        return jsonify({"laying_key": project.laying_key(finish), "parts": len(settled.pieces), "charts": []})
    (piece,) = settled.pieces
    with COMPUTING:
        bounds = reach(project.surface, project.held(finish), piece)
    told: dict[str, Any] = {
        "laying_key": project.laying_key(finish),
        "parts": 1,
        "datum": DatumModel.of(piece.datum).model_dump(mode="json"),
        "reach_mm": [rounded(b, 4) for b in bounds],
        "charts": [asdict(chart) for chart in charts(piece, bounds)],
        "projection": projection_json(piece.projection),
    }
    return jsonify(told)


@bp.get("/projects/<int:project_id>/roundness/<finish>")
def roundness(project_id: int, finish: str) -> Response:
    """How well the pick of a round finish fits a true cylinder, cone or sphere."""
    _, project = laid_by_id(project_id)
    stated = project.stated(_known(project, finish))
    if not isinstance(stated.projection.to_core(), Cylindrical | Spherical):
        abort(422, f"{finish} is not laid by a round projection")
    found = fit_of(project.surface, stated)
    return jsonify(
        {
            "residual_mm": found.residual_mm,
            "share": found.share,
            "radius_mm": found.radius_mm,
            "half_angle_deg": found.half_angle_deg,
            "datum": DatumModel.of(found.datum).model_dump(mode="json"),
        }
    )


class Preview(Asked):
    """What of a finish is being dragged; the rest stays."""

    datum: DatumModel | None = None
    projection: ProjectionModel | None = None


@bp.post("/projects/<int:project_id>/preview/<finish>")
def preview(project_id: int, finish: str) -> Response:
    """(K, 2) float32 mm as the finish would be laid, for the faces that it is laid on. Nothing is kept."""
    asked = Preview.model_validate(request.get_json())
    _, project = laid_by_id(project_id)
    changed = project.finish(_known(project, finish))
    if asked.datum is not None:
        changed = replace(changed, datum=asked.datum.to_core(), datum_for="pick")
    if asked.projection is not None:
        changed = replace(changed, projection=asked.projection.to_core())
    st = project.preview(finish, changed)
    return Response(st.astype("<f4", copy=False).tobytes(), mimetype="application/octet-stream")


class TrialRequest(Asked):
    """A material on a pick, or the finish whose projection is in question."""

    pick: PickModel | None = None
    material: str | None = None
    finish: str | None = None
    aim: AimModel = AimModel()


@bp.post("/projects/<int:project_id>/trials")
@heavy
def run_trials(project_id: int) -> Response:
    """The pick laid by every projection, best first: a header of figures and an array "st_<n>" each.

    faces: (K,) uint32 ids; each st is (C, 2) float32 mm for their corners.
    """
    asked = TrialRequest.model_validate(request.get_json())
    with database().reading() as db:
        project = project_or_404(db, project_id)
        library = projects.library(db)
        project_laid = laid(db, project)
    finish = _on_trial(project_laid, asked, library)
    surface = project_laid.surface
    with lane_for(surface):
        faces = as_faces(resolve(finish.pick, surface))
        if not len(faces):
            raise EditError("the pick is empty: pick faces first, then try projections on them")
        found = trials(surface, finish, asked.aim.to_core(), let_others)
        arrays = {
            f"st_{at}": lay(surface, t.finish, faces, settle(surface, t.finish, faces), np.float32)
            for at, t in enumerate(found)
        }
    header = {"trials": [_told(t) for t in found], "good": GOOD, "advice": advice(found)}
    return packet(header, faces=faces.astype("<u4"), **arrays)


def _on_trial(project: LaidProject, asked: TrialRequest, library: dict[str, Any]) -> Finish:
    if asked.finish is not None:
        return project.finish(_known(project, asked.finish))
    if asked.pick is None or asked.material is None:
        abort(422, "trials need a finish, or a pick and a material")
    if asked.material in project.contents.materials:
        material = project.material(asked.material)
    elif asked.material in library:
        material = sheet_of(library[asked.material].body)
    else:
        abort(404, f"there is no material {asked.material!r}")
    return Finish("trial", material, asked.pick.to_core())


def _told(trial: Trial) -> dict[str, Any]:
    assert trial.finish.datum is not None
    f = trial.figures
    return {
        "projection": projection_json(trial.finish.projection),
        "datum": DatumModel.of(trial.finish.datum).model_dump(mode="json"),
        "good": trial.good,
        "why": trial.why,
        "true_share": f.true_share,
        "smeared_m2": f.smeared_m2,
        "mirrored_m2": f.mirrored_m2,
        "seams_m": f.seams_m,
        "area_m2": f.area_m2,
        "residual_mm": trial.fit.residual_mm,
        "share": trial.fit.share,
        "joints_m": f.joints_m,
    }
