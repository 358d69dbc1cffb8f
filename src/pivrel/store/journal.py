"""The edit journal: every change with its inverse, undo and redo, and the revision check."""

from __future__ import annotations

import json
from collections.abc import Container
from typing import Any, ClassVar, Literal

from pivrel.errors import PivrelError
from pivrel.store import uses
from pivrel.store.connection import Connection
from pivrel.store.documents import (
    DOCUMENTS,
    Change,
    Contents,
    Document,
    ModelBody,
    ModelFacts,
    read_document,
    stored_document,
)
from pivrel.store.projects import Project, note_changes, put_document, put_model
from pivrel.store.times import now


class OutdatedError(PivrelError):
    """A write that was based on an older revision; `since` says what has changed meanwhile."""

    status: ClassVar[int] = 409

    def __init__(self, revision: int, since: list[str]) -> None:
        changes = "; ".join(since)
        super().__init__(f"the project was changed elsewhere meanwhile ({changes}); nothing was overwritten")
        self.revision, self.since = revision, since


class NothingToDoError(PivrelError):
    """Undo or redo with no edit left on that side."""

    status: ClassVar[int] = 409


Side = Literal["before", "after"]


def changes_between(before: Contents, after: Contents) -> list[Change]:
    """What an edit changed, document by document."""
    out = []
    for kind in DOCUMENTS:
        old, new = before.of(kind), after.of(kind)
        for key in dict.fromkeys([*old, *new]):
            was, now = old.get(key), new.get(key)
            # Most are the very same, which is seen sooner than that they are alike.
            if was is not now and was != now:
                out.append(Change(kind, key, was, now))
    return out


def model_change(before: Project, mesh: str, model: ModelFacts) -> Change:
    """The change that gives a project another model."""
    was = Document("model", 0, ModelBody(mesh=before.mesh, model=before.model))
    return Change("model", "model", was, Document("model", 0, ModelBody(mesh=mesh, model=model)))


def write(db: Connection, project_id: int, revision: int, label: str, changes: list[Change]) -> None:
    """Carries out an edit based on `revision` and journals it; edits that were undone are dropped."""
    cursor = check_based(db, project_id, revision)
    db.execute("DELETE FROM journal WHERE project_id = ? AND seq > ?", (project_id, cursor))
    carry_out(db, project_id, changes)
    put_row(db, project_id, cursor + 1, label, [stated(change) for change in changes], now())
    _advance(db, project_id, label, cursor + 1)


def put_row(
    db: Connection, project_id: int, seq: int, label: str, changes: list[dict[str, Any]], at: str
) -> None:
    """Adds a row to the journal; changes as `stated` has them."""
    db.execute(
        "INSERT INTO journal (project_id, seq, label, changes, at) VALUES (?, ?, ?, ?, ?)",
        (project_id, seq, label, json.dumps(changes), at),
    )
    uses.note(db, "journal_blob", {"project_id": project_id, "seq": seq}, uses.of_changes(changes))


def is_aside(kind: str) -> bool:
    """Whether documents of a kind change nothing of the result: no edit of the journal brings or takes them."""
    return kind in DOCUMENTS and DOCUMENTS[kind].aside


def keep_aside(db: Connection, project_id: int, changes: list[Change]) -> None:
    """Carries out changes of views and kept picks: outside the journal, so that undo is for the result.

    What is taken away is remembered, to be taken back.
    """
    carry_out(db, project_id, changes)
    for change in changes:
        if change.after is None and change.before is not None:
            put_document(db, project_id, change.kind, change.before, "forgotten")
    db.execute("UPDATE project SET aside = aside + 1 WHERE id = ?", (project_id,))


def take_back(db: Connection, project_id: int, kind: str, key: str) -> str:
    """Brings back a view or a pick that was forgotten; its name. NothingToDoError where none was."""
    row = db.execute(
        "SELECT position, body FROM forgotten WHERE project_id = ? AND kind = ? AND key = ?",
        (project_id, kind, key),
    ).fetchone()
    if row is None:
        raise NothingToDoError("there is nothing to take back")
    taken = {
        r["key"]
        for r in db.execute("SELECT key FROM document WHERE project_id = ? AND kind = ?", (project_id, kind))
    }
    free = key
    while free in taken:
        free = f"{key[0]}{int(free[1:]) + 1}"
    document = stored_document(kind, free, row["position"], json.loads(row["body"]))
    carry_out(db, project_id, [Change(kind, free, None, document)])
    db.execute("DELETE FROM forgotten WHERE project_id = ? AND kind = ? AND key = ?", (project_id, kind, key))
    db.execute("UPDATE project SET aside = aside + 1 WHERE id = ?", (project_id,))
    return str(document.body.name)


def undo(db: Connection, project_id: int, revision: int) -> str:
    """Takes the last edit back; its label."""
    cursor = check_based(db, project_id, revision)
    label, rows = _journalled(db, project_id, cursor, "undo")
    carry_out(db, project_id, _changes_towards(db, project_id, rows[::-1], "before"))
    _advance(db, project_id, f"undo: {label}", cursor - 1)
    return label


