"""What every request needs: the database, one project of it, and that project laid."""

from __future__ import annotations

import sqlite3
from typing import Any

from flask import abort, current_app

from pivrel.formats.laid import Look, upright_normal
from pivrel.laid_project import LaidProject, surface_of
from pivrel.materials.checker import checker_for
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.projects import Contents, Project


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


def laid(db: sqlite3.Connection, project: Project, contents: Contents | None = None) -> LaidProject:
    """A project's finishes on its surface, as they are now or with other contents."""
    surface = surface_of(project.mesh, lambda: blobs.get_mesh(db, project.mesh))
    return LaidProject(project.mesh, surface, contents or projects.contents(db, project.id))


def laid_by_id(project_id: int) -> tuple[Project, LaidProject]:
    """A project and its finishes laid."""
    with database().reading() as db:
        project = project_or_404(db, project_id)
        return project, laid(db, project)


def rounded(values: Any, places: int = 6) -> list[float]:
    """Numbers as JSON shows them."""
    return [round(float(v), places) for v in values]


def looks_of(db: sqlite3.Connection, project: LaidProject) -> dict[str, Look]:
    """How each material of a project looks; a checker where it has no images."""
    looks = {}
    for key, document in project.contents.materials.items():
        body = document.body
        images = upright_normal(blobs.get_images(db, body["images"]), body.get("normal_y", "+"))
        looks[key] = Look(images or {"base_color": checker_for(tuple(body["repeat_mm"]))}, body["metallic"])
    return looks
