"""A project put together for the browser."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import asdict

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.coats.sheet_over import SheetOver
from pivrel.core.content_key import content_key
from pivrel.core.evaluation.settling import has_face_tones
from pivrel.core.failures import RowError
from pivrel.core.geometry.mesh import SourceMaterial
from pivrel.core.geometry.surface import Surface
from pivrel.core.schedule import Schedule
from pivrel.materials.checker import square_for
from pivrel.project.laid import LaidProject
from pivrel.recipe import DatumModel, GrainModel
from pivrel.recipe.pick_phrases import pick_phrase
from pivrel.store import journal
from pivrel.store.connection import Connection
from pivrel.store.documents import Contents, Document, MaterialBody, ViewBody
from pivrel.store.projects import Project
from pivrel.web.context import Triple, triple
from pivrel.web.wire import project as wire
from pivrel.web.wire.coats import OverState

BY_SHEET = GrainModel(along="sheet")


def view_origin(bounds: Floats) -> Triple:
    """Where the view's float32 coordinates begin, in mm: zero unless the model lies far away."""
    centre = bounds.mean(axis=0)
    reach = float(np.abs(bounds[1] - bounds[0]).max())
    return triple(np.round(centre, -3) if np.abs(centre).max() > 20 * reach else np.zeros(3))


def project_state(
    db: Connection, project: Project, laid: LaidProject, said: str | None = None
) -> wire.ProjectState:
    """Revision, undo and redo, model, materials and schedule of a project; said: of the edit that this answers."""
    undo, redo = journal.neighbours(db, project.id, project.cursor)
    schedule, contents = laid.schedule, laid.contents
    areas, bare_m2 = schedule.shown_areas()
    return wire.ProjectState(
        id=project.id,
        name=project.name,
        demo=project.demo,
        revision=project.revision,
        aside=project.aside,
        undo=undo,
        redo=redo,
        model=_model(project, laid.surface),
        materials={key: _material(document) for key, document in contents.materials.items()},
        finishes=[finish_state(laid, key, areas[key]) for key in laid.keys],
        pick_sets=_pick_sets(contents),
        views=[_view(document) for document in contents.views.values()],
        cover_key=schedule.cover_key,
        bare=wire.BareState(faces=len(schedule.bare()), area_m2=bare_m2),
        said=said,
    )


def project_change(
    db: Connection,
    was: tuple[Project, LaidProject],
    now: tuple[Project, LaidProject],
    said: str | None = None,
) -> wire.ProjectChange:
    """What is otherwise in a project than it was; whoever knows how it was knows with it how it is."""
    (before, then), (project, laid) = was, now
    undo, redo = journal.neighbours(db, project.id, project.cursor)
    areas, bare_m2 = laid.schedule.shown_areas()
    contents, old = laid.contents, then.contents
    return wire.ProjectChange(
        since=before.revision,
        name=project.name,
        revision=project.revision,
        aside=project.aside,
        undo=undo,
        redo=redo,
        model=_model(project, laid.surface)
        if project.model != before.model or project.mesh != before.mesh
        else None,
        materials=None
        if contents.materials == old.materials
        else {key: _material(document) for key, document in contents.materials.items()},
        order=None if laid.keys == then.keys else laid.keys,
        finishes=[finish_state(laid, key, areas[key]) for key in rows_otherwise(then, laid, areas)],
        pick_sets=None if contents.pick_sets == old.pick_sets else _pick_sets(contents),
        views=None if contents.views == old.views else [_view(d) for d in contents.views.values()],
        cover_key=laid.schedule.cover_key,
        bare=wire.BareState(faces=len(laid.schedule.bare()), area_m2=bare_m2),
        said=said,
    )


def rows_otherwise(then: LaidProject, now: LaidProject, areas: Mapping[str, float]) -> list[str]:
    """The codes of the rows that are new or otherwise than they were, in their order. areas: m² that show each now."""
    was, schedule = then.schedule, now.schedule
    earlier, finishes, documents = was.finishes, schedule.finishes, then.contents.finishes
    new = {
        key
        for key, document in now.contents.finishes.items()
        if documents.get(key) is not document or earlier[key] is not finishes[key]
    }
    same_cover = was.covering() is schedule.covering()
    if same_cover and not schedule.covering().layers.singles:
        return [key for key in now.keys if key in new]
    areas_then = was.shown_areas()[0]

    def is_same(key: str) -> bool:
        return areas[key] == areas_then[key] and (
            same_cover or was.laying_key(key) == schedule.laying_key(key)
        )

    return [key for key in now.keys if key in new or not is_same(key)]


def _pick_sets(contents: Contents) -> list[wire.PickSetState]:
    return [
        wire.PickSetState(key=key, name=d.body.name, pick=d.body.pick, words=pick_phrase(d.body.pick))
        for key, d in contents.pick_sets.items()
    ]


def _material(document: Document[MaterialBody]) -> wire.MaterialState:
    return wire.MaterialState(key=document.key, **dict(document.body))


def _view(document: Document[ViewBody]) -> wire.ViewState:
    return wire.ViewState(key=document.key, **dict(document.body))


