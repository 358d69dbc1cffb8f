"""Turn finishes so that the grain runs at an angle on the face."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.recipe.typed import Angle
from pivrel.store.documents import Contents


class GrainTo(FinishEdit):
    """Turn finishes so that the grain runs at an angle on the face."""

    what: ClassVar[str] = "grain"
    kind: Literal["grain_to"]
    grain_deg: Angle

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return {"turn_deg": None, "grain_deg": self.grain_deg}
