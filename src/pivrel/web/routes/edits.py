"""Edits of a project, undo and redo."""

from __future__ import annotations

from collections.abc import Callable

from flask import Blueprint, Response

from pivrel.project.appearance import laid
from pivrel.project.editing import carry_out
from pivrel.project.edits.base import AsideEdit
from pivrel.store import journal, projects
from pivrel.store.connection import Connection
from pivrel.web.context import computing, database
from pivrel.web.state import project_state
from pivrel.web.wire.base import answer, asked
from pivrel.web.wire.edits import Based, EditRequest

bp = Blueprint("edits", __name__)


@bp.post("/projects/<int:project_id>/edits")
def edit(project_id: int) -> Response:
    """Carries out an edit; the project as it is then."""
    wanted = asked(EditRequest)
    if isinstance(wanted.edit, AsideEdit):
        with database().transaction() as db:
            projects.existing(db, project_id)
            wanted.edit.carry_out(db, project_id)
        return _state_of(project_id)
    edited = carry_out(database(), computing(), project_id, wanted.revision, wanted.edit)
    with database().reading() as db:
        return answer(project_state(db, edited.project, edited.laid, edited.said))


@bp.post("/projects/<int:project_id>/undo")
def undo(project_id: int) -> Response:
    """Takes the last edit back."""
    return _stepped(project_id, journal.undo)


@bp.post("/projects/<int:project_id>/redo")
def redo(project_id: int) -> Response:
    """Carries the edit out again that was last taken back."""
    return _stepped(project_id, journal.redo)


def _stepped(project_id: int, step: Callable[[Connection, int, int], str]) -> Response:
    revision = asked(Based).revision
    with database().transaction() as db:
        projects.existing(db, project_id)
        step(db, project_id, revision)
    return _state_of(project_id)


def _state_of(project_id: int) -> Response:
    with database().reading() as db:
        project = projects.existing(db, project_id)
        return answer(project_state(db, project, laid(db, computing(), project)))
