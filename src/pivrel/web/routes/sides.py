"""The sides of a finish that lie otherwise than the rest, by names that a person can find them by."""

from __future__ import annotations

import numpy as np
from flask import Blueprint, Response

from pivrel.core.arrays import Ints
from pivrel.core.geometry.surface import Surface
from pivrel.core.picks import as_faces, resolve
from pivrel.project.edits.balance import cuts_told
from pivrel.web.context import computing, known_finish, laid_by_id
from pivrel.web.wire.base import answer
from pivrel.web.wire.laying import AdjustedSide, AdjustedSides

bp = Blueprint("sides", __name__)

DIRECTIONS = (("left", "right"), ("front", "back"), ("underside", "top"))
"""What looks along the minus and the plus of each axis."""

LEANING = 0.38
"""A side that turns more than this towards another axis (22.5 degrees) is named by both."""


@bp.get("/projects/<int:project_id>/sides/<finish>")
def sides(project_id: int, finish: str) -> Response:
    """The adjustments of a finish, in their order."""
    _, laid = laid_by_id(project_id)
    known_finish(laid, finish)
    with computing().short:
        adjust = laid.finish(finish).adjust
        named = [_named(laid.surface, as_faces(resolve(a.pick, laid.surface))) for a in adjust]
        shown = adjust and len(laid.schedule.drawn(finish))
        cuts = cuts_told(laid, finish) if shown else None
    return answer(AdjustedSides(sides=named, cuts=cuts))


def _named(surface: Surface, faces: Ints) -> AdjustedSide:
    area = float(surface.face_areas[faces].sum()) / 1e6
    # Near enough the mean: large faces have long normals.
    mean = surface.normals[faces].sum(axis=0)
    length = float(np.linalg.norm(mean))
    if length < 0.5 * np.linalg.norm(surface.normals[faces], axis=1).sum():
        words = ["round"]
    else:
        towards = mean / length
        words = [DIRECTIONS[k][int(towards[k] > 0)] for k in range(3) if abs(towards[k]) > LEANING]
    size = f"{area:.2f} m²" if area >= 0.1 else f"{area * 1e4:.0f} cm²"
    return AdjustedSide(name=f"{' '.join(words)}, {size}", faces=len(faces))
