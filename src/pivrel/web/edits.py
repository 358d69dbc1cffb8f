"""Edits of a project: what may be asked, and carrying it out."""

from __future__ import annotations

import sqlite3
from functools import partial
from typing import Annotated, Any, Literal

from flask import Blueprint, Response, jsonify, request
from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from pivrel import edits
from pivrel.core.picks import resolve
from pivrel.core.quantity import parse_angle, parse_length, parse_share
from pivrel.edits import EditError
from pivrel.laid_project import COMPUTING, fitted
from pivrel.recipe import PickModel, ProjectionModel
from pivrel.store import journal, projects
from pivrel.store.projects import Contents, Project
from pivrel.web.context import database, laid, project_or_404
from pivrel.web.state import project_state

bp = Blueprint("edits", __name__)


def _typed(parse: Any) -> BeforeValidator:
    """Text is read as a person types it; numbers are taken as they are."""
    return BeforeValidator(lambda value: parse(value) if isinstance(value, str) else value)


Length = Annotated[float, _typed(parse_length), Field(ge=-1e9, le=1e9)]
Angle = Annotated[float, _typed(parse_angle), Field(ge=-36000, le=36000)]
Share = Annotated[float, _typed(parse_share), Field(gt=0, le=1e6)]
Side = Annotated[float, _typed(parse_length), Field(gt=0, le=1e7)]


class Asked(BaseModel):
    """A request; unknown keys are errors."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class TypedDatum(Asked):
    """A datum as typed."""

    origin_mm: tuple[Length, Length, Length]
    x_axis: tuple[float, float, float]
    z_axis: tuple[float, float, float]


class Lay(Asked):
    """Lay a material on a pick."""

    kind: Literal["lay"]
    material: str
    pick: PickModel
    projection: ProjectionModel


class Change(Asked):
    """Change one or several finishes alike; what is left out stays."""

    kind: Literal["change"]
    finishes: list[str] = Field(min_length=1)
    name: str | None = Field(default=None, min_length=1, max_length=200)
    material: str | None = None
    pick: PickModel | None = None
    projection: ProjectionModel | None = None
    datum: TypedDatum | Literal["fit"] | None = None
    turn_deg: Angle | None = None
    turn_by: Angle | None = None
    grain_deg: Angle | None = None
    offset_mm: tuple[Length | None, Length | None] | None = None
    scale: tuple[Share | None, Share | None] | None = None
    repeat_mm: tuple[Side | None, Side | None] | None = None
    linked: bool = True


class Remove(Asked):
    """Take finishes off the schedule."""

    kind: Literal["remove"]
    finishes: list[str] = Field(min_length=1)


class Move(Asked):
    """Move a finish to another row."""

    kind: Literal["move"]
    finish: str
    to: int


class ChangeMaterial(Asked):
    """Change a material of the project."""

    kind: Literal["material"]
    material: str
    repeat_mm: tuple[Side | None, Side | None] | None = None
    linked: bool = True
    grain_deg: Angle | None = None
    name: str | None = Field(default=None, min_length=1, max_length=200)


class EditRequest(Asked):
    """An edit and the revision that it is based on."""

    revision: int
    edit: Annotated[Lay | Change | Remove | Move | ChangeMaterial, Field(discriminator="kind")]


class Based(Asked):
    """The revision that undo or redo is based on."""

    revision: int


def _edited(db: sqlite3.Connection, project: Project, edit: Any) -> tuple[Contents, Contents, str]:
    before = projects.contents(db, project.id)
    library = projects.library(db)
    surface = laid(db, project, before).surface

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
            after, label = edits.lay(before, library, edit.material, stated["pick"], projection, fit)
        case Change():
            keys = stated.pop("finishes")
            if edit.projection is not None:
                stated["projection"] = edit.projection.model_dump(mode="json")
            changes = {k: v for k, v in stated.items() if v is not None}
            after, label = edits.change(before, library, keys, changes, fit)
        case Remove():
            after, label = edits.remove(before, edit.finishes)
        case Move():
            after, label = edits.move(before, edit.finish, edit.to)
        case _:
            key = stated.pop("material")
            after, label = edits.change_material(before, key, **stated)
    return before, after, label


@bp.post("/projects/<int:project_id>/edits")
def edit(project_id: int) -> Response:
    """Carries out an edit; the project as it is then."""
    asked = EditRequest.model_validate(request.get_json())
    with database().transaction() as db:
        project = project_or_404(db, project_id)
        before, after, label = _edited(db, project, asked.edit)
        changes = journal.changes_between(before, after)
        # An edit that changes nothing leaves no row to undo; an outdated one is refused all the same.
        if changes or asked.revision != project.revision:
            journal.write(db, project_id, asked.revision, label, changes)
        state = project_state(db, project_or_404(db, project_id))
    return jsonify(state)


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
        return jsonify(project_state(db, project_or_404(db, project_id)))
