"""The arrays that the view draws: geometry once, cover and layings as they change."""

from __future__ import annotations

import numpy as np
from flask import Blueprint, Response, request

from pivrel.core.arrays import Floats, Mask
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.measure.figures import Figures
from pivrel.core.schedule import Schedule
from pivrel.project.laid import LaidProject
from pivrel.web.arrays import as_bytes, cover_bytes, laying_array, laying_path
from pivrel.web.context import computing, known_finish, laid_by_id, outdated
from pivrel.web.packet import packet
from pivrel.web.state import view_origin
from pivrel.web.wire.base import answer, asked
from pivrel.web.wire.laying import FiguresByFinish, FiguresState, GeometryHeader, SeveralLayings, Totals

bp = Blueprint("geometry", __name__)


@bp.get("/projects/<int:project_id>/geometry")
def geometry(project_id: int) -> Response:
    """Points and normals by corner, triangles, which face, part and patch they are of, and creases; of each
    face also the material that it came with (-1: none), and the UV sets that came with it.

    Lengths in mm, float32, counted from the project's view origin. A normal's 1 is 32767: finer than any shade.
    """
    project, laid = laid_by_id(project_id)
    with computing().short:
        surface = laid.surface
        mesh, topology = surface.mesh, surface.topology
        near = mesh.points - np.array(view_origin(surface.bounds))
        patches = surface.patches()
        ends = topology.corner_face[topology.pairs]
        creases = patches[ends[:, 0]] != patches[ends[:, 1]]
        response = packet(
            GeometryHeader(parts=list(mesh.part_names), uv_sets=len(mesh.uv_sets)),
            position=near[mesh.corners].astype("<f4"),
            normal=np.round(surface.shading_normals * 32767).astype("<i2"),
            index=surface.triangles.astype("<u4"),
            triangle_face=surface.triangle_face.astype("<u4"),
            face_start=mesh.face_start.astype("<u4"),
            face_part=mesh.face_part.astype("<u4"),
            face_source=_sources(mesh),
            **{f"uv_{k}": np.nan_to_num(uv).astype("<f4") for k, uv in enumerate(mesh.uv_sets)},
            **_lines(laid, near, creases),
        )
    # The number counts what this answer is made of: a browser may hold an older one of the same mesh.
    response.set_etag(f"3 {project.mesh}")
    response.make_conditional(request)
    return response


def _sources(mesh: Mesh) -> np.ndarray:
    source = mesh.face_source
    return np.full(mesh.face_count, -1, "<i2") if source is None else source.astype("<i2")


def _lines(laid: LaidProject, near: Floats, chosen: Mask) -> dict[str, np.ndarray]:
    """The edges between faces that are chosen, and the open ones: their ends, and the faces at their sides."""
    topology = laid.surface.topology
    drawn = np.concatenate([topology.pairs[chosen], np.repeat(topology.open_edges[:, None], 2, axis=1)])
    return {
        "lines": near[laid.surface.ends_of(drawn[:, 0])].astype("<f4"),
        "line_faces": topology.corner_face[drawn].astype("<u4"),
    }


@bp.get("/projects/<int:project_id>/edges")
def edges(project_id: int) -> Response:
    """Every edge of every face, as `geometry` gives the creases."""
    project, laid = laid_by_id(project_id)
    with computing().short:
        surface = laid.surface
        near = surface.mesh.points - np.array(view_origin(surface.bounds))
        every = np.ones(len(surface.topology.pairs), bool)
        response = packet(None, **_lines(laid, near, every))
    response.set_etag(f"edges {project.mesh}")
    response.make_conditional(request)
    return response


@bp.get("/projects/<int:project_id>/cover")
def cover(project_id: int) -> Response:
    """base: (F,) int16, the row of the schedule that each face takes, -1 where it is bare.

    Rows of single sheets are left out of it; for each of them "over_<row>" has the faces (uint32) that
    it lies over, in the order of the schedule.
    """
    schedule = laid_by_id(project_id)[1].schedule
    if outdated(schedule.cover_key):
        return Response(status=204)
    return as_bytes(cover_bytes(schedule), schedule.cover_key)


@bp.get("/projects/<int:project_id>/laying/<finish>")
def laying(project_id: int, finish: str) -> Response:
    """(K, 2) float32 mm for the corners of the faces that the finish is laid on, in face order."""
    _, laid = laid_by_id(project_id)
    schedule = laid.schedule
    if outdated(schedule.laying_key(known_finish(laid, finish))):
        return Response(status=204)
    return as_bytes(laying_array(schedule, finish).tobytes(), schedule.laying_key(finish))


@bp.post("/projects/<int:project_id>/layings")
def layings(project_id: int) -> Response:
    """The layings of several finishes at once, each an array of bytes by its address under the project's."""
    _, laid = laid_by_id(project_id)
    schedule = laid.schedule
    wanted = [known_finish(laid, key) for key in asked(SeveralLayings).finishes]
    return packet(None, **{laying_path(schedule, key): laying_array(schedule, key) for key in wanted})


@bp.get("/projects/<int:project_id>/figures")
def figures(project_id: int) -> Response:
    """What is measured of every finish, by its code; or of those named alone ("of", several times).

    A finish that cannot be measured is left out: its row says why.
    """
    _, laid = laid_by_id(project_id)
    wanted = [known_finish(laid, key) for key in request.args.getlist("of")] or laid.keys
    found = laid.schedule.of_each(laid.schedule.figures, wanted)
    return answer(FiguresByFinish({key: _figures(laid.schedule, key, f) for key, f in found.items()}))


@bp.get("/projects/<int:project_id>/totals")
def totals(project_id: int) -> Response:
    """The figures of the whole schedule: what its one line says while it is closed."""
    schedule = laid_by_id(project_id)[1].schedule
    figures = schedule.of_each(schedule.figures).values()
    areas, bare_m2 = schedule.shown_areas()
    return answer(
        Totals(
            finishes=len(schedule.keys),
            area_m2=sum(areas.values()),
            bare_faces=len(schedule.bare()),
            bare_m2=bare_m2,
            smeared_m2=sum(f.smeared_m2 for f in figures),
            mirrored_m2=sum(f.mirrored_m2 for f in figures),
            seams_m=sum(f.seams_m for f in figures),
        )
    )


def _figures(schedule: Schedule, key: str, f: Figures) -> FiguresState:
    return FiguresState(
        laying_key=schedule.laying_key(key),
        true_share=f.true_share,
        least_stretch=f.least_stretch,
        greatest_stretch=f.greatest_stretch,
        smeared_m2=f.smeared_m2,
        mirrored_m2=f.mirrored_m2,
        seams_m=f.seams_m,
        joints_m=f.joints_m,
        worst_gap_mm=f.worst_gap_mm,
        closings=list(f.closings),
    )
