"""Picking: the pick in hand, changed by a click, a figure or a word."""

from __future__ import annotations

import base64
import glob
from typing import Annotated, Literal

import numpy as np
from flask import Blueprint, Response, abort, jsonify, request
from pydantic import BaseModel, ConfigDict, Field

from pivrel.core import picks
from pivrel.core.arrays import Mask
from pivrel.core.geometry.patches import CREASE_DEG
from pivrel.core.picks import Pick
from pivrel.laid_project import COMPUTING, LaidProject
from pivrel.recipe import PickModel, pick_json
from pivrel.web.context import laid_by_id
from pivrel.web.words import pick_in_words

bp = Blueprint("picks", __name__)


class Asked(BaseModel):
    """Unknown keys are errors."""

    model_config = ConfigDict(extra="forbid")


class Clicked(Asked):
    """The face under the pointer, and how much of the model it stands for."""

    face: int
    level: Literal["face", "patch", "part"]
    crease_deg: Annotated[float, Field(gt=0, le=180)] = CREASE_DEG


class Figure(Asked):
    """The faces behind a figure: of one finish, or the bare ones."""

    figure: Literal["bare", "covered", "smeared", "mirrored", "seams"]
    finish: str | None = None


class PickRequest(Asked):
    """How the pick in hand changes. Grow, invert, all and none need nothing beside them."""

    base: PickModel | None = None
    how: Literal["replace", "add", "remove", "all", "none", "invert", "grow"]
    clicked: Clicked | None = None
    figure: Figure | None = None
    pick: PickModel | None = None


def _clicked(laid: LaidProject, clicked: Clicked) -> Pick:
    mesh = laid.surface.mesh
    if not 0 <= clicked.face < mesh.face_count:
        abort(422, f"face {clicked.face} does not exist")
    if clicked.level == "face":
        return picks.Faces((clicked.face,))
    if clicked.level == "part":
        return picks.Parts((glob.escape(mesh.part_names[mesh.face_part[clicked.face]]),))
    patches = laid.surface.patches(clicked.crease_deg)
    patch = int(patches[clicked.face])
    if clicked.crease_deg == CREASE_DEG:
        return picks.Patches((patch,))
    # Patch ids of a rule are those at 30 degrees; at another angle the faces are named.
    return _by_faces(patches == patch)


def _by_faces(mask: Mask) -> Pick:
    return picks.Faces(tuple(picks.as_faces(mask).tolist()))


def _figure(laid: LaidProject, figure: Figure) -> Pick:
    if figure.figure == "bare":
        return picks.Faces(tuple(laid.bare().tolist()))
    if figure.finish not in laid.contents.finishes:
        abort(404, f"the schedule has no finish {figure.finish}")
    if figure.figure == "covered":
        return laid.finish(figure.finish).pick
    figures = laid.figures(figure.finish)
    faces = {
        "smeared": figures.smeared_faces, "mirrored": figures.mirrored_faces, "seams": figures.seam_faces
    }[figure.figure]  # fmt: skip
    return picks.Faces(tuple(faces.tolist()))


def _changed(laid: LaidProject, asked: PickRequest) -> Pick:
    base = asked.base.to_core() if asked.base else picks.NOTHING
    match asked.how:
        case "all":
            return picks.All()
        case "none":
            return picks.NOTHING
        case "invert":
            return picks.inverted(base)
        case "grow":
            return _by_faces(picks.grown(picks.resolve(base, laid.surface), laid.surface))
    if asked.clicked:
        more = _clicked(laid, asked.clicked)
    elif asked.figure:
        more = _figure(laid, asked.figure)
    elif asked.pick:
        more = asked.pick.to_core()
    else:
        abort(422, "nothing was named to pick")
    if asked.how == "add":
        return picks.added(base, more)
    return picks.removed(base, more) if asked.how == "remove" else more


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
