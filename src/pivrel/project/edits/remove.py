"""Take finishes off the schedule."""

from __future__ import annotations

from typing import Literal

from pivrel.project.edits.base import Before, Done, Edit
from pivrel.recipe.values import Keys


class Remove(Edit):
    """Take finishes off the schedule; their faces show what lies under them."""

    kind: Literal["remove"]
    finishes: Keys

    def done(self, before: Before) -> Done:
        out, keys = before.contents.copied(), list(dict.fromkeys(self.finishes))
        names = [before.finish(key).body.name for key in keys]
        for key in keys:
            del out.finishes[key]
        return Done(out, f"remove {names[0] if len(names) == 1 else f'{len(names)} finishes'}")
