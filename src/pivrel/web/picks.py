"""Picking: the pick in hand, changed by a click, a figure or a word."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from flask import Blueprint, Response, abort, jsonify, request
from pydantic import Field

from pivrel.computing import COMPUTING
from pivrel.core import alike, picks
from pivrel.core.arrays import Ints, Mask
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.patches import CREASE_DEG
from pivrel.core.picks import Pick
from pivrel.core.visibility import Eye, look, within
from pivrel.laid_project import LaidProject
from pivrel.recipe import Pair, PickModel, Triple, pick_json
from pivrel.store.bodies import ClipBody
from pivrel.web.asked import Asked
from pivrel.web.context import laid_by_id
from pivrel.web.state import view_origin
from pivrel.web.words import pick_in_words

bp = Blueprint("picks", __name__)


Level = Literal[
    "face", "patch", "part", "plane", "facing", "surface", "ring", "shape", "element", "storey", "source"
]


class Clicked(Asked):
    """The face under the pointer, and what of the model it stands for.

    place: of the click, in mm; a ring goes over the edge nearest to it. angle_deg: for "facing".
    """

    face: int
    level: Level
    place: Triple | None = None
    crease_deg: Annotated[float, Field(gt=0, le=180)] = CREASE_DEG
    angle_deg: Annotated[float, Field(ge=0, le=180)] = 20.0


Entry = Annotated[float, Field(ge=-1e15, le=1e15)]
"""Of the eye's matrix. A view of the whole reach of a model stays below."""


class EyeModel(Asked):
    """Where the view's eye stands; matrix: column by column, from the view's coordinates to clip space."""

    matrix: Annotated[list[Entry], Field(min_length=16, max_length=16)]
    size: tuple[Annotated[int, Field(ge=1, le=4096)], Annotated[int, Field(ge=1, le=4096)]]
    clip: ClipBody | None = None
    hidden: PickModel | None = None

    def to_core(self, laid: LaidProject) -> tuple[Eye, Mask]:
        """The eye in model coordinates, and which faces are drawn at all."""
        surface = laid.surface
        matrix = np.array(self.matrix).reshape(4, 4).T
        try:
            np.linalg.inv(matrix)
            if matrix[3, :3].any():
                # Where the lines of sight meet.
                np.linalg.inv(matrix[[0, 1, 3], :3])
        except np.linalg.LinAlgError:
            abort(422, "the eye's matrix shows nothing")
        matrix[:, 3] -= matrix[:, :3] @ view_origin(surface.bounds)
        drawn = np.ones(surface.mesh.face_count, bool)
        if self.hidden:
            drawn = ~picks.resolve(self.hidden.to_core(), surface)
        return Eye(matrix, self.size, self.clip.plane() if self.clip else None), drawn


class Region(Asked):
    """An outline over the view in pixels. through: behind other faces too; whole: faces wholly within."""

    outline: Annotated[list[Pair], Field(min_length=3, max_length=4000)]
    eye: EyeModel
    through: bool = False
    whole: bool = False
    level: Literal["face", "patch", "part"] = "face"
    crease_deg: Annotated[float, Field(gt=0, le=180)] = CREASE_DEG


class Figure(Asked):
    """The faces behind a figure: of one finish, or the bare ones."""

    figure: Literal["bare", "covered", "untrue", "smeared", "mirrored", "seams"]
    finish: str | None = None


class PickRequest(Asked):
    """How the pick in hand changes; "keep" leaves what is in both. Some ways need nothing beside them."""

    base: PickModel | None = None
    how: Literal["replace", "add", "remove", "keep", "all", "none", "invert", "grow", "shrink"]
    clicked: Clicked | None = None
    region: Region | None = None
    figure: Figure | None = None
    pick: PickModel | None = None


def _clicked(laid: LaidProject, clicked: Clicked) -> Pick:
    surface, mesh = laid.surface, laid.surface.mesh
    face = clicked.face
    if not 0 <= face < mesh.face_count:
        abort(422, f"face {face} does not exist")
    part = int(mesh.face_part[face])
    match clicked.level:
        case "face":
            return picks.Faces((face,))
        case "part":
            return _parts(mesh, [part])
        case "patch":
            return _patches(laid, np.array([face]), clicked.crease_deg)
        case "plane":
            return _by_faces(alike.coplanar(surface, face))
        case "ring":
            near = np.array(clicked.place) if clicked.place else surface.centroids[face]
            return _by_faces(alike.ring(surface, face, near))
        case "surface":
            return picks.Patches(tuple(alike.same_exact_surface(surface, face).tolist()))
        case "shape":
            return _parts(mesh, alike.copies(surface, part).tolist())
        case "facing":
            normal = surface.normals[face]
            if not normal.any():
                abort(422, f"face {face} has no area, so it looks nowhere")
            x, y, z = np.round(normal / np.linalg.norm(normal), 6) + 0.0
            return picks.Every(
                (_parts(mesh, [part]), picks.Facing((float(x), float(y), float(z)), clicked.angle_deg))
            )
        case "element":
            return picks.Elements((_stated(mesh.part_elements, part, "type of element"),))
        case "storey":
            return picks.Storeys((_stated(mesh.part_storeys, part, "storey"),))
        case "source":
            source = -1 if mesh.face_source is None else int(mesh.face_source[face])
            names = [s.name for s in mesh.sources]
            return picks.Sources((_stated(names, source, "material"),))


