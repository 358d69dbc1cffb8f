"""The work of trials on a large model. The job's folder takes outcomes.pickle and a file for each array."""

from __future__ import annotations

import pickle
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from pydantic import TypeAdapter

from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import Finish
from pivrel.core.projection import BEST, Aim, Projection, Solved
from pivrel.jobs.aside import Aside, given
from pivrel.jobs.line import Line
from pivrel.project.trying import Tried, try_out
from pivrel.recipe import ProjectionModel, projection_model
from pivrel.recipe.projections import trial_candidates

OUTCOMES = "outcomes.pickle"

TAKES = 32
"""Bytes of memory for each of the mesh as it is kept: 24 were measured at 4 M triangles."""

_PROJECTION: TypeAdapter[ProjectionModel] = TypeAdapter(ProjectionModel)


@dataclass(frozen=True)
class Trying:
    """What is asked: a finish, and what its fits aim at."""

    finish: Finish
    aim: Aim


def prepare(surface: Surface, finish: Finish) -> None:
    """Tries what needs no solution on something small, so that all that this takes is loaded."""
    closed = [candidate for candidate in trial_candidates() if not isinstance(candidate, Solved)]
    try_out(surface, finish, BEST, lambda _projection, _share: None, closed)


def work(folder: Path, request: dict[str, Any], line: Line) -> None:
    """Tries the finish; the projection that is tried is told as a recipe states it."""
    asked, surface = given(request)
    assert isinstance(asked, Trying)

    def pause(projection: Projection, share: float) -> None:
        line.tell(projection_model(projection).model_dump_json(by_alias=True), share)

    tried = try_out(surface, asked.finish, asked.aim, pause, trial_candidates())
    (folder / OUTCOMES).write_bytes(pickle.dumps((tried.outcomes, tried.advice, list(tried.arrays))))
    for name, array in tried.arrays.items():
        np.save(folder / f"{name}.npy", array)


def doing(job: Aside) -> ProjectionModel | None:
    """The projection that a job is at; None before it begins."""
    return _PROJECTION.validate_json(job.doing) if job.doing.startswith("{") else None


def tried_by(job: Aside) -> Tried:
    """What came of it; its arrays are read from the job's folder as they are used. InputError where it failed."""
    folder = job.done()
    outcomes, advice, names = pickle.loads((folder / OUTCOMES).read_bytes())
    return Tried(outcomes, advice, {name: np.load(folder / f"{name}.npy", mmap_mode="r") for name in names})
