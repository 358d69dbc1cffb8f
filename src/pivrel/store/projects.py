"""Projects and what they consist of."""

from __future__ import annotations

import json
import re
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal

from pivrel.errors import NotFoundError
from pivrel.store import uses
from pivrel.store.connection import Connection, Pulse
from pivrel.store.documents import (
    DOCUMENTS,
    Change,
    Contents,
    Document,
    LibraryBody,
    ModelFacts,
    read_document,
    remember_document,
)
from pivrel.store.stored import stored
from pivrel.store.times import now


@dataclass(frozen=True)
class Project:
    """A row of the projects table."""

    id: int
    name: str
    demo: str | None
    mesh: str
    model: ModelFacts
    revision: int
    cursor: int
    created_at: str
    used_at: str
    aside: int = 0


def create(db: Connection, name: str, mesh: str, model: ModelFacts, demo: str | None = None) -> int:
    """Adds a project; its id."""
    (number,) = db.execute(
        "UPDATE numbered SET last_project = last_project + 1 RETURNING last_project"
    ).fetchone()
    db.execute(
        "INSERT INTO project (id, name, demo, mesh, model, created_at, used_at) VALUES (?, ?, ?, ?, ?, ?, ?)",
        (number, name, demo, mesh, model.model_dump_json(), now(), now()),
    )
    hold(db, number, mesh, model)
    return int(number)


def hold(db: Connection, project_id: int, mesh: str, model: ModelFacts) -> None:
    """Notes that a project's model consists of these bytes, in place of those before."""
    uses.note(db, "project_blob", {"project_id": project_id}, uses.of_model(mesh, model.model_dump()))


def put_model(db: Connection, project_id: int, mesh: str, model: ModelFacts) -> None:
    """Gives a project another model, without a journal row."""
    db.execute(
        "UPDATE project SET mesh = ?, model = ? WHERE id = ?", (mesh, model.model_dump_json(), project_id)
    )
    hold(db, project_id, mesh, model)


def put_document(
    db: Connection,
    project_id: int,
    kind: str,
    document: Document[Any],
    table: Literal["document", "forgotten"] = "document",
) -> None:
    """Adds or renews a document; in `forgotten` one that was taken away, to be taken back."""
    owner = {"project_id": project_id, "kind": kind, "key": document.key}
    db.execute(
        f"INSERT INTO {table} (project_id, kind, key, position, body) VALUES (?, ?, ?, ?, ?) "
        "ON CONFLICT (project_id, kind, key) DO UPDATE SET "
        "position = excluded.position, body = excluded.body",
        (*owner.values(), document.position, document.text),
    )
    uses.note(db, f"{table}_blob", owner, uses.of_body(kind, document.fields))
    if table == "document":
        remember_document(db, kind, document)


def _project(row: sqlite3.Row) -> Project:
    return Project(**{**dict(row), "model": stored(ModelFacts, json.loads(row["model"]))[0]})


def get(db: Connection, project_id: int) -> Project | None:
    """One project, or None."""
    row = db.execute("SELECT * FROM project WHERE id = ?", (project_id,)).fetchone()
    return _project(row) if row else None


def existing(db: Connection, project_id: int) -> Project:
    """One project; NotFoundError where there is none of this number."""
    found = get(db, project_id)
    if found is None:
        raise NotFoundError(f"there is no project {project_id}")
    return found


def get_all(db: Connection) -> list[Project]:
    """Every project, the one last used first."""
    rows = db.execute("SELECT * FROM project ORDER BY used_at DESC, id DESC")
    return [_project(row) for row in rows]


def pulse(db: Connection, project_id: int) -> Pulse | None:
    """The revision of a project, and the count of changes beside the result; None where there is no project."""
    row = db.execute("SELECT revision, aside FROM project WHERE id = ?", (project_id,)).fetchone()
    return (row["revision"], row["aside"]) if row else None


def finish_counts(db: Connection) -> dict[int, int]:
    """How many finishes each project has, by its id."""
    rows = db.execute("SELECT project_id, count(*) FROM document WHERE kind = 'finish' GROUP BY project_id")
    return {row[0]: row[1] for row in rows}


def demo_keys(db: Connection) -> set[str]:
    """Which demo projects are there."""
    return {row[0] for row in db.execute("SELECT demo FROM project WHERE demo IS NOT NULL")}


def rename(db: Connection, project_id: int, name: str) -> None:
    """Gives a project another name."""
    db.execute("UPDATE project SET name = ? WHERE id = ?", (name, project_id))


