"""Edits of a project, carried out."""

from __future__ import annotations

import base64
import binascii
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any, assert_never

import numpy as np
from flask import Blueprint, Response, jsonify, request

from pivrel import edits, joinery, placing_model, remembered, sources
from pivrel.computing import COMPUTING
from pivrel.core.geometry.surface import Surface
from pivrel.core.moves import edge_direction
from pivrel.core.picks import resolve
from pivrel.edits import EditError
from pivrel.laid_project import LaidProject, fitted
from pivrel.materials.images import Image, checked_image
from pivrel.placing_model import Reading, move_between, moved_contents, moved_mesh
from pivrel.project_looks import laid, source_images
from pivrel.revision import accepted
from pivrel.store import blobs, journal, projects
from pivrel.store.bodies import PickSetBody, ViewBody
from pivrel.store.projects import Contents, Project
from pivrel.web.asked import (
    Accept,
    Answer,
    Balance,
    Based,
    Change,
    ChangeMaterial,
    DropAdjustment,
    EditRequest,
    Forget,
    KeepPick,
    KeepView,
    Lay,
    Move,
    PlaceModel,
    Remove,
    RunAcross,
    SetOut,
    Split,
    Swap,
    TakeBack,
    TakeSource,
    TurnPick,
)
from pivrel.web.context import database, project_or_404
from pivrel.web.state import project_state

bp = Blueprint("edits", __name__)


@dataclass(frozen=True)
class Done:
    """What an edit made of a project. label: for undo. said: what the artist should know of it.

    model: another model in the place of the one before. images: to be kept with it.
    """

    before: Contents
    after: Contents
    label: str
    said: str | None = None
    model: Model | None = None
    images: Sequence[Image] = ()


@dataclass(frozen=True)
class Model:
    """A model in the place of the one before: the mesh as it is kept, or None where it stays, and its facts."""

    mesh: bytes | None
    facts: dict[str, Any]


def _edited(db: sqlite3.Connection, project: Project, now: LaidProject, edit: Any) -> Done:
    """What an edit makes of a project; nothing is written."""
    before, surface = now.contents, now.surface
    library = projects.library(db)
    model: Model | None = None
    images: Sequence[Image] = ()
    said: str | None = None

    fit = partial(fitted, surface)
    stated = edit.model_dump(mode="json", by_alias=True, exclude_unset=True)
    stated.pop("kind")
    match edit:
        case Lay():
            # Defaults of the projection are written out, so that nothing depends on today's defaults.
            projection = edit.projection.model_dump(mode="json")
            with COMPUTING:
                if not resolve(edit.pick.to_core(), surface).any():
                    raise EditError("the pick is empty: pick faces first, then lay a material on them")
            after, label = edits.lay(
                before, library, edit.material, stated["pick"], projection, fit,
                edit.aim.to_core(), stated.get("datum"), edit.like,
            )  # fmt: skip
        case Split():
            projection = edit.projection.model_dump(mode="json")
            if edit.finish not in before.finishes:
                raise EditError(f"the schedule has no finish {edit.finish}")
            with COMPUTING:
                if not resolve(edit.pick.to_core(), surface)[now.held(edit.finish)].any():
                    raise EditError("none of the picked faces belongs to this finish; pick some of its faces")
            after, label = edits.split(
                before, library, edit.finish, stated["pick"], projection, fit, edit.aim.to_core()
            )
        case Change():
            keys = stated.pop("finishes")
            if edit.projection is not None:
                stated["projection"] = edit.projection.model_dump(mode="json")
            changes = {k: v for k, v in stated.items() if v is not None}
            if edit.grain_edge is not None:
                on = changes.pop("grain_edge")
                along = edge_direction(surface, known_face(surface, on["face"]), np.array(on["place"]))
                changes["grain"] = {"along": "direction", "direction": along}
            if edit.fit is not None:
                changes["fit"] = edit.fit.to_core()
            after, label = edits.change(before, library, keys, changes, fit)
        case SetOut():
            after, label = joinery.set_out(
                now, known_face(surface, edit.face), np.array(edit.place), edit.at, edit.what
            )
        case Balance():
            after, label, said = joinery.balanced(now, edit.finish, edit.pick)
        case RunAcross():
            after, label, said = joinery.ran_across(now, known_face(surface, edit.face), np.array(edit.place))
        case TurnPick():
            after, label = joinery.turned_pick(now, edit.finish, edit.pick, edit.turn_by, edit.mirrored)
        case DropAdjustment():
            after, label = joinery.without_adjustment(before, edit.finish, edit.row)
        case Swap():
            after, label = joinery.swapped(before, library, edit.material, edit.to)
        case Remove():
            after, label = edits.remove(before, edit.finishes)
        case Move():
            after, label = edits.move(before, edit.finish, edit.to)
        case Accept():
            if not 0 <= min(edit.faces) <= max(edit.faces) < surface.mesh.face_count:
                raise EditError("one of the faces does not exist")
            after, label = accepted(before, edit.finish, np.array(edit.faces, np.int32))
        case TakeSource():
            found = sources.taken(before, surface, edit.source, source_images(db, project)[0])
            after, label, said, images = found.contents, found.label, found.said, tuple(found.images.values())
        case PlaceModel():
            was, wanted = Reading.of(project.model), Reading(edit.unit, edit.up, edit.shift_mm)
            move = move_between(was, wanted)
            after, label = moved_contents(before, move), "unit, axes and place of the model"
            said = placing_model.said(was, wanted)
            facts = {**project.model, "unit": edit.unit, "up": edit.up, "placed": True}
            model = Model(
                blobs.mesh_data(moved_mesh(surface.mesh, move)), {**facts, "shift_mm": list(edit.shift_mm)}
            )
        case Answer():
            after, label, model = before, "answer to the newer model", _answered(project, edit.item)
        case ChangeMaterial():
            key = stated.pop("material")
            stated.pop("marks", None)
            if edit.marks is not None:
                if key not in before.materials:
                    raise EditError(f"the project does not use the material {key!r}")
                width, height = before.materials[key].body["repeat_mm"]
                stated |= {"repeat_mm": edit.marks.size((width, height)), "linked": False}
            after, label = edits.change_material(before, key, **stated)
        case _:
            raise EditError(f"there is no edit of the kind {edit.kind!r}")
    return Done(before, after, label, said, model, images)


