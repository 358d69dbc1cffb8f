"""The materials that a model brought: what each covers, and how large its images lie there."""

from __future__ import annotations

from flask import Blueprint, Response

from pivrel.core.picks import as_faces
from pivrel.project.sources import estimated_size
from pivrel.web.context import computing, laid_by_id
from pivrel.web.wire.base import answers
from pivrel.web.wire.project import SourceUse

bp = Blueprint("sources", __name__)


@bp.get("/projects/<int:project_id>/sources")
def source_list(project_id: int) -> Response:
    """Of each source material, in order: its faces and area, how much of it is bare, and its estimated size."""
    _, laid = laid_by_id(project_id)
    with computing().short:
        surface, mesh = laid.surface, laid.surface.mesh
        bare = surface.held(laid.schedule.bare())
        out = []
        for number in range(len(mesh.sources)):
            own = as_faces(mesh.source_of_face == number)
            size = estimated_size(surface, number)
            out.append(
                SourceUse(
                    faces=len(own),
                    area_m2=float(surface.face_areas[own].sum()) / 1e6,
                    bare_m2=float(surface.face_areas[own[bare[own]]].sum()) / 1e6,
                    repeat_mm=(round(size.width_mm, 2), round(size.height_mm, 2)) if size else None,
                    true_share=size.true_share if size else None,
                )
            )
    return answers(SourceUse, out)