def _stated(names: Sequence[str], at: int, what: str) -> str:
    """What the file says of a part or face, as a glob that matches just that."""
    if not 0 <= at < len(names) or not names[at]:
        abort(422, f"the model file states no {what} there")
    return picks.exactly(names[at])


def _parts(mesh: Mesh, parts: Sequence[int]) -> Pick:
    return picks.Parts(tuple(picks.exactly(mesh.part_names[part]) for part in parts))


def _patches(laid: LaidProject, faces: Ints, crease_deg: float) -> Pick:
    """The whole patches of these faces."""
    patches = laid.surface.patches(crease_deg)
    wanted = np.unique(patches[faces])
    if crease_deg == CREASE_DEG:
        return picks.Patches(tuple(wanted.tolist()))
    # Patch ids of a rule are those at 30 degrees; at another angle the faces are named.
    return _by_faces(np.isin(patches, wanted))


def _region(laid: LaidProject, region: Region) -> Pick:
    eye, drawn = region.eye.to_core(laid)
    outline = np.array(region.outline, float)
    found = picks.as_faces(within(laid.surface, eye, outline, drawn, region.through, region.whole))
    mesh = laid.surface.mesh
    if not len(found) or region.level == "face":
        return picks.by_ids(found)
    if region.level == "part":
        return _parts(mesh, np.unique(mesh.face_part[found]).tolist())
    return _patches(laid, found, region.crease_deg)


def _by_faces(mask: Mask) -> Pick:
    return picks.by_ids(picks.as_faces(mask))


def _figure(laid: LaidProject, figure: Figure) -> Pick:
    if figure.figure == "bare":
        return picks.by_ids(laid.bare())
    if figure.finish not in laid.contents.finishes:
        abort(404, f"the schedule has no finish {figure.finish}")
    if figure.figure == "covered":
        return laid.finish(figure.finish).pick
    figures = laid.figures(figure.finish)
    faces = {
        "untrue": figures.untrue_faces,
        "smeared": figures.smeared_faces,
        "mirrored": figures.mirrored_faces,
        "seams": figures.seam_faces,
    }[figure.figure]
    return picks.by_ids(faces)


def _changed(laid: LaidProject, asked: PickRequest) -> Pick:
    base = asked.base.to_core() if asked.base else picks.NOTHING
    match asked.how:
        case "all":
            return picks.All()
        case "none":
            return picks.NOTHING
        case "invert":
            return picks.inverted(base)
        case "grow" | "shrink":
            change = picks.grown if asked.how == "grow" else picks.shrunk
            return _by_faces(change(picks.resolve(base, laid.surface), laid.surface))
    if asked.clicked:
        more = _clicked(laid, asked.clicked)
    elif asked.region:
        more = _region(laid, asked.region)
    elif asked.figure:
        more = _figure(laid, asked.figure)
    elif asked.pick:
        more = asked.pick.to_core()
    else:
        abort(422, "nothing was named to pick")
    ways = {"add": picks.added, "remove": picks.removed, "keep": picks.kept}
    return ways[asked.how](base, more) if asked.how in ways else more


@bp.post("/projects/<int:project_id>/pick")
def pick(project_id: int) -> Response:
    """The pick after a change: as a rule, in words, with its figures and its faces.

    mask: base64 of one bit a face, the lowest bit first.
    """
    asked = PickRequest.model_validate(request.get_json())
    _, laid = laid_by_id(project_id)
    with COMPUTING:
        chosen = _changed(laid, asked)
        mask = picks.resolve(chosen, laid.surface)
        area = float(laid.surface.face_areas[mask].sum()) / 1e6
    if not mask.any():
        chosen = picks.NOTHING
    stated = pick_json(chosen)
    return jsonify(
        {
            "pick": stated,
            "words": pick_in_words(stated),
            "faces": int(mask.sum()),
            "parts": len(np.unique(laid.surface.mesh.face_part[mask])),
            "area_m2": area,
            "mask": base64.b64encode(np.packbits(mask, bitorder="little").tobytes()).decode(),
        }
    )


class UnseenRequest(Asked):
    """How much of a pick does not show from where the eye stands."""

    pick: PickModel
    eye: EyeModel


@bp.post("/projects/<int:project_id>/unseen")
def unseen(project_id: int) -> Response:
    """The faces of a pick of which nothing shows, and their area."""
    asked = UnseenRequest.model_validate(request.get_json())
    _, laid = laid_by_id(project_id)
    with COMPUTING:
        eye, drawn = asked.eye.to_core(laid)
        mask = picks.resolve(asked.pick.to_core(), laid.surface)
        hidden = mask & ~look(laid.surface, eye, drawn).seen
        area = float(laid.surface.face_areas[hidden].sum()) / 1e6
    return jsonify({"faces": int(hidden.sum()), "area_m2": area})
