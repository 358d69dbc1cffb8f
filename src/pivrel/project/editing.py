"""An edit carried out: worked out before the write lock is taken, written only on what it was based on."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

from pivrel.project.appearance import laid, source_images
from pivrel.project.computing import Computing
from pivrel.project.edits.base import Before, Done
from pivrel.project.edits.registry import ResultEdit
from pivrel.project.laid import LaidProject
from pivrel.project.losses import given_up_by
from pivrel.store import blobs, journal, projects
from pivrel.store.blobs import Blob
from pivrel.store.database import Database
from pivrel.store.projects import Project


@dataclass(frozen=True)
class Edited:
    """A project after an edit, and what it was before. said: what the artist should know of it."""

    was: tuple[Project, LaidProject]
    project: Project
    laid: LaidProject
    said: str | None


def carry_out(
    database: Database, computing: Computing, project_id: int, revision: int, edit: ResultEdit
) -> Edited:
    """Carries out an edit of a project that is there.

    Nothing is computed while the write lock is held. OutdatedError where the project has moved on.
    """
    with database.reading() as db:
        project = projects.existing(db, project_id)
        journal.check_based(db, project_id, revision)
        now = laid(db, computing, project)
        before = Before(project, now, partial(projects.library, db), lambda: source_images(db, project)[0])
        done = edit.done(before)
    then = now.with_contents(done.contents)
    lost = [] if done.model else given_up_by(now, then)
    after = _write(database, project, revision, now, done)
    given_up = "Given up: " + "; ".join(lost) if lost else None
    said = ". ".join(part for part in (done.said, given_up) if part) or None
    if done.model is not None:
        with database.reading() as db:
            return Edited((project, now), after, laid(db, computing, after, done.contents), said)
    return Edited((project, now), after, then, said)


def _write(database: Database, project: Project, revision: int, before: LaidProject, done: Done) -> Project:
    """Writes what an edit made of a project; the project as it is then."""
    changes = journal.changes_between(before.contents, done.contents)
    moved = done.model.mesh if done.model is not None else None
    images = [Blob.of(image.data) for image in done.images]
    with database.transaction(ahead=[*images, moved] if moved else images) as db:
        for image in images:
            blobs.put(db, image)
        if done.model is not None:
            mesh = blobs.put(db, moved) if moved else project.mesh
            changes = [journal.model_change(project, mesh, done.model.facts), *changes]
        # An edit that changes nothing leaves no row to undo; an outdated one is refused all the same.
        if changes:
            journal.write(db, project.id, revision, done.label, changes)
        else:
            journal.check_based(db, project.id, revision)
        return projects.existing(db, project.id)
