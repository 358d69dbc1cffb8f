"""Keep a pick under a name."""

from __future__ import annotations

from typing import Literal

from pivrel.project.edits.base import AsideEdit
from pivrel.project.edits.keeping import keep
from pivrel.recipe import PickModel
from pivrel.recipe.values import Name
from pivrel.store.connection import Connection
from pivrel.store.documents import PickSetBody


class KeepPick(AsideEdit):
    """Keep a pick under a name, in place of the one that had the name before."""

    kind: Literal["keep_pick"]
    name: Name
    pick: PickModel

    def carry_out(self, db: Connection, project_id: int) -> None:
        keep(db, project_id, "pick_set", PickSetBody(name=self.name, pick=self.pick))