def redo(db: Connection, project_id: int, revision: int) -> str:
    """Carries the edit out again that was last taken back; its label."""
    cursor = check_based(db, project_id, revision)
    label, rows = _journalled(db, project_id, cursor + 1, "redo")
    carry_out(db, project_id, _changes_towards(db, project_id, rows, "after"))
    _advance(db, project_id, f"redo: {label}", cursor + 1)
    return label


def neighbours(db: Connection, project_id: int, cursor: int) -> tuple[str | None, str | None]:
    """The labels of what undo and redo would do."""
    rows = db.execute(
        "SELECT seq, label FROM journal WHERE project_id = ? AND seq IN (?, ?)",
        (project_id, cursor, cursor + 1),
    )
    labels = {row["seq"]: row["label"] for row in rows}
    return labels.get(cursor), labels.get(cursor + 1)


def check_based(db: Connection, project_id: int, revision: int) -> int:
    """The journal's cursor. OutdatedError where the project has moved on since `revision`."""
    row = db.execute("SELECT revision, cursor FROM project WHERE id = ?", (project_id,)).fetchone()
    if row["revision"] != revision:
        since = db.execute(
            "SELECT label FROM revision WHERE project_id = ? AND number > ? ORDER BY number",
            (project_id, revision),
        )
        raise OutdatedError(row["revision"], [r["label"] for r in since])
    return int(row["cursor"])


def _journalled(db: Connection, project_id: int, seq: int, what: str) -> tuple[str, list[dict[str, Any]]]:
    row = db.execute(
        "SELECT label, changes FROM journal WHERE project_id = ? AND seq = ?", (project_id, seq)
    ).fetchone()
    if row is None:
        raise NothingToDoError(f"there is nothing to {what}")
    return row["label"], json.loads(row["changes"])


def stated(change: Change) -> dict[str, Any]:
    """A change as the journal keeps it: of a document that stays, only the fields that change.

    {kind, key, before, after, partial}; each side {key, position, body} or None.
    """
    before, after = change.before, change.after
    out: dict[str, Any] = {"kind": change.kind, "key": change.key}
    if before is None or after is None or change.kind == "model":
        return {**out, "before": fields_of(before), "after": fields_of(after)}
    same = {k for k, v in before.fields.items() if k in after.fields and after.fields[k] == v}
    return {**out, "before": fields_of(before, same), "after": fields_of(after, same), "partial": True}


def fields_of(document: Document[Any] | None, but: Container[str] = ()) -> dict[str, Any] | None:
    """Key, position and body of a document, without some fields of the body."""
    if document is None:
        return None
    body = {k: v for k, v in document.fields.items() if k not in but}
    return {"key": document.key, "position": document.position, "body": body}


def side_of(row: dict[str, Any], side: Side, there: Document[Any] | None) -> Document[Any] | None:
    """The document that a change of the journal leads to on one of its sides, from the one that is there."""
    wanted = row[side]
    if wanted is None or not row.get("partial"):
        if not wanted:
            return None
        return stored_document(row["kind"], wanted["key"], wanted["position"], wanted["body"])
    if there is None:
        # A view or a pick that was forgotten meanwhile.
        return None
    changed = {*row["before"]["body"], *row["after"]["body"]}
    body = {k: v for k, v in there.fields.items() if k not in changed}
    return stored_document(row["kind"], row["key"], wanted["position"], body | wanted["body"])


def _changes_towards(db: Connection, project_id: int, rows: list[dict[str, Any]], side: Side) -> list[Change]:
    """The changes of a journal row towards one of its sides, as far as what they change is still there.

    A view or a kept pick is changed, but neither brought nor taken.
    """
    out = []
    for row in rows:
        found = db.execute(
            "SELECT key, position, body FROM document WHERE project_id = ? AND kind = ? AND key = ?",
            (project_id, row["kind"], row["key"]),
        ).fetchone()
        there = read_document(db, row["kind"], *found) if found else None
        towards = side_of(row, side, there)
        if is_aside(row["kind"]) and (there is None or towards is None):
            continue
        if there is not None or towards is not None:
            out.append(Change(row["kind"], row["key"], there, towards))
    return out


def carry_out(db: Connection, project_id: int, changes: list[Change]) -> None:
    """Brings a project's documents to the state after the changes, without a journal row.

    The model of a project counts as a document of the kind "model", which is always there.
    """
    note_changes(db, project_id, changes)
    for change in changes:
        if change.kind == "model":
            assert change.after is not None
            put_model(db, project_id, change.after.body.mesh, change.after.body.model)
        elif change.after is None:
            db.execute(
                "DELETE FROM document WHERE project_id = ? AND kind = ? AND key = ?",
                (project_id, change.kind, change.key),
            )
        else:
            put_document(db, project_id, change.kind, change.after)


def _advance(db: Connection, project_id: int, label: str, cursor: int) -> None:
    db.execute(
        "UPDATE project SET revision = revision + 1, cursor = ?, used_at = ? WHERE id = ?",
        (cursor, now(), project_id),
    )
    db.execute(
        "INSERT INTO revision (project_id, number, label, at) "
        "SELECT id, revision, ?, ? FROM project WHERE id = ?",
        (label, now(), project_id),
    )
