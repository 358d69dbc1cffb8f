"""Move a finish to another row of the schedule."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from pivrel.project.edits.base import Before, Done, Edit
from pivrel.recipe.values import Key, RowNumber
from pivrel.store.documents import Contents


class Move(Edit):
    """Move a finish to another row of the schedule, counted from 0; later rows cover earlier ones."""

    kind: Literal["move"]
    finish: Key
    to: RowNumber

    def done(self, before: Before) -> Done:
        name = before.finish(self.finish).body.name
        return Done(moved(before.contents, self.finish, self.to), f"move {name}")


def moved(contents: Contents, key: str, to: int) -> Contents:
    """The contents with a finish in another row."""
    out = contents.copied()
    order = [other for other in out.finishes if other != key]
    order.insert(max(0, min(to, len(order))), key)
    out.finishes = {k: replace(out.finishes[k], position=at + 1) for at, k in enumerate(order)}
    return out
