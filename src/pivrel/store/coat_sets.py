"""Coats that an artist keeps under a name, beside the library."""

from __future__ import annotations

import json

from pivrel.errors import NotFoundError
from pivrel.store.connection import Connection
from pivrel.store.documents import CoatSetBody
from pivrel.store.stored import stored


def get_all(db: Connection) -> dict[str, CoatSetBody]:
    """All of them by name, in the order of their names."""
    rows = db.execute("SELECT name, body FROM coat_set ORDER BY name COLLATE NOCASE")
    return {row["name"]: stored(CoatSetBody, json.loads(row["body"]))[0] for row in rows}


def existing(db: Connection, name: str) -> CoatSetBody:
    """Those of a name; NotFoundError where there are none."""
    row = db.execute("SELECT body FROM coat_set WHERE name = ?", (name,)).fetchone()
    if row is None:
        raise NotFoundError(f"there are no coats kept as {name!r}")
    return stored(CoatSetBody, json.loads(row["body"]))[0]


def put(db: Connection, name: str, body: CoatSetBody) -> None:
    """Keeps coats, in the place of others of the same name."""
    db.execute(
        "INSERT INTO coat_set (name, body) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET body = excluded.body",
        (name, body.model_dump_json()),
    )


def delete(db: Connection, name: str) -> None:
    """Forgets coats."""
    db.execute("DELETE FROM coat_set WHERE name = ?", (name,))
