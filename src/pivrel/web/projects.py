"""Projects: the list, opening a file, names, pictures."""

from __future__ import annotations

from pathlib import PurePosixPath
from typing import Any

import numpy as np
from flask import Blueprint, Response, jsonify, request
from pydantic import BaseModel, ConfigDict, Field
from werkzeug.datastructures import FileStorage

from pivrel.core.geometry.surface import Surface
from pivrel.formats import MM, READABLE, FormatError, Imported, read_model, suffix_of
from pivrel.formats.bundle import Upload
from pivrel.laid_project import COMPUTING
from pivrel.materials.images import thumbnail
from pivrel.picture import draw
from pivrel.store import archive, blobs, projects
from pivrel.web.context import database, laid, project_or_404, rounded
from pivrel.web.state import project_state

bp = Blueprint("projects", __name__)

OPENED = ", ".join((*READABLE, archive.SUFFIX))


@bp.get("/projects")
def list_projects() -> Response:
    """Every project, the one last used first."""
    with database().reading() as db:
        found = projects.get_all(db)
        schedules = {p.id: projects.contents(db, p.id).finishes for p in found}
    return jsonify(
        [
            {
                "id": p.id,
                "name": p.name,
                "demo": p.demo,
                "revision": p.revision,
                "used_at": p.used_at,
                "file": p.model["file"],
                "parts": p.model["parts"],
                "triangles": p.model["triangles"],
                "finishes": len(schedules[p.id]),
            }
            for p in found
        ]
    )


def _files() -> dict[str, bytes]:
    """The uploaded files by their bare names."""
    files: list[FileStorage] = request.files.getlist("files")
    return {PurePosixPath((f.filename or "").replace("\\", "/")).name: f.read() for f in files}


def _project_file(named: dict[str, bytes]) -> tuple[str, bytes] | None:
    """The project file among the uploaded files, where there is one."""
    return next(((name, data) for name, data in named.items() if suffix_of(name) == archive.SUFFIX), None)


def _model(named: dict[str, bytes]) -> tuple[str, Imported]:
    """The model among the files; its name and what was read. FormatError where it fails."""
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
    unit, up = request.form.get("unit") or None, request.form.get("up") or None
    if unit not in (None, *MM) or up not in (None, "y", "z"):
        raise FormatError("unit and axis must be one of those offered")
    name = models[0]
    try:
        with COMPUTING:
            return name, read_model(name, named[name], Upload(named), unit, up)
    except FormatError as error:
        raise FormatError(f"{name}: {error}") from None


def model_facts(imported: Imported, file: str) -> dict[str, Any]:
    """What a project keeps of its model beside the mesh."""
    return {
        "file": file,
        "unit": imported.unit,
        "up": imported.up,
        "found": list(imported.found),
        "parts": len(imported.mesh.part_names),
        "triangles": int((np.diff(imported.mesh.face_start) - 2).sum()),
    }


@bp.post("/peek")
def peek() -> Response:
    """What a model file holds, before a project is made of it."""
    named = _files()
    packed = _project_file(named)
    if packed:
        stated, mesh, _ = archive.unpack(packed[1])
        facts, guessed, asks = {**stated.model.model_dump(), "file": packed[0]}, False, False
    else:
        name, imported = _model(named)
        mesh, facts = imported.mesh, model_facts(imported, name)
        guessed, asks = imported.guessed, suffix_of(name) == ".obj"
    bounds = mesh.bounds()
    return jsonify(
        {
            **facts,
            "guessed": guessed,
            "asks_unit": asks,
            "faces": mesh.face_count,
            "size_mm": rounded(bounds[1] - bounds[0], 3),
        }
    )


@bp.post("/projects")
def open_file() -> tuple[Response, int]:
    """A new project from an uploaded model, or an uploaded project file as it was."""
    named = _files()
    packed = _project_file(named)
    if packed:
        with database().transaction() as db:
            return jsonify({"id": archive.add(db, packed[1])}), 201
    name, imported = _model(named)
    with database().transaction() as db:
        mesh = blobs.put_mesh(db, imported.mesh)
        stem = PurePosixPath(name).stem
        project_id = projects.create(db, request.form.get("name") or stem, mesh, model_facts(imported, name))
    return jsonify({"id": project_id}), 201


@bp.get("/projects/<int:project_id>")
def state(project_id: int) -> Response:
    """A project as the browser sees it."""
    with database().reading() as db:
        return jsonify(project_state(db, project_or_404(db, project_id)))


class Renaming(BaseModel):
    """A new name."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=200)


@bp.patch("/projects/<int:project_id>")
def rename(project_id: int) -> Response:
    """Gives a project another name."""
    wanted = Renaming.model_validate(request.get_json())
    with database().transaction() as db:
        project_or_404(db, project_id)
        projects.rename(db, project_id, wanted.name)
        return jsonify(project_state(db, project_or_404(db, project_id)))


@bp.delete("/projects/<int:project_id>")
def delete(project_id: int) -> tuple[str, int]:
    """Removes a project."""
    with database().transaction() as db:
        project_or_404(db, project_id)
        projects.delete(db, project_id)
    return "", 204


@bp.get("/projects/<int:project_id>/picture.jpg")
def picture(project_id: int) -> Response:
    """A small picture of the model with its finishes."""
    with database().reading() as db:
        project = project_or_404(db, project_id)
        project_laid = laid(db, project)
        bodies = [d.body for d in project_laid.contents.finishes.values()]
        materials = [project_laid.contents.materials[b["material"]].body for b in bodies]
        images = [blobs.get_images(db, m["images"]).get("base_color") for m in materials]
    with COMPUTING:
        surface: Surface = project_laid.surface
        covering = project_laid.covering()
        st = np.zeros((surface.mesh.corner_count, 2))
        corner_finish = np.repeat(covering.face_finish, np.diff(surface.mesh.face_start))
        for row, key in enumerate(project_laid.keys):
            st[corner_finish == row] = project_laid.laying(key)
        data = draw(
            surface,
            covering.face_finish,
            st,
            [thumbnail(i, 128) if i else None for i in images],
            [tuple(m["repeat_mm"]) for m in materials],
        )
    response = Response(data, mimetype="image/jpeg")
    # The address carries the revision, so a picture never goes stale.
    response.cache_control.max_age = 86400
    return response
