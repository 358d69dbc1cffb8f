"""Duplicate finishes."""

from __future__ import annotations

from typing import Literal

from pivrel.project.edits.base import Before, Done, Edit, appended, free_name
from pivrel.project.edits.move import moved
from pivrel.recipe import changed
from pivrel.recipe.values import Keys


class Duplicate(Edit):
    """A copy of each finish in the row below it: on the same faces, laid the same, under a name of its own."""

    kind: Literal["duplicate"]
    finishes: Keys

    def done(self, before: Before) -> Done:
        out, keys = before.contents.copied(), list(dict.fromkeys(self.finishes))
        names = []
        for key in keys:
            stated = before.finish(key).body
            names.append(stated.name)
            added = appended(out, changed(stated, name=free_name(out, stated.name)))
            out = moved(out, added, list(out.finishes).index(key) + 1)
        return Done(out, f"duplicate {names[0] if len(names) == 1 else f'{len(names)} finishes'}")
