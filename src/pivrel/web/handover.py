"""Hand-over: what will be written, what is still wrong with it, and the files."""

from __future__ import annotations

import json

from flask import Blueprint, Response, abort, jsonify

from pivrel.computing import long_work
from pivrel.core.projection import Triplanar
from pivrel.formats import Convention
from pivrel.formats.handover import handover_files, zipped
from pivrel.formats.laid import safe_file_name
from pivrel.laid_project import LaidProject
from pivrel.project_looks import laid, looks_of, source_images
from pivrel.recipe import MaterialModel, read_recipe, with_ids
from pivrel.store import archive, blobs, projects
from pivrel.web.context import database, laid_by_id, project_or_404
from pivrel.web.turns import heavy

bp = Blueprint("handover", __name__)

FAR = 0.8
"""A finish of which less is true to scale is worth a line."""

SMALLEST_M2, SMALLEST_M = 0.00005, 0.0005
"""Below these a figure shows as zero and is not worth a line."""


def _problems(project: LaidProject) -> list[dict[str, object]]:
    """What an artist would want to know before handing over, worst kind first."""
    out: list[dict[str, object]] = []
    bare = project.shown_areas()[1]
    if bare > SMALLEST_M2:
        out.append(
            {
                "what": "bare",
                "finish": None,
                "amount": bare,
                "unit": "m²",
                "text": "has no finish; it is written with the materials that it came with",
                "fix": "Pick the bare faces and lay a material on them, or leave them on purpose.",
            }
        )
    rows = (
        ("smeared", "smeared_m2", SMALLEST_M2, "m²", "is smeared: the projection meets it nearly edge-on",
         "Lay those faces by box, or by a planar projection of their own."),
        ("mirrored", "mirrored_m2", SMALLEST_M2, "m²", "shows the material mirrored",
         "Set backs to unmirrored, or lay those faces by box."),
        ("seams", "seams_m", SMALLEST_M, "m", "of edges where the pattern does not run on",
         "Shift or turn the sheet, or leave them where a joint is expected."),
    )  # fmt: skip
    for what, figure, smallest, unit, text, fix in rows:
        if what == "seams":
            # Joints at corners are often meant; what is far from true hardly ever is.
            out += _untrue(project)
        for key in project.keys:
            amount = getattr(project.figures(key), figure)
            if amount > smallest:
                out.append(
                    {"what": what, "finish": key, "amount": amount, "unit": unit, "text": text, "fix": fix}
                )
    for key in project.keys:
        if not len(project.drawn(key)):
            held = bool(len(project.held(key)))
            why = "later rows cover all of its pick" if held else "its pick holds no face of this model"
            out.append(
                {
                    "what": "covered",
                    "finish": key,
                    "amount": 0,
                    "unit": "",
                    "text": f"covers no face: {why}; it is left out of the files",
                    "fix": "Remove it, or move it down the schedule."
                    if held
                    else "Pick its faces anew, or remove it.",
                }
            )
    return out


def _untrue(project: LaidProject) -> list[dict[str, object]]:
    """The finishes that are far from true to scale."""
    out: list[dict[str, object]] = []
    for key in project.keys:
        true = project.figures(key).true_share
        if len(project.drawn(key)) and true < FAR:
            out.append(
                {
                    "what": "untrue",
                    "finish": key,
                    "amount": true * 100,
                    "unit": "%",
                    "text": "of it is true to scale within 5 %: on the rest the pattern is squeezed or stretched",
                    "fix": "Try all projections on it, or divide it and lay each part by its own.",
                }
            )
    return out


@bp.get("/projects/<int:project_id>/handover")
def overview(project_id: int) -> Response:
    """What is still wrong, and how large the model is that will be written."""
    _, project = laid_by_id(project_id)
    return jsonify(
        {
            "problems": _problems(project),
            "notes": _notes(project),
            "triangles": len(project.surface.triangles),
        }
    )


def _notes(project: LaidProject) -> list[str]:
    """What no file can hold as the view shows it."""
    out = []
    for key in project.keys:
        finish = project.finish(key)
        if isinstance(finish.projection, Triplanar):
            out.append(f"{key} {finish.name}: files do not blend; each face takes its strongest axis")
        if not finish.tile:
            out.append(f"{key} {finish.name}: the faces are cut along the single sheet's outline")
        joints = project.figures(key).joints_m
        if joints > SMALLEST_M:
            out.append(
                f"{key} {finish.name}: at {joints:.2f} m of edges the joints run on, but the image is another"
            )
    return out


@bp.get("/projects/<int:project_id>/handover/recipe")
def recipe(project_id: int) -> Response:
    """The recipe with its images as a ZIP, to lay the same from the command line."""
    with database().reading() as db:
        project = project_or_404(db, project_id)
        contents = projects.contents(db, project_id)
        files: dict[str, bytes] = {}
        materials = {}
        for key, document in contents.materials.items():
            names = {}
            for channel, image in blobs.get_images(db, document.body["images"]).items():
                names[channel] = f"{safe_file_name(key)}_{channel}{image.suffix}"
                files[names[channel]] = image.data
            body = document.body
            stated = {k: body[k] for k in MaterialModel.model_fields if k in body}
            materials[key] = {**stated, "grain_deg": body["grain_deg"] or 0.0, "images": names}
    finishes = [{k: v for k, v in d.body.items() if v is not None} for d in contents.finishes.values()]
    text = json.dumps({"recipe": 1, "materials": materials, "finishes": with_ids(finishes)}, indent=1)
    read_recipe(text)
    return download(
        f"{safe_file_name(project.name)}_recipe.zip",
        zipped({"recipe.json": text.encode(), **files}),
        "application/zip",
    )


@bp.get("/projects/<int:project_id>/handover/project")
@heavy
def project_file(project_id: int) -> Response:
    """The whole project as one file, with its undo history."""
    with database().reading() as db:
        project = project_or_404(db, project_id)
        data = archive.pack(db, project_id)
    return download(f"{safe_file_name(project.name)}{archive.SUFFIX}", data, "application/zip")


@bp.get("/projects/<int:project_id>/handover/<kind>")
@heavy
def files(project_id: int, kind: str) -> Response:
    """The files: a GLB as it is, an OBJ or a glTF with what belongs to it as a ZIP."""
    if kind not in ("glb", "gltf", "obj"):
        abort(404, f"there is no hand-over as {kind!r}")
    with database().reading() as db:
        project = project_or_404(db, project_id)
        project_laid = laid(db, project)
        looks, source = looks_of(db, project_laid), source_images(db, project)
    with long_work():
        model = project_laid.as_written(looks, *source)
    stem = safe_file_name(project.name)
    convention = Convention.of(project.model["unit"], project.model["up"])
    written = handover_files(model, f".{kind}", stem, convention)
    if kind == "glb":
        name, data, mime = f"{stem}.glb", written[f"{stem}.glb"], "model/gltf-binary"
    else:
        name, data, mime = f"{stem}_{kind}.zip", zipped(written), "application/zip"
    return download(name, data, mime)


def download(name: str, data: bytes, mime: str) -> Response:
    """A file for the browser to keep."""
    response = Response(data, mimetype=mime)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
