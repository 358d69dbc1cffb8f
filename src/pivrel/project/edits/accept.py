"""Lay a finish on faces that a newer model left in doubt."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from pivrel.core.arrays import distinct
from pivrel.core.phrases import counted
from pivrel.core.picks import added, by_ids
from pivrel.project.edits.base import Before, Done, Edit, EditError
from pivrel.recipe import changed, pick_model
from pivrel.recipe.values import MOST_FACES, FaceId, Key


class Accept(Edit):
    """Lay a finish on more faces: an answer to what a newer model left in doubt."""

    kind: Literal["accept"]
    finish: Key
    faces: Annotated[list[FaceId], Field(min_length=1, max_length=MOST_FACES)]

    def done(self, before: Before) -> Done:
        if not 0 <= min(self.faces) <= max(self.faces) < before.surface.mesh.face_count:
            raise EditError("one of the faces does not exist")
        document = before.finish(self.finish)
        more = by_ids(distinct(np.array(self.faces, np.int32)))
        pick = pick_model(added(document.body.core_pick, more))
        out = before.contents.copied()
        out.finishes[self.finish] = document.with_body(changed(document.body, pick=pick))
        return Done(out, f"lay {document.body.name} on {counted(len(self.faces), 'more face')}")
