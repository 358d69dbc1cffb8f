"""What the looks draw over the model: stretch, seams, grain, and the figures of one face."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np
from flask import Blueprint, Response, abort, request

from pivrel.core.content_key import content_key
from pivrel.core.laying import BARE
from pivrel.core.measure.grain_strokes import MOST, grain_strokes
from pivrel.core.schedule import Schedule
from pivrel.errors import NotFoundError
from pivrel.materials.channels import CHANNELS
from pivrel.project.appearance import laid
from pivrel.project.textures import textures_by_key
from pivrel.store import projects
from pivrel.web.context import computing, database, known_finish, laid_by_id, triple
from pivrel.web.packet import packet
from pivrel.web.state import view_origin
from pivrel.web.turns import heavy
from pivrel.web.wire.base import answer
from pivrel.web.wire.laying import ChannelSeams, FaceFigures, SeamsHeader, StrokesHeader

bp = Blueprint("looks", __name__)

STROKES_ACROSS = 90
"""Strokes along the model's longest side where no spacing is asked for."""


@bp.get("/projects/<int:project_id>/looks/stretch")
def stretch_look(project_id: int) -> Response:
    """low, high: (F,) float32 stretch; kind: (F,) uint8: 0 true, 1 bare, 2 smeared, 3 mirrored."""
    _, laid = laid_by_id(project_id)
    with computing().short:
        count = laid.surface.mesh.face_count
        low, high = np.ones(count, "<f4"), np.ones(count, "<f4")
        kind = np.ones(count, np.uint8)
        for key, found in laid.schedule.of_each(laid.schedule.face_stretch).items():
            faces = laid.schedule.drawn(key)
            low[faces], high[faces], kind[faces] = found.low, found.high, found.kind
    return packet(None, low=low, high=high, kind=kind)


@bp.get("/projects/<int:project_id>/looks/channels/<finish>")
@heavy
def channel_seams(project_id: int, finish: str) -> Response:
    """Where the channels of a finish, with all of its coats, do not run on; those that it has images of."""
    with database().reading() as db:
        project = projects.existing(db, project_id)
        found = laid(db, computing(), project)
        stated = found.stated(known_finish(found, finish))
        materials = {key: found.contents.materials[key].text for key in stated.material_ids}
        textures = textures_by_key(db, found.contents, materials)
    with computing().long_work():
        jumps = found.schedule.jumps(
            finish, textures, content_key(found.contents.finishes[finish].text, materials)
        )
    broken = {
        channel: jumps.broken_mm(channel) / 1000
        for channel in CHANNELS
        if channel == "base_color" or any(getattr(one, channel) is not None for one in textures.values())
    }
    return answer(ChannelSeams(edges_m=float(jumps.length_mm.sum()) / 1000, broken_m=broken))


@bp.get("/projects/<int:project_id>/looks/seams")
def seams_look(project_id: int) -> Response:
    """Where the pattern breaks within a finish: lines (E, 2, 3) float32 from the view's origin.

    gap: (E,) mm; row: (E,) of the schedule. The header has their length in m and the worst gap with its place.
    joints (J, 2, 3): where the images differ, but the joints of both sides run on; joints_m: how long that is.
    """
    _, laid = laid_by_id(project_id)
    with computing().short:
        surface = laid.surface
        near = surface.mesh.points - np.array(view_origin(surface.bounds))
        lines: list[Any] = [np.zeros((0, 2, 3))]
        gaps: list[Any] = [np.zeros(0)]
        rows: list[Any] = [np.zeros(0)]
        joints: list[Any] = [np.zeros((0, 2, 3))]
        length = joints_m = 0.0
        row_of = {key: row for row, key in enumerate(laid.keys)}
        for key, seams in laid.schedule.of_each(laid.schedule.seams).items():
            row = row_of[key]
            broken = seams.broken & (seams.length_mm > 0)
            lines.append(near[surface.ends_of(seams.pairs[broken, 0])])
            joints.append(near[surface.ends_of(seams.pairs[seams.joints, 0])])
            joints_m += float(seams.length_mm[seams.joints].sum()) / 1000
            gaps.append(seams.gap_mm[broken])
            rows.append(np.full(int(broken.sum()), row))
            length += float(seams.length_mm[broken].sum()) / 1000
    line, gap = np.concatenate(lines), np.concatenate(gaps)
    worst = int(np.argmax(gap)) if len(gap) else None
    header = SeamsHeader(
        length_m=length,
        joints_m=joints_m,
        worst_gap_mm=float(gap[worst]) if worst is not None else 0.0,
        worst_at=triple(line[worst].mean(axis=0)) if worst is not None else None,
    )
    return packet(
        header,
        lines=line.astype("<f4"),
        gap=gap.astype("<f4"),
        row=np.concatenate(rows).astype("<i2"),
        joints=np.concatenate(joints).astype("<f4"),
    )


@bp.get("/projects/<int:project_id>/looks/grain")
def grain_look(project_id: int) -> Response:
    """Strokes along the grain: lines (N, 2, 3) float32 from the view's origin, `spacing` mm apart."""
    _, laid = laid_by_id(project_id)
    with computing().short:
        surface = laid.surface
        size = float((surface.bounds[1] - surface.bounds[0]).max())
        spacing = request.args.get("spacing", size / STROKES_ACROSS, type=float)
        if not 0 < spacing < 1e9:
            abort(422, "the spacing of strokes must be above zero")
        least = float(np.sqrt(max(surface.area_m2, 1e-12) * 1e6 / MOST))
        spacing = rounded_up(max(spacing, least))
        settled = laid.schedule.of_each(laid.schedule.settled)
        strokes: list[Any] = [np.zeros((0, 2, 3))]
        for key, one in settled.items():
            strokes.append(grain_strokes(surface, laid.finish(key), laid.schedule.drawn(key), one, spacing))
        lines = np.concatenate(strokes) - np.array(view_origin(surface.bounds))
    return packet(StrokesHeader(spacing_mm=spacing), lines=lines.astype("<f4"))


def rounded_up(mm: float) -> float:
    """The next of 1, 2, 5, 10, … mm (and their tenths)."""
    power = 10.0 ** np.floor(np.log10(mm))
    return float(next(power * lead for lead in (1, 2, 5, 10) if power * lead >= mm * (1 - 1e-9)))


@bp.get("/projects/<int:project_id>/faces/<int:face>")
def face(project_id: int, face: int) -> Response:
    """The figures of one face."""
    _, laid = laid_by_id(project_id)
    mesh, schedule = laid.surface.mesh, laid.schedule
    if face >= mesh.face_count:
        raise NotFoundError(f"face {face} does not exist")
    row = int(schedule.covering().face_finish[face])
    bare = FaceFigures(
        face=face,
        part=mesh.part_names[mesh.face_part[face]],
        area_m2=float(laid.surface.face_areas[face]) / 1e6,
    )
    return answer(bare if row == BARE else _laid_face(bare, schedule, laid.keys[row]))


def _laid_face(bare: FaceFigures, schedule: Schedule, key: str) -> FaceFigures:
    found = schedule.face_stretch(key)
    at = int(np.searchsorted(schedule.drawn(key), bare.face))
    kinds: tuple[Literal["true", "bare", "smeared", "mirrored"], ...] = (
        "true",
        "bare",
        "smeared",
        "mirrored",
    )
    return FaceFigures(
        face=bare.face,
        part=bare.part,
        area_m2=bare.area_m2,
        finish=key,
        name=schedule.finishes[key].name,
        least_stretch=float(found.low[at]),
        greatest_stretch=float(found.high[at]),
        kind=kinds[int(found.kind[at])],
    )
