"""Baking at hand-over: which finishes need it, the plan, the bake and its files."""

from __future__ import annotations

from dataclasses import asdict

from flask import Blueprint, Response

from pivrel.errors import InputError
from pivrel.formats.convention import Convention
from pivrel.formats.laid import is_simplified, safe_file_name
from pivrel.formats.zipping import zipped
from pivrel.jobs.baking import BakeRequest
from pivrel.project.appearance import source_images
from pivrel.project.recipe_files import recipe_files, stated_rows
from pivrel.store import blobs, projects
from pivrel.web.bakes import Bake, baking_files
from pivrel.web.context import database, laid_by_id, service
from pivrel.web.uploads import download
from pivrel.web.wire.baking import Bakeable, BakeAsked, BakePlan, BakeState
from pivrel.web.wire.base import answer, answers, asked
from pivrel.web.wire.project import Created

bp = Blueprint("baking", __name__)


@bp.get("/projects/<int:project_id>/bakeable")
def bakeable(project_id: int) -> Response:
    """The finishes that lie on faces, and which of them no file can hold otherwise."""
    _, laid = laid_by_id(project_id)
    areas, _ = laid.schedule.shown_areas()
    return answers(
        Bakeable,
        [
            Bakeable(key=key, name=finish.name, area_m2=areas[key], needs=is_simplified(finish))
            for key, finish in laid.schedule.finishes.items()
            if len(laid.schedule.drawn(key))
        ],
    )


@bp.post("/projects/<int:project_id>/bakes")
def plan(project_id: int) -> Response:
    """Begins to plan a bake of a project as it is now."""
    wanted = asked(BakeAsked)
    with database().reading() as db:
        project = projects.existing(db, project_id)
        keys = stated_rows(projects.contents(db, project_id))
        files = baking_files(
            recipe_files(db, project_id), blobs.get(db, project.mesh), *source_images(db, project)
        )
    unknown = next((key for key in wanted.finishes or () if key not in keys), None)
    if unknown is not None:
        raise InputError(f"the schedule has no finish {unknown}")
    rows = None if wanted.finishes is None else tuple(str(keys.index(key)) for key in wanted.finishes)
    convention = Convention.of(project.model.unit, project.model.up)
    request = BakeRequest(wanted.to_core(rows), safe_file_name(project.name), convention, wanted.kind)
    return answer(Created(id=service().bakes.add(Bake(request, files))), 202)


@bp.get("/bakes/<int:number>")
def progress(number: int) -> Response:
    """How far a bake is, and what its plan told."""
    return answer(_state(service().bakes.get(number)))


@bp.post("/bakes/<int:number>/begin")
def begin(number: int) -> Response:
    """Bakes by the plan."""
    bake = service().bakes.get(number)
    bake.begin()
    return answer(_state(bake), 202)


def _state(bake: Bake) -> BakeState:
    job, told = bake.job, bake.plan()
    return BakeState(
        step="plan" if job.kind == "plan" else "bake",
        state=job.state,
        doing=job.doing,
        share=job.share,
        plan=None if told is None else BakePlan.model_validate(asdict(told)),
        notes=list(bake.notes()),
        error=job.error or None,
    )


@bp.get("/bakes/<int:number>/file")
def file(number: int) -> Response:
    """What was baked: a GLB as it is, or everything as a ZIP."""
    bake = service().bakes.get(number)
    files, stem = bake.files(), bake.request.stem
    if len(files) == 1 and bake.request.kind == "glb":
        return download(f"{stem}_baked.glb", next(iter(files.values())), "model/gltf-binary")
    return download(f"{stem}_baked.zip", zipped(files), "application/zip")


@bp.delete("/bakes/<int:number>")
def stop(number: int) -> tuple[str, int]:
    """Ends a bake; nothing of it is kept."""
    service().bakes.drop(number)
    return "", 204
