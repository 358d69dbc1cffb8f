"""Projects: the list, opening a file, names, pictures."""

from __future__ import annotations

from flask import Blueprint, Response

from pivrel.core.plain_text import printable
from pivrel.errors import NotFoundError
from pivrel.formats.bundle import FormatError
from pivrel.formats.registry import suffix_of
from pivrel.project.appearance import laid, picture_of
from pivrel.store import archive, blobs, projects
from pivrel.web.context import computing, database
from pivrel.web.state import project_state
from pivrel.web.turns import heavy
from pivrel.web.uploads import download, uploaded_files
from pivrel.web.wire.base import answer, answers, asked
from pivrel.web.wire.project import Created, ProjectCard, Pulse, Renaming

bp = Blueprint("projects", __name__)


@bp.get("/projects")
def list_projects() -> Response:
    """Every project, the one last used first."""
    with database().reading() as db:
        found, counts = projects.get_all(db), projects.finish_counts(db)
    return answers(
        ProjectCard,
        [
            ProjectCard(
                id=p.id,
                name=p.name,
                demo=p.demo,
                revision=p.revision,
                used_at=p.used_at,
                file=p.model.file,
                parts=p.model.parts,
                triangles=p.model.triangles,
                finishes=counts.get(p.id, 0),
            )
            for p in found
        ],
    )


@bp.post("/projects")
@heavy
def open_project_file() -> Response:
    """A project from an uploaded project file, as it was. Models come in by `imports`."""
    named = [file for name, file in uploaded_files().items() if suffix_of(name) == archive.SUFFIX]
    if len(named) != 1:
        raise FormatError(f"there are {len(named)} project files among the files; open one at a time")
    unpacked = archive.unpack(named[0])
    with database().transaction(ahead=unpacked.blobs) as db:
        return answer(Created(id=archive.add(db, unpacked)), 201)


@bp.get("/projects/<int:project_id>/pulse")
def pulse(project_id: int) -> Response:
    """Which state a project is in: told in a moment, whatever else is done."""
    with database().reading() as db:
        found = projects.pulse(db, project_id)
    if found is None:
        raise NotFoundError(f"there is no project {project_id}")
    return answer(Pulse(revision=found[0], aside=found[1]))


@bp.get("/projects/<int:project_id>")
def state(project_id: int) -> Response:
    """A project as the browser sees it."""
    with database().reading() as db:
        project = projects.existing(db, project_id)
        return answer(project_state(db, project, laid(db, computing(), project)))


@bp.patch("/projects/<int:project_id>")
def rename(project_id: int) -> Response:
    """Gives a project another name."""
    wanted = asked(Renaming)
    with database().transaction() as db:
        projects.existing(db, project_id)
        projects.rename(db, project_id, wanted.name)
    return state(project_id)


@bp.delete("/projects/<int:project_id>")
def delete(project_id: int) -> tuple[str, int]:
    """Removes a project."""
    with database().transaction(frees=True) as db:
        projects.existing(db, project_id)
        projects.delete(db, project_id)
    return "", 204


@bp.get("/projects/<int:project_id>/picture.jpg")
def picture(project_id: int) -> Response:
    """A small picture of the model with its finishes."""
    with database().reading() as db:
        data = picture_of(db, computing(), projects.existing(db, project_id))
    response = Response(data, mimetype="image/jpeg")
    # The address carries the revision, so a picture never goes stale.
    response.cache_control.max_age = 86400
    return response


@bp.get("/projects/<int:project_id>/original/<int:number>")
def original(project_id: int, number: int) -> Response:
    """A file of the model, as it came in."""
    with database().reading() as db:
        files = projects.existing(db, project_id).model.files
        if number >= len(files):
            raise NotFoundError(f"the project has no original file {number}")
        data = blobs.get(db, files[number].sha256)
    return download(printable(files[number].name), data, "application/octet-stream")
