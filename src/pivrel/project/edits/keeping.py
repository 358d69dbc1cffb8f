"""A document kept under its name: what keeping a view and keeping a pick have in common."""

from __future__ import annotations

from typing import Literal

from pivrel.store import journal, projects
from pivrel.store.connection import Connection
from pivrel.store.documents import DOCUMENTS, Document, PickSetBody, ViewBody


def keep(
    db: Connection, project_id: int, kind: Literal["pick_set", "view"], body: PickSetBody | ViewBody
) -> None:
    """Keeps a pick or a view under its name, in place of the one that had the name before."""
    before = projects.contents(db, project_id)
    after = before.copied()
    there = after.of(kind)
    same = next((key for key, document in there.items() if document.body.name == body.name), None)
    number = max((int(key[1:]) for key in there), default=0) + 1
    key = same or f"{DOCUMENTS[kind].prefix}{number}"
    there[key] = Document(key, there[same].position if same else number, body)
    journal.keep_aside(db, project_id, journal.changes_between(before, after))
