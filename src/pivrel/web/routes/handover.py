"""Hand-over: what will be written, what is still wrong with it, and the files."""

from __future__ import annotations

from flask import Blueprint, Response

from pivrel.core.projection import Solved
from pivrel.errors import NotFoundError
from pivrel.formats.convention import Convention
from pivrel.formats.laid import safe_file_name
from pivrel.formats.registry import WRITABLE
from pivrel.formats.zipping import zipped
from pivrel.jobs.aside import LARGE, Aside
from pivrel.jobs.write_model import Target, Writing, written_by
from pivrel.project.appearance import laid, looks_of, source_images
from pivrel.project.laid import LaidProject
from pivrel.project.problems import notes, problems
from pivrel.project.recipe_files import recipe_files
from pivrel.store import archive, blobs, projects
from pivrel.web.context import computing, database, laid_by_id
from pivrel.web.turns import answered_by, heavy, still_wanted
from pivrel.web.uploads import download, download_file
from pivrel.web.wire.base import answer
from pivrel.web.wire.handover import Overview, ProblemState

bp = Blueprint("handover", __name__)


@bp.get("/projects/<int:project_id>/handover")
def overview(project_id: int) -> Response:
    """What is still wrong, and how large the model is that will be written."""
    _, project = laid_by_id(project_id)
    return answer(
        Overview(
            problems=[ProblemState(**vars(problem)) for problem in problems(project.schedule)],
            notes=notes(project.schedule),
            triangles=len(project.surface.triangles),
        )
    )


@bp.get("/projects/<int:project_id>/handover/recipe")
def recipe(project_id: int) -> Response:
    """The recipe with its images as a ZIP, to lay the same from the command line."""
    with database().reading() as db:
        project = projects.existing(db, project_id)
        files = recipe_files(db, project_id)
    return download(
        f"{safe_file_name(project.name)}_recipe.zip",
        zipped(files),
        "application/zip",
    )


@bp.get("/projects/<int:project_id>/handover/project")
@heavy
def project_file(project_id: int) -> Response:
    """The whole project as one file, with its undo history."""
    with database().reading() as db:
        project = projects.existing(db, project_id)
        data = archive.pack(db, project_id)
    return download(f"{safe_file_name(project.name)}{archive.SUFFIX}", data, "application/zip")


@bp.get("/projects/<int:project_id>/handover/<kind>")
@heavy
def files(project_id: int, kind: str) -> Response:
    """The files: a GLB as it is, an OBJ or a glTF with what belongs to it as a ZIP."""
    if f".{kind}" not in WRITABLE:
        raise NotFoundError(f"there is no hand-over as {kind!r}")
    with database().reading() as db:
        project = projects.existing(db, project_id)
        project_laid = laid(db, computing(), project)
        looks, source = looks_of(db, project_laid), source_images(db, project)
        aside = is_written_aside(project_laid)
        mesh = blobs.get(db, project.mesh) if aside else b""
    stem = safe_file_name(project.name)
    target = Target(kind, stem, Convention.of(project.model.unit, project.model.up))
    name, mime = (
        (f"{stem}.glb", "model/gltf-binary") if target.alone else (f"{stem}_{kind}.zip", "application/zip")
    )
    if aside:
        asked = Writing(target, dict(project_laid.schedule.finishes), project_laid.axis_looks(looks), *source)
        job = Aside("files", asked, mesh, target.takes)
        return answered_by(job, lambda: download_file(name, written_by(job), mime), still_wanted)
    with computing().long_work():
        model = project_laid.as_written(looks, *source)
    return download(name, target.written(model), mime)


def is_written_aside(project: LaidProject) -> bool:
    """Whether a process of its own writes the files: of a large model of which nothing would be solved anew there."""
    solved = any(isinstance(finish.projection, Solved) for finish in project.schedule.finishes.values())
    return len(project.surface.triangles) > LARGE and not solved
