"""Take finishes off the schedule."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from pivrel.project.edits.base import Before, Done, Edit


class Remove(Edit):
    """Take finishes off the schedule; their faces show what lies under them."""

    kind: Literal["remove"]
    finishes: Annotated[list[str], Field(min_length=1)]

    def done(self, before: Before) -> Done:
        out, keys = before.contents.copied(), list(dict.fromkeys(self.finishes))
        names = [before.finish(key).body.name for key in keys]
        for key in keys:
            del out.finishes[key]
        return Done(out, f"remove {names[0] if len(names) == 1 else f'{len(names)} finishes'}")