def delete(db: Connection, project_id: int) -> None:
    """Removes a project with its journal; bytes that nothing else refers to go at the end of the transaction."""
    db.execute("DELETE FROM project WHERE id = ?", (project_id,))


def contents(db: Connection, project_id: int) -> Contents:
    """The documents of a project, each kind in order; the same ones until something is written, so never changed."""
    at = pulse(db, project_id)
    if at is None or db.written is not None:
        # What is being written may never be committed.
        return _read_contents(db, project_id)
    found: Contents | None = db.committed.held((project_id, at))
    if found is None:
        found = _read_contents(db, project_id)
        keep_contents(db, project_id, at, found)
    return found


def keep_contents(db: Connection, project_id: int, at: Pulse, found: Contents) -> None:
    """Spares contents that are committed from being read again. at: the project's pulse with them."""
    db.committed.put((project_id, at), found, 1, str(project_id))


def note_changes(db: Connection, project_id: int, changes: Iterable[Change]) -> None:
    """Notes what the open write transaction changes of a project's documents, before its pulse moves on."""
    at = pulse(db, project_id)
    if at is not None and db.written is not None:
        db.written.setdefault(project_id, (at, []))[1].extend(changes)


def carried_on(db: Connection) -> dict[tuple[int, Pulse], Contents]:
    """The contents, by project and pulse, that are there once the open write transaction is committed.

    Of the projects that it changes those whose contents before are kept.
    """
    out = {}
    for project_id, (was, changes) in (db.written or {}).items():
        before: Contents | None = db.committed.held((project_id, was))
        now_at = pulse(db, project_id)
        if before is not None and now_at is not None:
            out[project_id, now_at] = before.with_changes(changes)
    return out


def _read_contents(db: Connection, project_id: int) -> Contents:
    out = Contents()
    rows = db.execute(
        "SELECT kind, key, position, body FROM document WHERE project_id = ? ORDER BY position, key",
        (project_id,),
    )
    for row in rows:
        out.of(row["kind"])[row["key"]] = read_document(
            db, row["kind"], row["key"], row["position"], row["body"]
        )
    return out


Library = dict[str, Document[LibraryBody]]


def library(db: Connection) -> Library:
    """The materials of the library by key: those that come with Pivrel, and the artist's own."""
    rows = db.execute("SELECT key, position, body FROM library_material ORDER BY position")
    needed = DOCUMENTS["material"].needed
    return {
        r["key"]: Document(r["key"], r["position"], stored(LibraryBody, json.loads(r["body"]), needed)[0])
        for r in rows
    }


def put_library(db: Connection, key: str, position: int, body: LibraryBody) -> None:
    """Adds or renews a material of the library."""
    db.execute(
        "INSERT INTO library_material (key, position, body) VALUES (?, ?, ?) "
        "ON CONFLICT (key) DO UPDATE SET position = excluded.position, body = excluded.body",
        (key, position, body.model_dump_json()),
    )
    uses.note(db, "library_blob", {"key": key}, uses.of_body("material", body.model_dump()))


def add_own(db: Connection, body: LibraryBody) -> Document[LibraryBody]:
    """Adds a material of the artist's own under a free key and name."""
    there = library(db)
    taken = set(there) | set(uses_of_materials(db))
    stem = re.sub(r"[^a-z0-9]+", "-", body.name.lower()).strip("-")[:60] or "material"
    key, count = stem, 2
    while key in taken:
        key, count = f"{stem}-{count}", count + 1
    names = {d.body.name for d in there.values()}
    name, count = body.name, 2
    while name in names:
        name, count = f"{body.name} {count}", count + 1
    position = max((d.position for d in there.values()), default=0) + 1
    own = body.model_copy(update={"name": name, "own": True})
    put_library(db, key, position, own)
    return Document(key, position, own)


def delete_library(db: Connection, key: str) -> None:
    """Takes a material out of the library; projects keep what they use of it."""
    db.execute("DELETE FROM library_material WHERE key = ?", (key,))


def uses_of_materials(db: Connection) -> dict[str, list[tuple[int, str]]]:
    """(id, name) of the projects that hold each material, by its key."""
    rows = db.execute(
        "SELECT d.key, p.id, p.name FROM document d JOIN project p ON p.id = d.project_id "
        "WHERE d.kind = 'material' ORDER BY p.used_at DESC, p.id DESC"
    )
    out: dict[str, list[tuple[int, str]]] = {}
    for row in rows:
        out.setdefault(row["key"], []).append((row["id"], row["name"]))
    return out
