"""Importing a model: reading it aside, the check, and a project made of it."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import PurePosixPath

import numpy as np
from flask import Blueprint, Response, request

from pivrel.core.geometry.exact import ExactSurface
from pivrel.core.geometry.surface import Surface
from pivrel.formats.bundle import FormatError
from pivrel.formats.guessing import readings
from pivrel.formats.registry import FORMATS, READABLE, suffix_of
from pivrel.formats.units import MM
from pivrel.jobs.import_picture import beside, draw_check
from pivrel.jobs.import_report import finding
from pivrel.jobs.model_import import ModelFile, ModelImport
from pivrel.project.appearance import mean_color
from pivrel.project.facts import model_facts
from pivrel.store import archive, blobs, projects
from pivrel.web.context import computing, database, service, triple
from pivrel.web.uploads import uploaded
from pivrel.web.waiting import Waiting
from pivrel.web.wire.base import answer, answers, asked
from pivrel.web.wire.imports import (
    CheckedModel,
    FindingState,
    ImportState,
    ModelReading,
    OpenedFormat,
    Opening,
)
from pivrel.web.wire.project import Created

bp = Blueprint("imports", __name__)


def _model_name(named: dict[str, bytes]) -> str:
    """The one model among the files. FormatError where there is none, or more."""
    models = [name for name in named if suffix_of(name) in READABLE]
    if not models:
        kinds = ", ".join(sorted({suffix_of(n) or n for n in named})) or "nothing"
        raise FormatError(
            f"there is no model among the files ({kinds}); Pivrel opens {', '.join((*READABLE, archive.SUFFIX))}"
        )
    if len(models) > 1:
        raise FormatError(
            f"there are {len(models)} models among the files ({', '.join(models[:3])}); open one at a time"
        )
    return models[0]


@bp.get("/formats")
def formats() -> Response:
    """What models come in, and what is missing for it here."""
    return answers(OpenedFormat, [OpenedFormat(name=f.name, missing=f.missing) for f in FORMATS if f.reader])


@bp.post("/imports")
def start() -> Response:
    """Begins to read an uploaded model with the files beside it."""
    named = uploaded()
    name = _model_name(named)
    tolerance = request.form.get("tolerance_mm", type=float)
    if tolerance is not None and not 1e-4 <= tolerance <= 1e4:
        raise FormatError("the tolerance must be between 0.0001 and 10,000 mm")
    job = ModelImport(ModelFile(name, tolerance_mm=tolerance), named)
    number = service().imports.add(Waiting(job, list(named), computing()))
    return answer(Created(id=number), 202)


@bp.get("/imports/<int:number>")
def progress(number: int) -> Response:
    """How far an import is; once it is read what came in, and once it is ready what the check found, as the query asks."""
    waiting = service().imports.get(number)
    job = waiting.job
    if job.is_read:
        return answer(_checked(waiting, ModelReading.model_validate(request.args.to_dict())))
    error = f"{job.model.name}: {job.error}" if job.state == "failed" else None
    return answer(
        ImportState(state=job.state, file=job.model.name, doing=job.doing, share=job.share, error=error)
    )


def _checked(waiting: Waiting, reading: ModelReading) -> CheckedModel:
    """What came in, and what the check found as far as it is over, with the numbers of the file read as asked."""
    job = waiting.job
    # Asked first: a job that becomes ready meanwhile is answered as what it was.
    state, doing, share = job.state, job.doing, job.share
    faults = job.faults() if state == "ready" else []
    imported = waiting.imported(reading)
    mesh = imported.mesh
    facts = model_facts(imported, job.model.name)
    size = np.ptp(mesh.bounds(), axis=0)
    thing = beside(float(size.max()))
    return CheckedModel(
        state=state,
        file=job.model.name,
        doing=doing,
        share=share,
        unit=facts.unit,
        up=facts.up,
        guessed=imported.guessed,
        asks_unit=imported.asks,
        tolerance_mm=imported.tolerance_mm,
        found=facts.found,
        findings=[FindingState(**vars(finding(fault))) for fault in faults],
        exact=_exact_kinds(mesh.exact),
        storeys=list(dict.fromkeys(s for s in mesh.part_storeys if s)),
        beside=thing.words if thing else None,
        why=imported.why,
        readings=readings(float(size.max()) / MM[imported.unit]),
        materials=len(mesh.sources),
        images=len(imported.images),
        uv_sets=len(mesh.uv_sets),
        parts=facts.parts,
        faces=mesh.face_count,
        triangles=facts.triangles,
        size_mm=triple(size, 3),
    )


def _exact_kinds(exact: Sequence[ExactSurface]) -> dict[str, int]:
    kinds = [surface.kind for surface in exact]
    return {kind: kinds.count(kind) for kind in dict.fromkeys(kinds)}


@bp.get("/imports/<int:number>/picture.jpg")
def picture(number: int) -> Response:
    """The model from its front left, with the faces of one fault marked."""
    waiting = service().imports.get(number)
    query = request.args.to_dict()
    marked = query.pop("fault", None)
    imported = waiting.imported(ModelReading.model_validate(query))
    faults = waiting.job.faults() if marked else []
    faces = next((f.faces for f in faults if f.key == marked), np.empty(0, np.int32))
    with computing().imports:
        colors = np.array([mean_color(s, imported.images) for s in imported.mesh.sources]).reshape(-1, 3)
        return Response(draw_check(Surface(imported.mesh), faces, colors), mimetype="image/jpeg")


@bp.post("/imports/<int:number>/project")
def make_project(number: int) -> Response:
    """A project of an import; the files are kept as they came."""
    opening = asked(Opening)
    waiting = service().imports.get(number)
    imported, facts = waiting.model(opening)
    came = waiting.came(imported)
    with database().transaction(ahead=came.blobs) as db:
        facts = came.keep(db, facts)
        mesh = blobs.put(db, came.mesh)
        stem = PurePosixPath(waiting.job.model.name).stem
        project_id = projects.create(db, opening.name or stem, mesh, facts)
    service().imports.drop(number)
    return answer(Created(id=project_id), 201)


@bp.delete("/imports/<int:number>")
def stop(number: int) -> tuple[str, int]:
    """Stops an import; nothing of it is kept."""
    service().imports.drop(number)
    return "", 204