def _model(project: Project, surface: Surface) -> wire.ModelState:
    facts, mesh, bounds = project.model, surface.mesh, surface.bounds
    return wire.ModelState(
        file=facts.file,
        unit=facts.unit,
        up=facts.up,
        found=facts.found,
        files=[wire.KeptFile(name=file.name, bytes=file.bytes) for file in facts.files],
        tolerance_mm=facts.tolerance_mm,
        placed=facts.placed,
        mesh=project.mesh,
        faces=mesh.face_count,
        triangles=len(surface.triangles),
        parts=len(mesh.part_names),
        bounds_mm=(triple(bounds[0], 3), triple(bounds[1], 3)),
        view_origin_mm=view_origin(bounds),
        checker_mm=square_for(float((bounds[1] - bounds[0]).max()) / 2),
        area_m2=surface.area_m2,
        revised=facts.revision is not None,
        exact=bool(mesh.exact),
        elements=any(mesh.part_elements),
        storeys=any(mesh.part_storeys),
        sources=[_source(source) for source in mesh.sources],
        uv_sets=len(mesh.uv_sets),
        shift_mm=facts.shift_mm or (0.0, 0.0, 0.0),
        note=facts.note,
    )


def _source(source: SourceMaterial) -> wire.SourceMaterial:
    """A material that the model brought, as the view draws it."""
    textures = {channel: wire.SourceTexture(**asdict(texture)) for channel, texture in source.textures}
    return wire.SourceMaterial(
        name=source.name,
        rgba=source.rgba,
        metallic=source.metallic,
        roughness=source.roughness,
        emissive=source.emissive,
        alpha=source.alpha,
        cutoff=source.cutoff,
        textures=textures,
    )


def finish_state(laid: LaidProject, key: str, area_m2: float) -> wire.FinishState:
    """A row of the schedule; the same one as long as nothing of it changes."""
    document = laid.contents.finishes[key]
    materials = tuple(laid.contents.materials[name].text for name in document.body.material_ids)
    return laid.computing.get(
        "rows",
        (key, document.text, materials, laid.schedule.laying_key(key), area_m2),
        lambda: _finish(laid, key, area_m2),
        lambda _: 4 * len(document.text) + 4000,
        f"row {key} {laid.whose}",
    )


def _finish(laid: LaidProject, key: str, area_m2: float) -> wire.FinishState:
    stated, finish, schedule = laid.stated(key), laid.finish(key), laid.schedule
    width, height = finish.material.repeat_mm
    return wire.FinishState(
        key=key,
        name=stated.name,
        material=stated.material,
        pick_words=pick_phrase(stated.pick),
        projection=stated.projection,
        datum=stated.datum,
        datum_for=stated.datum_for,
        grain=stated.grain or BY_SHEET,
        run_on=stated.run_on,
        variation=stated.variation,
        adjust=[
            wire.AdjustmentState(
                words=pick_phrase(a.pick),
                turn_deg=a.turn_deg,
                offset_mm=a.offset_mm,
                mirrored=a.mirrored,
                size=a.size,
            )
            for a in stated.adjust
        ],
        tie=stated.tie,
        tie_by=stated.tie_by,
        one_sheet=finish.is_one_sheet,
        turn_deg=finish.placement.turn_deg,
        grain_deg=stated.grain_deg,
        offset_mm=stated.offset_mm,
        scale=stated.scale,
        tile=stated.tile,
        repeat_mm=(width * abs(finish.scale[0]), height * abs(finish.scale[1])),
        faces=len(schedule.drawn(key)),
        held=bool(len(schedule.held(key))),
        failed=bool(schedule.failure(key)),
        troubles=schedule.troubles(key),
        area_m2=area_m2,
        laying_key=schedule.laying_key(key),
        raw_key=schedule.raw_key(key),
        on=stated.on,
        tint=stated.tint,
        lightness=stated.lightness,
        roughness=stated.roughness,
        bump=stated.bump,
        toned=[
            wire.TonedState(words=pick_phrase(t.pick), **{name: getattr(t, name) for name in TONED})
            for t in stated.toned
        ],
        tones_key=tones_key(schedule, key),
        spread=stated.spread,
        cells=stated.cells,
        coats=stated.coats,
        over=tuple(_over(schedule, key, sheet) for sheet in finish.sheets_over),
        lines_key=grids_key(schedule, key),
    )


TONED = ("pick", "tint", "lightness", "roughness", "bump")


def tones_key(schedule: Schedule, key: str) -> str | None:
    """Changes where the tones of a finish's faces may have changed; None where all have one."""
    finish = schedule.finishes[key]
    return (
        content_key(schedule.drawn_key(key), finish.toned, finish.spread) if has_face_tones(finish) else None
    )


def grids_key(schedule: Schedule, key: str) -> str | None:
    """Changes where the lines that the masks of a finish's coats are near to may have changed; None without such masks."""
    masks = schedule.finishes[key].near_masks
    return content_key([schedule.grid_key(key, mask) for mask in masks]) if masks else None


def _over(schedule: Schedule, key: str, sheet: SheetOver) -> OverState:
    if sheet.projection is None:
        return OverState(laying_key=None, datum=None)
    if not sheet.projection.blends:
        return OverState(laying_key=schedule.over_key(key, sheet), datum=None)
    datum = sheet.datum
    with suppress(RowError):
        datum = datum or schedule.laid_over(key, sheet).settled.pieces[0].datum
    if datum is None:
        return OverState(laying_key=None, datum=None)
    return OverState(laying_key=None, datum=DatumModel.of(datum))