def _answered(project: Project, item: int) -> Model:
    if not project.model.get("revision"):
        raise EditError("this model has not taken the place of another, so nothing is asked")
    answered = sorted({*project.model.get("answered", ()), item})
    return Model(None, {**project.model, "answered": answered})


Aside = KeepPick | KeepView | Forget | TakeBack


def _kept_aside(db: sqlite3.Connection, project_id: int, edit: Aside) -> None:
    """Keeps or forgets a view or a pick, which undo does not touch."""
    before = projects.contents(db, project_id)
    match edit:
        case KeepPick():
            body = PickSetBody(name=edit.name, pick=edit.pick).model_dump(mode="json", by_alias=True)
            after, _ = remembered.keep(before, "pick_set", body)
        case KeepView():
            stated = edit.model_dump(mode="json", exclude={"kind", "picture"})
            body = ViewBody(**stated).model_dump(mode="json")
            if edit.picture:
                body["picture"] = _put_picture(db, edit.picture)
            after, _ = remembered.keep(before, "view", body)
        case Forget():
            after, _ = remembered.forget(before, edit.what, edit.key)
        case TakeBack():
            journal.take_back(db, project_id, edit.what, edit.key)
            return
        case _:
            assert_never(edit)
    journal.keep_aside(db, project_id, journal.changes_between(before, after))


def known_face(surface: Surface, face: int) -> int:
    """The face, or EditError where the model has none of this number."""
    if not 0 <= face < surface.mesh.face_count:
        raise EditError(f"face {face} does not exist")
    return face


def _put_picture(db: sqlite3.Connection, text: str) -> str:
    try:
        image = checked_image(base64.b64decode(text.encode("ascii"), validate=True), "the view's picture")
    except (binascii.Error, UnicodeEncodeError):
        raise EditError("the view's picture is not base64") from None
    return blobs.put(db, image.data)


@bp.post("/projects/<int:project_id>/edits")
def edit(project_id: int) -> Response:
    """Carries out an edit; the project as it is then.

    Nothing is computed while the write lock is held: the edit is worked out on what it was based on, and
    written only where that is still what the project is.
    """
    asked = EditRequest.model_validate(request.get_json())
    if isinstance(asked.edit, Aside):
        with database().transaction() as db:
            project_or_404(db, project_id)
            _kept_aside(db, project_id, asked.edit)
        return _state_of(project_id)
    with database().reading() as db:
        project = project_or_404(db, project_id)
        journal.check_based(db, project_id, asked.revision)
        now = laid(db, project, projects.contents(db, project_id))
        done = _edited(db, project, now, asked.edit)
    lost = [] if done.model else joinery.given_up_by(now, replace(now, contents=done.after))
    changes = journal.changes_between(done.before, done.after)
    with database().transaction() as db:
        for image in done.images:
            blobs.put(db, image.data)
        if done.model is not None:
            mesh = project.mesh if done.model.mesh is None else blobs.put(db, done.model.mesh)
            changes = [journal.model_change(project, mesh, done.model.facts), *changes]
        # An edit that changes nothing leaves no row to undo; an outdated one is refused all the same.
        if changes:
            journal.write(db, project_id, asked.revision, done.label, changes)
        else:
            journal.check_based(db, project_id, asked.revision)
    said = ". ".join(part for part in (done.said, "Given up: " + "; ".join(lost) if lost else None) if part)
    return _state_of(project_id, said or None)


def _state_of(project_id: int, said: str | None = None) -> Response:
    with database().reading() as db:
        return jsonify({**project_state(db, project_or_404(db, project_id)), "said": said})


@bp.post("/projects/<int:project_id>/undo")
def undo(project_id: int) -> Response:
    """Takes the last edit back."""
    return _stepped(project_id, journal.undo)


@bp.post("/projects/<int:project_id>/redo")
def redo(project_id: int) -> Response:
    """Carries the edit out again that was last taken back."""
    return _stepped(project_id, journal.redo)


def _stepped(project_id: int, step: Any) -> Response:
    asked = Based.model_validate(request.get_json())
    with database().transaction() as db:
        project_or_404(db, project_id)
        step(db, project_id, asked.revision)
    return _state_of(project_id)
