"""Placing a projection: its datum as it is drawn, the pattern while it is dragged, and trials."""

from __future__ import annotations

from dataclasses import asdict, replace

import numpy as np
from flask import Blueprint, Response, request

from pivrel.core.arrays import Floats, Floats32, Ints
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import Finish, Piece, lay
from pivrel.core.measure.faces import BARE as BARE_KIND
from pivrel.core.picks import as_faces, resolve
from pivrel.core.projection import Projection
from pivrel.core.projection.charts import reach
from pivrel.core.solve.solution import Frame
from pivrel.core.trials import GOOD, advice, fold_equal, trials, untried
from pivrel.core.trials import Trial as CoreTrial
from pivrel.errors import InputError, NotFoundError
from pivrel.project.appearance import laid
from pivrel.project.laid import LaidProject, fit_of, sheet_of
from pivrel.recipe import DatumModel, projection_model
from pivrel.recipe.projections import trial_candidates
from pivrel.store import projects
from pivrel.store.projects import Library
from pivrel.web.context import computing, database, known_finish, laid_by_id, service, triple
from pivrel.web.packet import packet
from pivrel.web.turns import heavy, still_wanted
from pivrel.web.wire.base import answer, asked
from pivrel.web.wire.laying import (
    ChartState,
    DatumDrawing,
    FrameState,
    LineState,
    Preview,
    Roundness,
    Trial,
    TrialRequest,
    TrialsHeader,
    TrialsUnderWay,
)

bp = Blueprint("placing", __name__)


@bp.get("/projects/<int:project_id>/datum/<finish>")
def datum(project_id: int, finish: str) -> Response:
    """What is drawn of a finish's datum, in datum coordinates, and what was measured or fitted.

    The query's coat, counted from 0, asks for that of a coat with a laying of its own.
    """
    _, project = laid_by_id(project_id)
    schedule = project.schedule
    coat = request.args.get("coat", type=int)
    if coat is not None:
        return _datum_of_coat(project, known_finish(project, finish), coat)
    settled = schedule.settled(known_finish(project, finish))
    key = schedule.laying_key(finish)
    if settled.of_face is not None:
        return answer(DatumDrawing(laying_key=key, parts=len(settled.pieces), charts=[]))
    (piece,) = settled.pieces
    ties = tuple(round(float(off), 3) for off in schedule.tie_offs(finish))
    if not piece.projection.has_datum:
        return answer(
            DatumDrawing(
                laying_key=key,
                parts=1,
                charts=[],
                projection=projection_model(piece.projection),
                frames=tuple(_frame(frame) for frame in settled.solution.frames) if settled.solution else (),
                troubles=settled.solution.troubles if settled.solution else (),
                tie_off_mm=ties,
            )
        )
    return answer(_drawing(project, finish, piece, key, ties))


def _drawing(
    project: LaidProject, finish: str, piece: Piece, key: str, ties: tuple[float, ...] = ()
) -> DatumDrawing:
    """A datum and the charts about it, as far as the faces of a finish reach."""
    with computing().short:
        bounds = reach(project.surface, project.schedule.held(finish), piece.datum)
    return DatumDrawing(
        laying_key=key,
        parts=1,
        datum=DatumModel.of(piece.datum),
        reach_mm=(triple(bounds[0], 4), triple(bounds[1], 4)),
        charts=[ChartState(**asdict(chart)) for chart in piece.projection.charts(bounds)],
        projection=projection_model(piece.projection),
        tie_off_mm=ties,
    )


def _datum_of_coat(project: LaidProject, finish: str, row: int) -> Response:
    """The datum of a coat with a laying of its own that measures from one."""
    schedule = project.schedule
    coats = schedule.finishes[finish].coats
    sheet = coats[row].sheet if 0 <= row < len(coats) else None
    if sheet is None or sheet.projection is None:
        raise NotFoundError(f"{finish} has no coat {row} with a laying of its own")
    key = schedule.over_key(finish, sheet)
    with computing().short:
        settled = schedule.laid_over(finish, sheet).settled
    if settled.of_face is not None or not settled.pieces[0].projection.has_datum:
        return answer(DatumDrawing(laying_key=key, parts=len(settled.pieces), charts=[]))
    return answer(_drawing(project, finish, settled.pieces[0], key))


def _frame(frame: Frame) -> FrameState:
    return FrameState(
        form=frame.form,
        lines=[LineState(name=line.name, points=_places(line.points)) for line in frame.lines],
        corners=_places(frame.corners),
        size_mm=frame.size_mm,
        veil=_places(frame.veil.reshape(-1, 3)),
    )


def _places(points: Floats) -> list[tuple[float, float, float]]:
    return [(x, y, z) for x, y, z in np.round(points, 4).tolist()]


@bp.get("/projects/<int:project_id>/roundness/<finish>")
def roundness(project_id: int, finish: str) -> Response:
    """How well the pick of a round finish fits a true cylinder, cone or sphere."""
    _, project = laid_by_id(project_id)
    stated = project.stated(known_finish(project, finish))
    if not stated.projection.core.is_round:
        raise InputError(f"{finish} is not laid by a round projection")
    found = fit_of(computing(), project.surface, stated)
    return answer(
        Roundness(
            residual_mm=found.residual_mm,
            share=found.share,
            radius_mm=found.radius_mm,
            half_angle_deg=found.half_angle_deg,
            datum=DatumModel.of(found.datum),
        )
    )


