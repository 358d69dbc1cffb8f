"""Trials as a page shows them: what came of each projection, and the arrays that its picture is drawn from."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats32, Ints
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import Finish, lay
from pivrel.core.measure.faces import BARE
from pivrel.core.picks import as_faces, resolve
from pivrel.core.projection import Aim, Projection
from pivrel.core.trials import Trial, advice, fold_equal, trials, untried
from pivrel.errors import InputError


@dataclass(frozen=True)
class Outcome:
    """What came of one projection, and of those in `alike` the same; see `core.trials.Trial` and `core.projection.Fit`."""

    projection: Projection
    alike: Sequence[Projection]
    datum: Datum | None
    good: float
    why: str
    true_share: float
    smeared_m2: float
    mirrored_m2: float
    seams_m: float
    joints_m: float
    area_m2: float
    residual_mm: float | None
    share: float


@dataclass(frozen=True)
class Tried:
    """All outcomes, best first, and what would serve the pick better, if anything.

    arrays: "faces", (K,) uint32 ids; of each outcome n "st_<n>", (C, 2) float32 mm for their corners, and "low_<n>",
    "high_<n>", "kind_<n>", which tell of each face what the stretch look tells.
    """

    outcomes: Sequence[Outcome]
    advice: str | None
    arrays: dict[str, np.ndarray]


def try_out(
    surface: Surface,
    finish: Finish,
    aim: Aim,
    pause: Callable[[Projection, float], None],
    candidates: Sequence[Projection],
) -> Tried:
    """A finish by several projections; pause, candidates as in `core.trials.trials`. InputError where its pick is empty."""
    faces = as_faces(resolve(finish.pick, surface))
    if not len(faces):
        raise InputError("the pick is empty: pick faces first, then try projections on them")
    found = trials(surface, finish, candidates, aim, pause)
    sheets = [_sheet(surface, trial, faces) for trial in found]
    groups = fold_equal(sheets, [t.finish.projection.blends for t in found])
    arrays: dict[str, np.ndarray] = {"faces": faces.astype("<u4")}
    for number, (best, *_) in enumerate(groups):
        low, high, kind = _stretch(found[best], faces)
        arrays |= {f"st_{number}": sheets[best]}
        arrays |= {f"low_{number}": low, f"high_{number}": high, f"kind_{number}": kind}
    outcomes = [_outcome(found[best], [found[other] for other in others]) for best, *others in groups]
    told = [words for words in (advice(found), untried(surface, faces)) if words]
    return Tried(outcomes, " ".join(told) or None, arrays)


def _outcome(trial: Trial, alike: list[Trial]) -> Outcome:
    f = trial.figures
    return Outcome(
        projection=trial.finish.projection,
        alike=[other.finish.projection for other in alike],
        datum=trial.finish.datum,
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


def _sheet(surface: Surface, trial: Trial, faces: Ints) -> Floats32:
    """(C, 2) float32 mm for the corners of all picked faces, NaN where the trial lays none."""
    if len(trial.faces) == len(faces):
        return lay(surface, trial.finish, trial.faces, trial.settled, np.float32)
    out = np.full((int(surface.corners_of(faces).sum()), 2), np.nan, np.float32)
    own = np.repeat(np.isin(faces, trial.faces), np.diff(surface.mesh.face_start)[faces])
    out[own] = lay(surface, trial.finish, trial.faces, trial.settled, np.float32)
    return out


def _stretch(trial: Trial, faces: Ints) -> tuple[Floats32, Floats32, np.ndarray]:
    """(K,) least and greatest stretch and kind of all picked faces; what the trial does not lay is bare."""
    found = trial.stretch
    own = np.searchsorted(faces, trial.faces)
    low, high = np.ones(len(faces), np.float32), np.ones(len(faces), np.float32)
    kind = np.full(len(faces), BARE, np.uint8)
    low[own], high[own], kind[own] = found.low, found.high, found.kind
    return low, high, kind
