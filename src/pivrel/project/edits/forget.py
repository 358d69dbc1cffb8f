"""Forget a pick or a view."""

from __future__ import annotations

from typing import Literal

from pivrel.project.edits.base import AsideEdit, EditError
from pivrel.recipe.values import Key
from pivrel.store import journal, projects
from pivrel.store.connection import Connection
from pivrel.store.documents import DOCUMENTS


class Forget(AsideEdit):
    """Forget a pick or a view; it can be taken back."""

    kind: Literal["forget"]
    what: Literal["pick_set", "view"]
    key: Key

    def carry_out(self, db: Connection, project_id: int) -> None:
        before = projects.contents(db, project_id)
        after = before.copied()
        if after.of(self.what).pop(self.key, None) is None:
            raise EditError(f"the project has no {DOCUMENTS[self.what].word} {self.key}")
        journal.keep_aside(db, project_id, journal.changes_between(before, after))