@bp.post("/projects/<int:project_id>/preview/<finish>")
def preview(project_id: int, finish: str) -> Response:
    """(K, 2) float32 mm as the finish would be laid, for the faces that it is laid on.

    What a drag leaves as it is (the pick, a solution, the faces that it covers) is not found anew.
    """
    wanted = asked(Preview)
    _, project = laid_by_id(project_id)
    was = project.finish(known_finish(project, finish))
    now = was
    if wanted.datum is not None:
        now = replace(now, datum=wanted.datum.to_core(), datum_for="pick")
    if wanted.projection is not None:
        now = replace(now, projection=wanted.projection.to_core())
    if wanted.placed is not None and now.raw_key is not None:
        placed = wanted.placed
        now = replace(
            now, turn_deg=placed.turn_deg, grain_deg=None, offset_mm=placed.offset_mm, scale=placed.scale
        )
    then = project.schedule.with_finish(finish, now)
    st, faces, shown = then.laying(finish), then.drawn(finish), project.schedule.drawn(finish)
    if len(faces) != len(shown) or not np.array_equal(faces, shown):
        st = _on_faces(project.surface, st, faces, shown)
    return Response(st.astype("<f4", copy=False).tobytes(), mimetype="application/octet-stream")


def _on_faces(surface: Surface, st: Floats32, faces: Ints, shown: Ints) -> Floats32:
    """(N, 2) a laying of `faces` for the corners of those shown; zero on what it does not lay."""
    out = np.zeros((surface.mesh.corner_count, 2), np.float32)
    out[surface.corners_of(faces)] = st
    return out[surface.corners_of(shown)]


@bp.post("/projects/<int:project_id>/trials")
@heavy
def run_trials(project_id: int) -> Response:
    """The pick laid by every projection, best first, those that come out the same as one.

    faces: (K,) uint32 ids; each "st_<n>" is (C, 2) float32 mm for their corners, and "low", "high" and "kind" tell of
    each face what the stretch look tells.
    """
    wanted = asked(TrialRequest)
    with service().trials.told(wanted.called):
        return _trials(project_id, wanted)


@bp.get("/projects/<int:project_id>/trials/<called>")
def trials_under_way(project_id: int, called: str) -> Response:
    """How far trials are, by the name that whoever asked for them gave them."""
    step = service().trials.of(called)
    return answer(TrialsUnderWay(projection=step.doing if step else None, share=step.share if step else 0.0))


def _trials(project_id: int, wanted: TrialRequest) -> Response:
    with database().reading() as db:
        project = projects.existing(db, project_id)
        library = projects.library(db)
        project_laid = laid(db, computing(), project)
    finish = _on_trial(project_laid, wanted, library)
    surface = project_laid.surface

    def pause(projection: Projection, share: float) -> None:
        """Others compute, and what nobody waits for any more ends."""
        still_wanted()
        service().trials.tell(wanted.called, projection_model(projection), share)
        computing().let_others()

    with computing().lane_for(len(surface.triangles)):
        faces = as_faces(resolve(finish.pick, surface))
        if not len(faces):
            raise InputError("the pick is empty: pick faces first, then try projections on them")
        found = trials(surface, finish, trial_candidates(), wanted.aim.to_core(), pause)
        sheets = [_sheet(surface, trial, faces) for trial in found]
        groups = fold_equal(sheets, [t.finish.projection.blends for t in found])
        arrays: dict[str, np.ndarray] = {}
        for number, (best, *_) in enumerate(groups):
            arrays[f"st_{number}"] = sheets[best]
            low, high, kind = _stretch(found[best], faces)
            arrays |= {f"low_{number}": low, f"high_{number}": high, f"kind_{number}": kind}
    told = [_told(found[best], [found[other] for other in others]) for best, *others in groups]
    told_beside = [words for words in (advice(found), untried(surface, faces)) if words]
    header = TrialsHeader(trials=told, good=GOOD, advice=" ".join(told_beside) or None)
    return packet(header, faces=faces.astype("<u4"), **arrays)


def _sheet(surface: Surface, trial: CoreTrial, faces: Ints) -> Floats32:
    """(C, 2) float32 mm for the corners of all picked faces, NaN where the trial lays none."""
    if len(trial.faces) == len(faces):
        return lay(surface, trial.finish, trial.faces, trial.settled, np.float32)
    out = np.full((int(surface.corners_of(faces).sum()), 2), np.nan, np.float32)
    own = np.repeat(np.isin(faces, trial.faces), np.diff(surface.mesh.face_start)[faces])
    out[own] = lay(surface, trial.finish, trial.faces, trial.settled, np.float32)
    return out


def _stretch(trial: CoreTrial, faces: Ints) -> tuple[Floats32, Floats32, np.ndarray]:
    """(K,) least and greatest stretch and kind of all picked faces; what the trial does not lay is bare."""
    found = trial.stretch
    own = np.searchsorted(faces, trial.faces)
    low, high = np.ones(len(faces), np.float32), np.ones(len(faces), np.float32)
    kind = np.full(len(faces), BARE_KIND, np.uint8)
    low[own], high[own], kind[own] = found.low, found.high, found.kind
    return low, high, kind


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


def _told(trial: CoreTrial, alike: list[CoreTrial]) -> Trial:
    f = trial.figures
    return Trial(
        projection=projection_model(trial.finish.projection),
        alike=[projection_model(other.finish.projection) for other in alike],
        datum=DatumModel.of(trial.finish.datum) if trial.finish.datum else None,
        good=trial.good,
        why=trial.why,
        true_share=f.true_share,
        smeared_m2=f.smeared_m2,
        mirrored_m2=f.mirrored_m2,
        seams_m=f.seams_m,
        joints_m=f.joints_m,
        area_m2=f.area_m2,
        residual_mm=trial.fit.residual_mm,
        share=trial.fit.share,
    )
