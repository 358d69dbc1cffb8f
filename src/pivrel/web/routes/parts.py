"""The parts of a model: what each is, how large, and what lies on it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import get_args

import numpy as np
from flask import Blueprint, Response, abort

from pivrel.core import picks
from pivrel.core.arrays import Ints, distinct
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.laying import BARE
from pivrel.core.picks import Pick
from pivrel.core.view.framing import framed_parts
from pivrel.recipe import pick_model
from pivrel.web.context import computing, laid_by_id
from pivrel.web.lying import what_lies
from pivrel.web.wire.base import answer, answers
from pivrel.web.wire.parts import Framed, ListedBy, PartGroup

bp = Blueprint("parts", __name__)

RULES: dict[ListedBy, type[picks.Parts | picks.Elements | picks.Storeys | picks.Sources]] = {
    "part": picks.Parts,
    "element": picks.Elements,
    "storey": picks.Storeys,
    "source": picks.Sources,
}


def _named(mesh: Mesh, by: ListedBy) -> tuple[Sequence[str], Ints]:
    """Names, and (F,) which of them each face has, -1 where the file says nothing."""
    match by:
        case "source":
            return [source.name for source in mesh.sources], mesh.source_of_face
        case "part":
            return mesh.part_names, mesh.face_part
        case "element" | "storey":
            told = mesh.part_elements if by == "element" else mesh.part_storeys
            named = np.array([bool(name) for name in told] or [False] * len(mesh.part_names))
            return told, np.where(named[mesh.face_part], mesh.face_part, -1).astype(np.int32)


def _rule(by: ListedBy, name: str) -> Pick:
    return RULES[by]((picks.exactly(name),))


def _stated(mesh: Mesh, by: ListedBy, part: int) -> str:
    """What the file says of a part beside its name."""
    if by != "part":
        return ""
    told = [names[part] for names in (mesh.part_elements, mesh.part_storeys) if names]
    return ", ".join(filter(None, told))


@bp.get("/projects/<int:project_id>/parts/<by>")
def part_list(project_id: int, by: str) -> Response:
    """What the model consists of, in the order of the file; what has the same name is one line."""
    wanted = next((known for known in get_args(ListedBy) if known == by), None) or abort(404)
    _, laid = laid_by_id(project_id)
    with computing().short:
        surface, mesh = laid.surface, laid.surface.mesh
        names, of_face = _named(mesh, wanted)
        numbers: dict[str, int] = {}
        of_name = np.array([numbers.setdefault(name, len(numbers)) for name in names] + [-1], np.int32)
        group = of_name[of_face]
        order = np.argsort(group, kind="stable").astype(np.int32)
        bounds = np.searchsorted(group[order], np.arange(len(numbers) + 1))
        out = []
        for name, number in numbers.items():
            faces = order[bounds[number] : bounds[number + 1]]
            if not len(faces):
                continue
            parts = distinct(mesh.face_part[faces])
            out.append(
                PartGroup(
                    name=name,
                    stated=_stated(mesh, wanted, int(parts[0])),
                    parts=len(parts),
                    first_face=int(faces[0]),
                    faces=len(faces),
                    area_m2=float(surface.face_areas[faces].sum()) / 1e6,
                    lies=what_lies(laid, faces),
                    pick=pick_model(_rule(wanted, name)),
                )
            )
    return answers(PartGroup, out)


@bp.get("/projects/<int:project_id>/framed")
def framed(project_id: int) -> Response:
    """What matters of the model: where the eye looks when the project is opened."""
    _, laid = laid_by_id(project_id)
    with computing().short:
        parts = framed_parts(laid.surface, laid.schedule.covering().face_finish != BARE)
    return answer(Framed(parts=parts))
