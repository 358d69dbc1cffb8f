"""Replacing a project's model by a newer one, and the list of what that changed."""

from __future__ import annotations

from dataclasses import replace as replace_fields

from flask import Blueprint, Response

from pivrel.core.geometry.surface import Surface
from pivrel.errors import NotFoundError
from pivrel.formats.imported import Imported
from pivrel.formats.units import MM
from pivrel.project.appearance import laid
from pivrel.project.laid import LaidProject
from pivrel.project.placing import Reading, move_between, moved_mesh
from pivrel.project.revision import Item, Revision, listed, read_list, revised
from pivrel.recipe import changed
from pivrel.store import blobs, journal, projects
from pivrel.store.documents import Contents
from pivrel.store.projects import Project
from pivrel.web.context import computing, database, service
from pivrel.web.state import project_state
from pivrel.web.turns import heavy
from pivrel.web.wire.base import answer, answers, asked
from pivrel.web.wire.imports import ItemFaces, Revising, RevisionItem

bp = Blueprint("revisions", __name__)


@bp.post("/projects/<int:project_id>/model")
@heavy
def replace(project_id: int) -> Response:
    """The project with the newer model; one edit, so that undo brings the old one back."""
    wanted = asked(Revising)
    waiting = service().imports.get(wanted.import_id)
    with database().reading() as db:
        project = projects.existing(db, project_id)
        journal.check_based(db, project_id, wanted.revision)
        old = laid(db, computing(), project)
    imported, facts = waiting.model(wanted)
    imported, done, said = _carried_over(project, old.contents, old.surface, imported)
    # A newer model takes over how the one before was placed.
    placed = project.model
    facts = changed(facts, unit=imported.unit, up=imported.up, shift_mm=placed.shift_mm, placed=placed.placed)
    came, items = waiting.came(imported), blobs.Blob.of(listed(done.items))
    with database().transaction(ahead=[items, *came.blobs]) as db:
        facts = came.keep(db, facts)
        facts = changed(facts, revision=blobs.put(db, items))
        change = journal.model_change(project, blobs.put(db, came.mesh), facts)
        changes = [change, *journal.changes_between(old.contents, done.contents)]
        journal.write(db, project_id, wanted.revision, f"newer model {waiting.job.model.name}", changes)
    service().imports.drop(wanted.import_id)
    with database().reading() as db:
        project = projects.existing(db, project_id)
        return answer(project_state(db, project, laid(db, computing(), project), said))


def _carried_over(
    project: Project, before: Contents, old: Surface, imported: Imported
) -> tuple[Imported, Revision, str | None]:
    """The newer model read as the one before is, and what became of the finishes.

    A file that states no unit, and that is the old model but for the size of a unit, is read in that unit.
    """
    said = None
    placed = Reading.of(project.model)
    if project.model.placed:
        move = move_between(Reading(imported.unit, imported.up), placed)
        imported = replace_fields(
            imported, mesh=moved_mesh(imported.mesh, move), unit=placed.unit, up=placed.up
        )
    with computing().long_work():
        done = revised(before, old, Surface(imported.mesh))
        unit = _unit_meant(imported, done.scale)
        if imported.asks and unit != imported.unit:
            imported = imported.read_as(unit, imported.up)
            done = revised(before, old, Surface(imported.mesh))
            said = f"the newer file has its numbers in {unit}, so that the model has the size that it had"
    return imported, done, said


def _unit_meant(imported: Imported, scale: float) -> str:
    """The unit in which a model has the size of the one before; its own where no unit makes up for the scale."""
    wanted = MM[imported.unit] / scale
    return next((unit for unit, mm in MM.items() if abs(mm - wanted) <= 1e-3 * wanted), imported.unit)


def _items(project_id: int) -> tuple[list[Item], Project, LaidProject]:
    """The list of the model in force, the project, and the project laid."""
    with database().reading() as db:
        project = projects.existing(db, project_id)
        kept = project.model.revision
        if not kept:
            raise NotFoundError("this model has not taken the place of another")
        return read_list(blobs.get(db, kept)), project, laid(db, computing(), project)


@bp.get("/projects/<int:project_id>/revision")
def revision(project_id: int) -> Response:
    """What the newer model changed, item by item; open: whether a doubtful one still waits for an answer."""
    items, project, project_laid = _items(project_id)
    answered = set(project.model.answered)
    face_finish = project_laid.schedule.covering().face_finish
    rows = {key: row for row, key in enumerate(project_laid.keys)}

    def is_open(item: Item) -> bool:
        if item.what != "doubtful" or item.was not in rows:
            return item.asks
        return item.asks or bool((face_finish[item.faces] != rows[item.was]).any())

    return answers(
        RevisionItem,
        [
            RevisionItem(
                what=item.what,
                part=item.part,
                former=item.former,
                finish=item.finish,
                was=item.was,
                faces=len(item.faces),
                area_m2=item.area_m2,
                confidence=item.confidence,
                asks=item.asks,
                open=number not in answered and is_open(item),
            )
            for number, item in enumerate(items)
        ],
    )


@bp.get("/projects/<int:project_id>/revision/<int:number>")
def faces(project_id: int, number: int) -> Response:
    """The faces of an item of the list."""
    items, *_ = _items(project_id)
    if number >= len(items):
        raise NotFoundError(f"the list has no item {number}")
    return answer(ItemFaces(faces=items[number].faces.tolist()))
