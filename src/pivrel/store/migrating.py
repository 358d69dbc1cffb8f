"""Bringing a database file up to date, script by script."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing
from importlib import resources
from typing import Any

from pivrel.core.picks import LONG
from pivrel.recipe import pick_model
from pivrel.recipe.picks import FacesPick
from pivrel.store import uses
from pivrel.store.connection import Connection

_FOLDER = resources.files("pivrel.store") / "migrations"
_SCRIPTS = {int(f.name.split("_")[0]): f for f in _FOLDER.iterdir() if f.name.endswith(".sql")}

NEWEST = max(_SCRIPTS)


def version_of(db: Connection) -> int:
    """The number of the last script that the file has seen."""
    return int(db.execute("PRAGMA user_version").fetchone()[0])


def migrate(db: Connection) -> None:
    """Runs the numbered scripts that this file has not seen yet, within the caller's transaction."""
    for number in sorted(n for n in _SCRIPTS if n > version_of(db)):
        # executescript would commit first, so the statements run one by one.
        for statement in _statements(_SCRIPTS[number].read_text()):
            db.execute(statement)
        if number in _THEN:
            _THEN[number](db)
        db.execute(f"PRAGMA user_version = {number}")


def tables() -> frozenset[str]:
    """The tables of a file that has seen every script."""
    with closing(sqlite3.connect(":memory:", isolation_level=None, factory=Connection)) as db:
        db.row_factory = sqlite3.Row
        migrate(db)
        return tables_of(db)


def tables_of(db: Connection) -> frozenset[str]:
    """The tables of a file."""
    rows = db.execute("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'")
    return frozenset(row[0] for row in rows)


def _statements(script: str) -> Iterator[str]:
    statement = ""
    for line in script.splitlines():
        if not line.lstrip().startswith("--"):
            statement += line + "\n"
        if sqlite3.complete_statement(statement):
            yield statement
            statement = ""


def _note_uses(db: Connection) -> None:
    """Writes down what the rows of an earlier version refer to, and packs their long picks.

    Bytes that an earlier version has lost are not noted; `pivrel check` names them.
    """
    there = {row[0] for row in db.execute("SELECT sha256 FROM blob")}

    def noted(table: str, owner: dict[str, Any], hashes: set[str]) -> None:
        uses.note(db, table, owner, hashes & there)

    for table in ("document", "forgotten"):
        rows = db.execute(f"SELECT project_id, kind, key, body FROM {table}").fetchall()
        for project, kind, key, text in rows:
            body = _packed(json.loads(text))
            owner = {"project_id": project, "kind": kind, "key": key}
            where = "project_id = ? AND kind = ? AND key = ?"
            db.execute(f"UPDATE {table} SET body = ? WHERE {where}", (json.dumps(body), *owner.values()))
            noted(f"{table}_blob", owner, uses.of_body(kind, body))
    for project, seq in db.execute("SELECT project_id, seq FROM journal").fetchall():
        # One row at a time: those of long picks are megabytes.
        own = (project, seq)
        row = db.execute("SELECT changes FROM journal WHERE project_id = ? AND seq = ?", own).fetchone()
        changes = _packed(json.loads(row[0]))
        text = json.dumps(changes)
        db.execute("UPDATE journal SET changes = ? WHERE project_id = ? AND seq = ?", (text, *own))
        noted("journal_blob", {"project_id": project, "seq": seq}, uses.of_changes(changes))
    for key, text in db.execute("SELECT key, body FROM library_material").fetchall():
        noted("library_blob", {"key": key}, uses.of_body("material", json.loads(text)))
    for project, mesh, text in db.execute("SELECT id, mesh, model FROM project").fetchall():
        noted("project_blob", {"project_id": project}, uses.of_model(mesh, json.loads(text)))


def _packed(stated: Any) -> Any:
    """What is stated, with long picks by ids packed."""
    if isinstance(stated, list):
        return stated if stated and isinstance(stated[0], int) else [_packed(s) for s in stated]
    if not isinstance(stated, dict):
        return stated
    faces = stated.get("faces")
    if len(stated) == 1 and isinstance(faces, list) and len(faces) > LONG:
        return pick_model(FacesPick.model_validate(stated).to_core()).model_dump(mode="json")
    return {key: _packed(value) for key, value in stated.items()}


_THEN: dict[int, Callable[[Connection], None]] = {4: _note_uses}
"""What a script cannot say in SQL."""
