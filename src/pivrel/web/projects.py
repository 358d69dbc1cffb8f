"""Projects: the list, opening a file, names, pictures."""

from __future__ import annotations

import re
from pathlib import PurePosixPath
from typing import Any

import numpy as np
from flask import Blueprint, Response, abort, jsonify, request
from pydantic import BaseModel, ConfigDict, Field
from werkzeug.datastructures import FileStorage

from pivrel.formats import FormatError, Imported, suffix_of
from pivrel.project_looks import picture_of
from pivrel.store import archive, blobs, projects
from pivrel.web.context import database, project_or_404
from pivrel.web.state import project_state
from pivrel.web.turns import heavy

bp = Blueprint("projects", __name__)

MAX_NAME = 255
"""Bytes of a file's name on the common file systems."""


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


def uploaded() -> dict[str, bytes]:
    """The uploaded files by their bare names. FormatError for a name that no file can have."""
    files: list[FileStorage] = request.files.getlist("files")
    out: dict[str, bytes] = {}
    for file in files:
        name = bare_name(file.filename or "")
        if name in out:
            raise FormatError(f"two of the files are called {name!r}; give one of them another name")
        out[name] = file.read()
    return out


def bare_name(path: str) -> str:
    """The name of a file without its folders. FormatError where there is none, or one that no disk keeps."""
    name = PurePosixPath(path.replace("\\", "/")).name
    if not name.strip(". ") or any(ord(c) < 32 for c in name):
        raise FormatError(f"a file has no name that can be used ({path[:80]!r}); give it one")
    try:
        size = len(name.encode())
    except UnicodeEncodeError:
        raise FormatError("the name of a file holds signs that are no text; give it another") from None
    if size > MAX_NAME:
        raise FormatError(
            f"the name {name[:60]!r}… is longer than {MAX_NAME} bytes; give the file a shorter one"
        )
    return name


def model_facts(imported: Imported, file: str) -> dict[str, Any]:
    """What a project keeps of its model beside the mesh, but for the original files."""
    return {
        "file": file,
        "unit": imported.unit,
        "up": imported.up,
        "found": list(imported.found),
        "parts": len(imported.mesh.part_names),
        "triangles": int((np.diff(imported.mesh.face_start) - 2).sum()),
        "tolerance_mm": imported.tolerance_mm,
    }


@bp.post("/projects")
@heavy
def open_project_file() -> tuple[Response, int]:
    """A project from an uploaded project file, as it was. Models come in by `imports`."""
    named = [data for name, data in uploaded().items() if suffix_of(name) == archive.SUFFIX]
    if len(named) != 1:
        raise FormatError(f"there are {len(named)} project files among the files; open one at a time")
    unpacked = archive.unpack(named[0])
    with database().transaction() as db:
        return jsonify({"id": archive.add(db, unpacked)}), 201


@bp.get("/projects/<int:project_id>/pulse")
def pulse(project_id: int) -> dict[str, int]:
    """Which state a project is in, for pages that follow each other: told in a moment, whatever else is done."""
    with database().reading() as db:
        row = db.execute("SELECT revision, aside FROM project WHERE id = ?", (project_id,)).fetchone()
    if row is None:
        abort(404, f"there is no project {project_id}")
    return {"revision": row["revision"], "aside": row["aside"]}


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
        data = picture_of(db, project)
    response = Response(data, mimetype="image/jpeg")
    # The address carries the revision, so a picture never goes stale.
    response.cache_control.max_age = 86400
    return response


@bp.get("/projects/<int:project_id>/original/<int:number>")
def original(project_id: int, number: int) -> Response:
    """A file of the model, as it came in."""
    with database().reading() as db:
        files = project_or_404(db, project_id).model.get("files", [])
        if number >= len(files):
            abort(404, f"the project has no original file {number}")
        data = blobs.get(db, files[number]["sha256"])
    # A line break within a header would end it.
    name = re.sub(r"[\x00-\x1f\x7f]", "_", files[number]["name"])
    response = Response(data, mimetype="application/octet-stream")
    response.headers.set("Content-Disposition", "attachment", filename=name)
    return response
