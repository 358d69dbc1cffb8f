"""Projects and what they consist of."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal

from pivrel.caching import Recent
from pivrel.store import uses
from pivrel.store.database import now


@dataclass(frozen=True)
class Project:
    """A row of the projects table."""

    id: int
    name: str
    demo: str | None
    mesh: str
    model: dict[str, Any]
    revision: int
    cursor: int
    created_at: str
    used_at: str
    aside: int = 0


@dataclass(frozen=True)
class Document:
    """A finish or a material of a project; body is what the recipe would say of it."""

    key: str
    position: int
    body: dict[str, Any]

    @cached_property
    def text(self) -> str:
        """The body as JSON."""
        return json.dumps(self.body)


_READ = Recent(32 << 20)


def _read(key: str, position: int, text: str) -> Document:
    """A stored document; the same object as long as its row stays the same, for picks can be long."""

    def make() -> Document:
        document = Document(key, position, json.loads(text))
        document.__dict__["text"] = text
        return document

    return _READ.get(f"{key} {position} {text}", make, lambda d: 4 * len(d.text) + 2000)


HELD_AS = {"material": "materials", "finish": "finishes", "pick_set": "pick_sets", "view": "views"}
"""Where `Contents` holds each kind of document."""


@dataclass
class Contents:
    """All documents of a project, each kind in its order."""

    finishes: dict[str, Document] = field(default_factory=dict)
    materials: dict[str, Document] = field(default_factory=dict)
    pick_sets: dict[str, Document] = field(default_factory=dict)
    views: dict[str, Document] = field(default_factory=dict)

    def of(self, kind: str) -> dict[str, Document]:
        """The documents of one kind by key."""
        found: dict[str, Document] = getattr(self, HELD_AS[kind])
        return found

    def copied(self) -> Contents:
        """Contents that can be changed without touching these."""
        return Contents(**{name: dict(getattr(self, name)) for name in HELD_AS.values()})


def create(
    db: sqlite3.Connection, name: str, mesh: str, model: dict[str, Any], demo: str | None = None
) -> int:
    """Adds a project; its id."""
    (number,) = db.execute(
        "UPDATE numbered SET last_project = last_project + 1 RETURNING last_project"
    ).fetchone()
    db.execute(
        "INSERT INTO project (id, name, demo, mesh, model, created_at, used_at) VALUES (?, ?, ?, ?, ?, ?, ?)",
        (number, name, demo, mesh, json.dumps(model), now(), now()),
    )
    hold(db, number, mesh, model)
    return int(number)


def hold(db: sqlite3.Connection, project_id: int, mesh: str, model: dict[str, Any]) -> None:
    """Notes that a project's model consists of these bytes, in place of those before."""
    uses.note(db, "project_blob", {"project_id": project_id}, uses.of_model(mesh, model))


def put_model(db: sqlite3.Connection, project_id: int, mesh: str, model: dict[str, Any]) -> None:
    """Gives a project another model, without a journal row."""
    db.execute("UPDATE project SET mesh = ?, model = ? WHERE id = ?", (mesh, json.dumps(model), project_id))
    hold(db, project_id, mesh, model)


def put_document(
    db: sqlite3.Connection,
    project_id: int,
    kind: str,
    document: Document,
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
    uses.note(db, f"{table}_blob", owner, uses.of_body(kind, document.body))


def _project(row: sqlite3.Row) -> Project:
    return Project(**{**dict(row), "model": json.loads(row["model"])})


def get(db: sqlite3.Connection, project_id: int) -> Project | None:
    """One project, or None."""
    row = db.execute("SELECT * FROM project WHERE id = ?", (project_id,)).fetchone()
    return _project(row) if row else None


def get_all(db: sqlite3.Connection) -> list[Project]:
    """Every project, the one last used first."""
    rows = db.execute("SELECT * FROM project ORDER BY used_at DESC, id DESC")
    return [_project(row) for row in rows]


def demo_keys(db: sqlite3.Connection) -> set[str]:
    """Which demo projects are there."""
    return {row[0] for row in db.execute("SELECT demo FROM project WHERE demo IS NOT NULL")}


def rename(db: sqlite3.Connection, project_id: int, name: str) -> None:
    """Gives a project another name."""
    db.execute("UPDATE project SET name = ? WHERE id = ?", (name, project_id))


def delete(db: sqlite3.Connection, project_id: int) -> None:
    """Removes a project with its journal; bytes that nothing else refers to go at the end of the transaction."""
    db.execute("DELETE FROM project WHERE id = ?", (project_id,))


def contents(db: sqlite3.Connection, project_id: int) -> Contents:
    """The finishes and materials of a project, in order."""
    out = Contents()
    rows = db.execute(
        "SELECT kind, key, position, body FROM document WHERE project_id = ? ORDER BY position, key",
        (project_id,),
    )
    for row in rows:
        out.of(row["kind"])[row["key"]] = _read(row["key"], row["position"], row["body"])
    return out


def library(db: sqlite3.Connection) -> dict[str, Document]:
    """The materials of the library by key: those that come with Pivrel, and the artist's own."""
    rows = db.execute("SELECT key, position, body FROM library_material ORDER BY position")
    return {r["key"]: Document(r["key"], r["position"], json.loads(r["body"])) for r in rows}


def put_library(db: sqlite3.Connection, key: str, position: int, body: dict[str, Any]) -> None:
    """Adds or renews a material of the library."""
    db.execute(
        "INSERT INTO library_material (key, position, body) VALUES (?, ?, ?) "
        "ON CONFLICT (key) DO UPDATE SET position = excluded.position, body = excluded.body",
        (key, position, json.dumps(body)),
    )
    uses.note(db, "library_blob", {"key": key}, uses.of_body("material", body))


def delete_library(db: sqlite3.Connection, key: str) -> None:
    """Takes a material out of the library; projects keep what they use of it."""
    db.execute("DELETE FROM library_material WHERE key = ?", (key,))


def uses_of_materials(db: sqlite3.Connection) -> dict[str, list[tuple[int, str]]]:
    """(id, name) of the projects that hold each material, by its key."""
    rows = db.execute(
        "SELECT d.key, p.id, p.name FROM document d JOIN project p ON p.id = d.project_id "
        "WHERE d.kind = 'material' ORDER BY p.used_at DESC, p.id DESC"
    )
    out: dict[str, list[tuple[int, str]]] = {}
    for row in rows:
        out.setdefault(row["key"], []).append((row["id"], row["name"]))
    return out
