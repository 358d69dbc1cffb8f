"""Edits of a project, undo and redo."""

from __future__ import annotations

from collections.abc import Callable

from flask import Blueprint, Response, request

from pivrel.project.editing import carry_out
from pivrel.project.edits.base import AsideEdit
from pivrel.project.laid import LaidProject
from pivrel.store import journal, projects
from pivrel.store.connection import Connection
from pivrel.store.projects import Project
from pivrel.web.arrays import arrays_between
from pivrel.web.context import computing, database, laid_by_id
from pivrel.web.packet import packet
from pivrel.web.state import project_change, project_state
from pivrel.web.wire.base import answer, asked
from pivrel.web.wire.edits import Based, EditRequest

bp = Blueprint("edits", __name__)


@bp.post("/projects/<int:project_id>/edits")
def edit(project_id: int) -> Response:
    """Carries out an edit; the project as it is then, or with "changes" in the query what is otherwise in it."""
    wanted = asked(EditRequest)
    if isinstance(wanted.edit, AsideEdit):
        before = laid_by_id(project_id)
        with database().transaction() as db:
            projects.existing(db, project_id)
            wanted.edit.carry_out(db, project_id)
        return _told(before, laid_by_id(project_id))
    edited = carry_out(database(), computing(), project_id, wanted.revision, wanted.edit)
    return _told(edited.was, (edited.project, edited.laid), edited.said)


@bp.post("/projects/<int:project_id>/undo")
def undo(project_id: int) -> Response:
    """Takes the last edit back; answers as `edit` does."""
    return _stepped(project_id, journal.undo)


@bp.post("/projects/<int:project_id>/redo")
def redo(project_id: int) -> Response:
    """Carries the edit out again that was last taken back; answers as `edit` does."""
    return _stepped(project_id, journal.redo)


def _stepped(project_id: int, step: Callable[[Connection, int, int], str]) -> Response:
    revision = asked(Based).revision
    before = laid_by_id(project_id)
    with database().transaction() as db:
        projects.existing(db, project_id)
        step(db, project_id, revision)
    return _told(before, laid_by_id(project_id))


State = tuple[Project, LaidProject]


def _told(before: State, after: State, said: str | None = None) -> Response:
    """A project after an edit: as a whole, or what is otherwise with the arrays that the view needs to show it."""
    (project, now), (was, then) = after, before
    with database().reading() as db:
        if "changes" not in request.args:
            return answer(project_state(db, project, now, said))
        change = project_change(db, before, after, said)
    same_model = project.mesh == was.mesh
    rows = [finish.key for finish in change.finishes]
    arrays = arrays_between(then.schedule, now.schedule, rows) if same_model else {}
    return packet(change, **arrays)
