"""What every request needs: the database, one project of it, and that project laid."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import current_app, request

from pivrel.core.arrays import Floats
from pivrel.core.measure.pieces import Pieces
from pivrel.errors import InputError, NotFoundError
from pivrel.project.appearance import laid
from pivrel.project.computing import Computing
from pivrel.project.laid import LaidProject
from pivrel.store import projects
from pivrel.store.database import Database
from pivrel.store.projects import Project
from pivrel.web.bakes import Bake
from pivrel.web.held import Held
from pivrel.web.waiting import Waiting
from pivrel.web.wire.laying import TrialsUnderWay

Triple = tuple[float, float, float]


@dataclass(frozen=True)
class Service:
    """What one application works with. trials: those under way, by the names that their askers gave them."""

    database: Database
    computing: Computing
    imports: Held[Waiting]
    bakes: Held[Bake]
    trials: dict[str, TrialsUnderWay]


def service() -> Service:
    """What the application at work was given."""
    found: Service = current_app.extensions["pivrel"]
    return found


def database() -> Database:
    """The application's database."""
    return service().database


def computing() -> Computing:
    """Whose turn it is to compute, and what is kept; in a request about a project, that project's."""
    project_id = (request.view_args or {}).get("project_id")
    return service().computing if project_id is None else service().computing.of(project_id)


def laid_by_id(project_id: int) -> tuple[Project, LaidProject]:
    """A project and its finishes laid; NotFoundError where there is none of this number."""
    with database().reading() as db:
        project = projects.existing(db, project_id)
        return project, laid(db, computing(), project)


def known_finish(project: LaidProject, key: str) -> str:
    """A finish's code; NotFoundError where the schedule has none of that name."""
    if key not in project.contents.finishes:
        raise NotFoundError(f"the schedule has no finish {key}")
    return key


def laid_pieces(project: LaidProject, key: str, blended: str, bare: str) -> Pieces:
    """The pieces of a finish on its sheet.

    InputError where it has none that could be taken out; blended, bare: what comes of it that it blends, or lies nowhere.
    """
    stated = project.finish(known_finish(project, key))
    if stated.projection.blends:
        raise InputError(f"{stated.name} blends three sheets over every face, so {blended}")
    with computing().short:
        pieces = project.schedule.pieces(key)
    if not pieces.count:
        raise InputError(f"{stated.name} lies on no face, so there is nothing to {bare}")
    return pieces


def outdated(key: str) -> bool:
    """Whether the arrays of an older state are asked for.

    There is no content for those any more, so that the view never shows an older state after a newer.
    """
    return request.args.get("key", key) != key


def rounded(values: Any, places: int = 6) -> list[float]:
    """Numbers as JSON shows them."""
    return [round(float(v), places) for v in values]


def triple(values: Floats, places: int = 6) -> Triple:
    """A place or a direction as JSON shows it."""
    x, y, z = rounded(values, places)
    return x, y, z
