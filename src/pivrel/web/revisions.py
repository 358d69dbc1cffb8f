"""Replacing a project's model by a newer one, and the list of what that changed."""

from __future__ import annotations

from dataclasses import replace as replace_fields
from typing import Any

from flask import Blueprint, Response, abort, jsonify, request

from pivrel.computing import long_work
from pivrel.core.geometry.surface import Surface
from pivrel.formats import MM, Imported
from pivrel.laid_project import LaidProject
from pivrel.placing_model import Reading, move_between, moved_mesh
from pivrel.project_looks import laid
from pivrel.revision import Item, Revision, listed, read_list, revised
from pivrel.store import blobs, journal, projects
from pivrel.store.projects import Contents, Project
from pivrel.web.asked import RevisionNumber
from pivrel.web.context import database, project_or_404
from pivrel.web.imports import Opening, imports, keep_files
from pivrel.web.state import project_state
from pivrel.web.turns import heavy

bp = Blueprint("revisions", __name__)


class Revising(Opening):
    """Which import shall take the model's place, and the revision of the project that this is based on."""

    import_id: int
    revision: RevisionNumber


@bp.post("/projects/<int:project_id>/model")
@heavy
def replace(project_id: int) -> Response:
    """The project with the newer model; one edit, so that undo brings the old one back."""
    asked = Revising.model_validate(request.get_json())
    waiting = imports().get(asked.import_id)
    with database().reading() as db:
        project = project_or_404(db, project_id)
        journal.check_based(db, project_id, asked.revision)
        before = projects.contents(db, project_id)
        old = laid(db, project, before).surface
    imported, facts = waiting.model(asked)
    imported, done, said = _carried_over(project, before, old, imported)
    facts |= {"unit": imported.unit, "up": imported.up, **_placing_of(project)}
    mesh = blobs.mesh_data(imported.mesh)
    with database().transaction() as db:
        keep_files(db, waiting, imported, facts)
        facts["revision"] = blobs.put(db, listed(done.items))
        change = journal.model_change(project, blobs.put(db, mesh), facts)
        changes = [change, *journal.changes_between(before, done.contents)]
        journal.write(db, project_id, asked.revision, f"newer model {waiting.job.asked.name}", changes)
    imports().drop(asked.import_id)
    with database().reading() as db:
        state = project_state(db, project_or_404(db, project_id))
    return jsonify({**state, "said": said})


def _placing_of(project: Project) -> dict[str, Any]:
    """What a newer model takes over of how the one before was placed."""
    return {key: project.model[key] for key in ("shift_mm", "placed") if project.model.get(key)}


def _carried_over(
    project: Project, before: Contents, old: Surface, imported: Imported
) -> tuple[Imported, Revision, str | None]:
    """The newer model read as the one before is, and what became of the finishes.

    A file that states no unit, and that is the old model but for the size of a unit, is read in that unit.
    """
    said = None
    placed = Reading.of(project.model)
    if project.model.get("placed"):
        move = move_between(Reading(imported.unit, imported.up), placed)
        imported = replace_fields(
            imported, mesh=moved_mesh(imported.mesh, move), unit=placed.unit, up=placed.up
        )
    with long_work():
        done = revised(before, old, Surface(imported.mesh))
        unit = _unit_meant(imported, done.scale)
        if imported.asks and unit != imported.unit:
            imported = imported.read_as(unit, imported.up)
            done = revised(before, old, Surface(imported.mesh))
            said = f"the newer file has its numbers in {unit}, so that the model has the size that it had"
    return imported, done, said


def _unit_meant(imported: Imported, scale: float) -> str:
    """The unit in which a model has the size of the one before; its own where no unit makes up for the scale."""
    wanted = MM[imported.unit] / scale
    return next((unit for unit, mm in MM.items() if abs(mm - wanted) <= 1e-3 * wanted), imported.unit)


def _items(project_id: int) -> tuple[list[Item], Project, LaidProject]:
    """The list of the model in force, the project, and the project laid."""
    with database().reading() as db:
        project = project_or_404(db, project_id)
        kept = project.model.get("revision")
        if not kept:
            abort(404, "this model has not taken the place of another")
        return read_list(blobs.get(db, kept)), project, laid(db, project)


@bp.get("/projects/<int:project_id>/revision")
def revision(project_id: int) -> Response:
    """What the newer model changed, item by item; open: whether a doubtful one still waits for an answer."""
    items, project, project_laid = _items(project_id)
    answered = set(project.model.get("answered", ()))
    face_finish = project_laid.covering().face_finish
    rows = {key: row for row, key in enumerate(project_laid.keys)}
    return jsonify(
        [
            {
                **{k: v for k, v in vars(item).items() if k != "faces"},
                "faces": len(item.faces),
                "open": number not in answered
                and (
                    item.asks
                    or (
                        item.what == "doubtful"
                        and item.was in rows
                        and bool((face_finish[item.faces] != rows[item.was]).any())
                    )
                ),
            }
            for number, item in enumerate(items)
        ]
    )


@bp.get("/projects/<int:project_id>/revision/<int:number>")
def faces(project_id: int, number: int) -> dict[str, list[int]]:
    """The faces of an item of the list."""
    items, *_ = _items(project_id)
    if number >= len(items):
        abort(404, f"the list has no item {number}")
    return {"faces": items[number].faces.tolist()}
