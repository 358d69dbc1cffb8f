"""Replacing a project's model by a newer one, and the list of what that changed."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, Response, abort, jsonify, request

from pivrel.core.geometry.surface import Surface
from pivrel.laid_project import COMPUTING
from pivrel.revision import Item, listed, read_list, revised
from pivrel.store import blobs, journal, projects
from pivrel.web.context import database, laid, project_or_404
from pivrel.web.imports import Opening, imports, keep_files
from pivrel.web.state import project_state

bp = Blueprint("revisions", __name__)


class Revising(Opening):
    """Which import shall take the model's place, and the revision of the project that this is based on."""

    import_id: int
    revision: int


@bp.post("/projects/<int:project_id>/model")
def replace(project_id: int) -> Response:
    """The project with the newer model; one edit, so that undo brings the old one back."""
    asked = Revising.model_validate(request.get_json())
    waiting = imports().get(asked.import_id)
    imported, facts = waiting.model(asked)
    with database().transaction() as db:
        project = project_or_404(db, project_id)
        before = projects.contents(db, project_id)
        with COMPUTING:
            done = revised(before, laid(db, project, before).surface, Surface(imported.mesh))
        keep_files(db, waiting, facts)
        facts["revision"] = blobs.put(db, listed(done.items), "application/json")
        change = journal.model_change(project, blobs.put_mesh(db, imported.mesh), facts)
        changes = [change, *journal.changes_between(before, done.contents)]
        journal.write(db, project_id, asked.revision, f"newer model {waiting.job.asked.name}", changes)
        state = project_state(db, project_or_404(db, project_id))
    imports().drop(asked.import_id)
    return jsonify(state)


def _items(project_id: int) -> tuple[list[Item], Any]:
    """The list of the model in force, and the project laid."""
    with database().reading() as db:
        project = project_or_404(db, project_id)
        kept = project.model.get("revision")
        found = blobs.get(db, kept) if kept else None
        if found is None:
            abort(404, "this model has not taken the place of another")
        return read_list(found[0]), laid(db, project)


@bp.get("/projects/<int:project_id>/revision")
def revision(project_id: int) -> Response:
    """What the newer model changed, item by item; open: whether a doubtful one still waits for an answer."""
    items, project = _items(project_id)
    face_finish = project.covering().face_finish
    rows = {key: row for row, key in enumerate(project.keys)}
    return jsonify(
        [
            {
                **{k: v for k, v in vars(item).items() if k != "faces"},
                "faces": len(item.faces),
                "open": item.what == "doubtful"
                and item.was in rows
                and bool((face_finish[item.faces] != rows[item.was]).any()),
            }
            for item in items
        ]
    )


@bp.get("/projects/<int:project_id>/revision/<int:number>")
def faces(project_id: int, number: int) -> dict[str, list[int]]:
    """The faces of an item of the list."""
    items, _ = _items(project_id)
    if number >= len(items):
        abort(404, f"the list has no item {number}")
    return {"faces": items[number].faces.tolist()}
