"""Which bytes a document's body names, and the rows that say so to the database."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from pivrel.store.connection import Connection
from pivrel.store.errors import LostBytesError


def of_model(mesh: str | None, model: dict[str, Any]) -> set[str]:
    """The hashes of a model's mesh, files and images, and of its list of what it changed."""
    named = [mesh, model.get("revision")]
    named += [file["sha256"] for file in (*model.get("files", ()), *model.get("images", ()))]
    return {sha256 for sha256 in named if sha256}


def of_body(kind: str, body: dict[str, Any]) -> set[str]:
    """The hashes that the body of a document names, or a part of such a body."""
    if kind == "material":
        return set(body.get("images", {}).values())
    if kind == "view":
        return {body["picture"]} if body.get("picture") else set()
    return of_model(body.get("mesh"), body.get("model", {})) if kind == "model" else set()


def of_changes(changes: Iterable[dict[str, Any]]) -> set[str]:
    """The hashes that the changes of a journal row name on either side."""
    out: set[str] = set()
    for change in changes:
        for side in (change["before"], change["after"]):
            out |= of_body(change["kind"], side["body"]) if side else set()
    return out


def note(db: Connection, table: str, owner: dict[str, Any], hashes: Iterable[str]) -> None:
    """Writes down what a row refers to, in place of what was noted before.

    table: `document_blob` and the like; owner: the columns that name the row. LostBytesError for bytes that
    are not there.
    """
    where = " AND ".join(f"{column} = ?" for column in owner)
    db.execute(f"DELETE FROM {table} WHERE {where}", tuple(owner.values()))
    columns, places = ", ".join([*owner, "sha256"]), ", ".join("?" * (len(owner) + 1))
    for sha256 in sorted(hashes):
        # The foreign key would say so at the end too, but not which.
        if db.execute("SELECT 1 FROM blob WHERE sha256 = ?", (sha256,)).fetchone() is None:
            raise LostBytesError(
                f"bytes that are in use ({sha256[:12]}) are missing from the data folder; nothing was changed. "
                "Run 'pivrel check' to see what they belong to"
            )
        db.execute(f"INSERT INTO {table} ({columns}) VALUES ({places})", (*owner.values(), sha256))


def of_project(db: Connection, project_id: int) -> list[str]:
    """The hashes of all that a project refers to, its undo history included."""
    rows = db.execute(
        "SELECT sha256 FROM project_blob WHERE project_id = ?1 "
        "UNION SELECT sha256 FROM document_blob WHERE project_id = ?1 "
        "UNION SELECT sha256 FROM journal_blob WHERE project_id = ?1 ORDER BY sha256",
        (project_id,),
    )
    return [row["sha256"] for row in rows]


def collect(db: Connection) -> list[str]:
    """Deletes the bytes that nothing refers to; their hashes. Further pieces of long ones are left to whoever asks."""
    rows = db.execute(
        "DELETE FROM blob WHERE sha256 IN (SELECT sha256 FROM blob EXCEPT SELECT sha256 FROM blob_use) "
        "RETURNING sha256"
    )
    return [row[0] for row in rows.fetchall()]
