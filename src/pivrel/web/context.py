"""What every request needs: the database, one project of it, and that project laid."""

from __future__ import annotations

import sqlite3
from typing import Any

from flask import abort, current_app

from pivrel.laid_project import LaidProject
from pivrel.project_looks import laid
from pivrel.store import projects
from pivrel.store.database import Database
from pivrel.store.projects import Project


def database() -> Database:
    """The application's database."""
    found: Database = current_app.extensions["pivrel"]
    return found


def project_or_404(db: sqlite3.Connection, project_id: int) -> Project:
    """A project, or a 404 that says so."""
    project = projects.get(db, project_id)
    if project is None:
        abort(404, f"there is no project {project_id}")
    return project


def laid_by_id(project_id: int) -> tuple[Project, LaidProject]:
    """A project and its finishes laid."""
    with database().reading() as db:
        project = project_or_404(db, project_id)
        return project, laid(db, project)


def rounded(values: Any, places: int = 6) -> list[float]:
    """Numbers as JSON shows them."""
    return [round(float(v), places) for v in values]
