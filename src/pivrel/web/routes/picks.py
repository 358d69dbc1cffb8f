"""Picking: the pick in hand, changed by a click, a figure or a word."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from typing import Literal, assert_never

import numpy as np
from flask import Blueprint, Response

from pivrel.core import picks
from pivrel.core.arrays import Ints, Mask, distinct
from pivrel.core.content_key import content_key
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.patches import CREASE_DEG
from pivrel.core.laying import BARE
from pivrel.core.measure.figures import Figures
from pivrel.core.picks import Pick, similar_faces
from pivrel.core.view.eye import Eye
from pivrel.core.view.outline import within
from pivrel.core.view.sight import Sight, look
from pivrel.errors import InputError, NotFoundError
from pivrel.project.laid import LaidProject
from pivrel.recipe import pick_model
from pivrel.recipe.pick_phrases import pick_phrase
from pivrel.web.context import computing, known_finish, laid_by_id
from pivrel.web.lying import what_lies
from pivrel.web.state import view_origin
from pivrel.web.wire.base import answer, asked
from pivrel.web.wire.picking import (
    Clicked,
    EyeModel,
    FigurePicked,
    Picked,
    PickRequest,
    Region,
    UnseenFaces,
    UnseenRequest,
)

bp = Blueprint("picks", __name__)


def _eye(asked: EyeModel, laid: LaidProject) -> tuple[Eye, Mask]:
    """The eye in model coordinates, and which faces are drawn at all."""
    surface = laid.surface
    matrix = np.array(asked.matrix).reshape(4, 4).T
    try:
        np.linalg.inv(matrix)
        if matrix[3, :3].any():
            # Where the lines of sight meet.
            np.linalg.inv(matrix[[0, 1, 3], :3])
    except np.linalg.LinAlgError:
        raise InputError("the eye's matrix shows nothing") from None
    matrix[:, 3] -= matrix[:, :3] @ view_origin(surface.bounds)
    drawn = np.ones(surface.mesh.face_count, bool)
    if asked.hidden:
        drawn = ~picks.resolve(asked.hidden.to_core(), surface)
    return Eye(matrix, asked.size, asked.clip.plane() if asked.clip else None), drawn


def _sight(asked: EyeModel, laid: LaidProject, eye: Eye, drawn: Mask) -> Sight:
    """What the eye sees; kept, for as long as somebody looks from there several picks are made."""
    key = content_key("sight", laid.mesh, asked.model_dump_json())
    return computing().get(
        "sights",
        key,
        lambda: look(laid.surface, eye, drawn),
        lambda found: found.nbytes,
        f"sight {laid.mesh}",
    )


def _clicked(laid: LaidProject, clicked: Clicked) -> Pick:
    surface, mesh = laid.surface, laid.surface.mesh
    face = clicked.face
    if not 0 <= face < mesh.face_count:
        raise InputError(f"face {face} does not exist")
    part = int(mesh.face_part[face])
    match clicked.level:
        case "face":
            return picks.Faces((face,))
        case "part":
            return _parts(mesh, [part])
        case "patch":
            return _patches(laid, np.array([face]), clicked.crease_deg)
        case "plane":
            return _by_faces(similar_faces.coplanar(surface, face))
        case "ring":
            near = np.array(clicked.place) if clicked.place else surface.centroids[face]
            return _by_faces(similar_faces.ring(surface, face, near))
        case "surface":
            return picks.Patches(tuple(similar_faces.same_exact_surface(surface, face).tolist()))
        case "shape":
            return _parts(mesh, similar_faces.copies(surface, part).tolist())
        case "facing":
            normal = surface.normals[face]
            if not normal.any():
                raise InputError(f"face {face} has no area, so it looks nowhere")
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
        raise InputError(f"the model file states no {what} there")
    return picks.exactly(names[at])


def _parts(mesh: Mesh, parts: Sequence[int]) -> Pick:
    return picks.Parts(tuple(picks.exactly(mesh.part_names[part]) for part in parts))


def _patches(laid: LaidProject, faces: Ints, crease_deg: float) -> Pick:
    """The whole patches of these faces."""
    patches = laid.surface.patches(crease_deg)
    wanted = distinct(patches[faces])
    if crease_deg == CREASE_DEG:
        return picks.Patches(tuple(wanted.tolist()))
    # Patch ids of a rule are those at 30 degrees; at another angle the faces are named.
    return _by_faces(np.isin(patches, wanted))


def _region(laid: LaidProject, region: Region) -> Pick:
    eye, drawn = _eye(region.eye, laid)
    outline = np.array(region.outline, float)
    sight = None if region.through else _sight(region.eye, laid, eye, drawn)
    found = picks.as_faces(within(laid.surface, eye, outline, drawn, region.through, region.whole, sight))
    mesh = laid.surface.mesh
    if not len(found) or region.level == "face":
        return picks.by_ids(found)
    if region.level == "part":
        return _parts(mesh, distinct(mesh.face_part[found]).tolist())
    return _patches(laid, found, region.crease_deg)


def _by_faces(mask: Mask) -> Pick:
    return picks.by_ids(picks.as_faces(mask))


def _figure(laid: LaidProject, figure: FigurePicked) -> Pick:
    schedule = laid.schedule
    if figure.figure == "bare":
        return picks.by_ids(schedule.bare())
    if figure.finish is not None:
        known_finish(laid, figure.finish)
    if figure.figure == "adjusted":
        return _adjusted(laid, figure)
    if figure.figure == "covered":
        if figure.finish is not None:
            return laid.finish(figure.finish).pick
        return _by_faces(schedule.covering().face_finish != BARE)
    measured = (
        schedule.of_each(schedule.figures).values()
        if figure.finish is None
        else [schedule.figures(figure.finish)]
    )
    found = [_measured(figures, figure.figure) for figures in measured]
    return picks.by_ids(distinct(np.concatenate([np.empty(0, np.int32), *found])))


def _adjusted(laid: LaidProject, figure: FigurePicked) -> Pick:
    """The faces of one adjustment of a finish, or of all of them."""
    if figure.finish is None:
        raise InputError("adjusted faces are those of one finish; name it")
    adjust = laid.finish(figure.finish).adjust
    if figure.row is not None and figure.row >= len(adjust):
        raise NotFoundError(f"{figure.finish} has no adjustment {figure.row + 1}")
    wanted = adjust if figure.row is None else [adjust[figure.row]]
    return picks.AnyOf(tuple(a.pick for a in wanted)) if len(wanted) != 1 else wanted[0].pick


def _measured(figures: Figures, figure: Literal["untrue", "smeared", "mirrored", "seams"]) -> Ints:
    """The faces behind a figure that is measured."""
    match figure:
        case "untrue":
            return figures.untrue_faces
        case "smeared":
            return figures.smeared_faces
        case "mirrored":
            return figures.mirrored_faces
        case "seams":
            return figures.seam_faces
        case _:
            assert_never(figure)


def _changed(laid: LaidProject, wanted: PickRequest) -> Pick:
    base = wanted.base.to_core() if wanted.base else picks.NOTHING
    match wanted.how:
        case "all":
            return picks.All()
        case "none":
            return picks.NOTHING
        case "invert":
            return picks.inverted(base)
        case "largest":
            return picks.Patches(tuple(picks.largest_patches(laid.surface).tolist()))
        case "grow" | "shrink":
            change = picks.grown if wanted.how == "grow" else picks.shrunk
            return _by_faces(change(picks.resolve(base, laid.surface), laid.surface))
    if wanted.clicked:
        more = _clicked(laid, wanted.clicked)
    elif wanted.region:
        more = _region(laid, wanted.region)
    elif wanted.figure:
        more = _figure(laid, wanted.figure)
    elif wanted.pick:
        more = wanted.pick.to_core()
    else:
        raise InputError("nothing was named to pick")
    ways = {"add": picks.added, "remove": picks.removed, "keep": picks.shared}
    return ways[wanted.how](base, more) if wanted.how in ways else more


@bp.post("/projects/<int:project_id>/pick")
def pick(project_id: int) -> Response:
    """The pick after a change: as a rule, in words, with its figures and its faces."""
    wanted = asked(PickRequest)
    _, laid = laid_by_id(project_id)
    with computing().short:
        chosen = _changed(laid, wanted)
        mask = picks.resolve(chosen, laid.surface)
        area = float(laid.surface.face_areas[mask].sum()) / 1e6
        lies = what_lies(laid, picks.as_faces(mask))
    stated = pick_model(chosen if mask.any() else picks.NOTHING)
    return answer(
        Picked(
            pick=stated,
            words=pick_phrase(stated),
            faces=int(mask.sum()),
            parts=int(np.count_nonzero(np.bincount(laid.surface.mesh.face_part[mask]))),
            area_m2=area,
            mask=base64.b64encode(np.packbits(mask, bitorder="little").tobytes()).decode(),
            lies=lies,
        )
    )


@bp.post("/projects/<int:project_id>/unseen")
def unseen(project_id: int) -> Response:
    """The faces of a pick of which nothing shows, and their area."""
    wanted = asked(UnseenRequest)
    _, laid = laid_by_id(project_id)
    with computing().short:
        eye, drawn = _eye(wanted.eye, laid)
        mask = picks.resolve(wanted.pick.to_core(), laid.surface)
        hidden = mask & ~_sight(wanted.eye, laid, eye, drawn).seen
        area = float(laid.surface.face_areas[hidden].sum()) / 1e6
    return answer(UnseenFaces(faces=int(hidden.sum()), area_m2=area))
