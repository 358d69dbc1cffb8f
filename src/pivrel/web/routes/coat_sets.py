"""Coats kept under a name, and how they would lie over another finish."""

from __future__ import annotations

import numpy as np
from flask import Blueprint, Response

from pivrel.core.arrays import Floats
from pivrel.core.revision import Motion
from pivrel.errors import InputError
from pivrel.project.laid import LaidProject
from pivrel.store import coat_sets, projects
from pivrel.store.documents import CoatSetBody
from pivrel.web.context import database, known_finish, laid_by_id, triple
from pivrel.web.wire.base import answer, answers, asked
from pivrel.web.wire.coats import CoatSet, CoatSetNamed, KeptCoats

bp = Blueprint("coat_sets", __name__)


@bp.get("/coat-sets")
def every() -> Response:
    """The kept coats, by name."""
    with database().reading() as db:
        held = coat_sets.get_all(db)
    return _listed(held)


def _listed(held: dict[str, CoatSetBody]) -> Response:
    return answers(
        CoatSet, [CoatSet(name=name, coats=[coat.name for coat in body.coats]) for name, body in held.items()]
    )


@bp.post("/projects/<int:project_id>/coats/<finish>/keep")
def keep(project_id: int, finish: str) -> Response:
    """Keeps the coats of a finish under a name."""
    name = asked(CoatSetNamed).name
    _, laid = laid_by_id(project_id)
    stated = laid.stated(known_finish(laid, finish))
    if not stated.coats:
        raise InputError(f"{stated.name} has no coats to keep")
    with database().transaction() as db:
        library = projects.library(db)
        for key in dict.fromkeys(key for coat in stated.coats for key in coat.material_ids):
            if key not in library:
                material = laid.contents.materials[key].body.name
                raise InputError(
                    f"{material} is not in the library, where other projects would find it: add it there first"
                )
        coat_sets.put(db, name, CoatSetBody(coats=stated.coats, low_mm=triple(_low(laid, finish), 3)))
        held = coat_sets.get_all(db)
    return _listed(held)


@bp.post("/coat-sets/forget")
def forget() -> Response:
    """Forgets kept coats."""
    with database().transaction(frees=True) as db:
        coat_sets.delete(db, asked(CoatSetNamed).name)
        held = coat_sets.get_all(db)
    return _listed(held)


@bp.post("/projects/<int:project_id>/coats/<finish>/kept")
def as_laid(project_id: int, finish: str) -> Response:
    """Kept coats as they would lie over a finish: as far from the lower corner of its faces as they lay from that of the
    faces that they were kept from; layings of their own are fitted anew."""
    with database().reading() as db:
        body = coat_sets.existing(db, asked(CoatSetNamed).name)
    _, laid = laid_by_id(project_id)
    shift = _low(laid, known_finish(laid, finish)) - np.array(body.low_mm)
    motion = Motion(shift=shift)
    coats = [coat.moved(motion).model_copy(update={"datum": None}) for coat in body.coats]
    return answer(KeptCoats(coats=coats))


def _low(laid: LaidProject, finish: str) -> Floats:
    """(3,) mm the lower corner of the box about a finish's faces. InputError where it covers none."""
    faces = laid.schedule.drawn(finish)
    if not len(faces):
        raise InputError(f"{laid.stated(finish).name} covers no face")
    out: Floats = laid.surface.points_of(faces).min(axis=0)
    return out
