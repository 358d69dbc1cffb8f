"""Take a material that the model brought as a material of the project."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from pivrel.project.edits.base import Before, Done, Edit
from pivrel.project.sources import taken


class TakeSource(Edit):
    """Take a material that the model brought, counted from 0, as a material of the project."""

    kind: Literal["take_source"]
    source: Annotated[int, Field(ge=0, le=1_000_000)]

    def done(self, before: Before) -> Done:
        found = taken(before.contents, before.surface, self.source, before.read_images())
        return Done(found.contents, found.label, found.said, images=tuple(found.images.values()))
