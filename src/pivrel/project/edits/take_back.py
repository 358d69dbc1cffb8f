"""Bring back a view or a pick that was forgotten."""

from __future__ import annotations

from typing import Literal

from pivrel.project.edits.base import AsideEdit
from pivrel.recipe.values import Key
from pivrel.store import journal
from pivrel.store.connection import Connection


class TakeBack(AsideEdit):
    """Bring back a view or a pick that was forgotten."""

    kind: Literal["take_back"]
    what: Literal["pick_set", "view"]
    key: Key

    def carry_out(self, db: Connection, project_id: int) -> None:
        journal.take_back(db, project_id, self.what, self.key)
