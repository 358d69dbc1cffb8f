"""Hand-over: what will be written, what is still wrong with it, and the files."""

from __future__ import annotations

from flask import Blueprint, Response

from pivrel.errors import NotFoundError
from pivrel.formats.laid import safe_file_name
from pivrel.formats.registry import WRITABLE, writable
from pivrel.formats.units import Convention
from pivrel.formats.zipping import zipped
from pivrel.project.appearance import laid, looks_of, source_images
from pivrel.project.problems import notes, problems
from pivrel.project.recipe_files import recipe_files
from pivrel.store import archive, projects
from pivrel.web.context import computing, database, laid_by_id
from pivrel.web.turns import heavy
from pivrel.web.uploads import download
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
    with computing().long_work():
        model = project_laid.as_written(looks, *source)
    stem = safe_file_name(project.name)
    convention = Convention.of(project.model.unit, project.model.up)
    written = writable(f".{kind}").write(model, stem, convention)
    if len(written) == 1 and kind == "glb":
        return download(f"{stem}.glb", written[f"{stem}.glb"], "model/gltf-binary")
    return download(f"{stem}_{kind}.zip", zipped(written), "application/zip")
