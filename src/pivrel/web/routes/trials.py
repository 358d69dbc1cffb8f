"""Trials: a pick laid by every projection, and how far that is."""

from __future__ import annotations

from dataclasses import fields

from flask import Blueprint, Response

from pivrel.core.laying import Finish
from pivrel.core.projection import Projection
from pivrel.core.trials import GOOD
from pivrel.errors import InputError, NotFoundError
from pivrel.jobs import try_model
from pivrel.jobs.aside import LARGE, Aside
from pivrel.jobs.try_model import Trying
from pivrel.project.appearance import laid
from pivrel.project.laid import LaidProject, sheet_of
from pivrel.project.trying import Outcome, Tried, try_out
from pivrel.recipe import DatumModel, ProjectionModel, projection_model
from pivrel.recipe.projections import trial_candidates
from pivrel.store import blobs, projects
from pivrel.store.projects import Library
from pivrel.web.context import computing, database, known_finish, service
from pivrel.web.packet import packet
from pivrel.web.turns import answered_by, heavy, still_wanted
from pivrel.web.wire.base import answer, asked
from pivrel.web.wire.laying import Trial, TrialRequest, TrialsHeader, TrialsUnderWay

bp = Blueprint("trials", __name__)


@bp.post("/projects/<int:project_id>/trials")
@heavy
def run_trials(project_id: int) -> Response:
    """The pick laid by every projection, best first, those that come out the same as one; arrays as in `Tried`."""
    wanted = asked(TrialRequest)
    try:
        return _trials(project_id, wanted)
    finally:
        service().trials.pop(wanted.called or "", None)


@bp.get("/projects/<int:project_id>/trials/<called>")
def trials_under_way(project_id: int, called: str) -> Response:
    """How far trials are, by the name that whoever asked for them gave them."""
    return answer(service().trials.get(called, TrialsUnderWay(projection=None, share=0.0)))


def _tell(called: str | None, projection: ProjectionModel, share: float) -> None:
    """Notes how far trials are, where they were given a name."""
    if called:
        service().trials[called] = TrialsUnderWay(projection=projection, share=share)


def _trials(project_id: int, wanted: TrialRequest) -> Response:
    with database().reading() as db:
        project = projects.existing(db, project_id)
        library = projects.library(db)
        project_laid = laid(db, computing(), project)
        finish = _on_trial(project_laid, wanted, library)
        large = len(project_laid.surface.triangles) > LARGE
        mesh = blobs.get(db, project.mesh) if large else b""
    aim = wanted.aim.to_core()
    if large:
        return _tried_aside(Aside("trials", Trying(finish, aim), mesh, try_model.TAKES), wanted.called)

    def pause(projection: Projection, share: float) -> None:
        """What nobody waits for any more ends."""
        still_wanted()
        _tell(wanted.called, projection_model(projection), share)

    # Not in the lane of short work: an edit would wait until every projection is tried.
    with computing().long_work():
        tried = try_out(project_laid.surface, finish, aim, pause, trial_candidates())
    return packet(_header(tried), **tried.arrays)


def _tried_aside(job: Aside, called: str | None) -> Response:
    """Trials in a process of their own, which ends where nobody waits for them any more."""

    def meanwhile() -> None:
        still_wanted()
        doing = try_model.doing(job)
        if doing is not None:
            _tell(called, doing, job.share)

    def respond() -> Response:
        tried = try_model.tried_by(job)
        return packet(_header(tried), **tried.arrays)

    return answered_by(job, respond, meanwhile)


def _header(tried: Tried) -> TrialsHeader:
    return TrialsHeader(trials=[_told(o) for o in tried.outcomes], good=GOOD, advice=tried.advice)


def _on_trial(project: LaidProject, wanted: TrialRequest, library: Library) -> Finish:
    if wanted.finish is not None:
        return project.finish(known_finish(project, wanted.finish))
    if wanted.pick is None or wanted.material is None:
        raise InputError("trials need a finish, or a pick and a material")
    if wanted.material in project.contents.materials:
        material = project.material(wanted.material)
    elif wanted.material in library:
        material = sheet_of(library[wanted.material].body)
    else:
        raise NotFoundError(f"there is no material {wanted.material!r}")
    return Finish("trial", material, wanted.pick.to_core())


def _told(outcome: Outcome) -> Trial:
    stated = {field.name: getattr(outcome, field.name) for field in fields(Outcome)}
    return Trial.model_validate(
        {
            **stated,
            "projection": projection_model(outcome.projection),
            "alike": [projection_model(other) for other in outcome.alike],
            "datum": DatumModel.of(outcome.datum) if outcome.datum else None,
        }
    )
