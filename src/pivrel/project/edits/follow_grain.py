"""Let the grain of finishes follow a rule."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, EditError, Fields, FinishEdit
from pivrel.recipe import FinishModel, GrainModel
from pivrel.store.documents import Contents


class FollowGrain(FinishEdit):
    """Let the grain of finishes follow a rule, from which their turn counts."""

    what: ClassVar[str] = "grain"
    kind: Literal["follow_grain"]
    grain: GrainModel

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        return following(stated, self.grain)


def following(stated: FinishModel, grain: GrainModel) -> Fields:
    """The fields of a finish whose grain follows a rule."""
    if grain.along == "sheet":
        return {"grain": grain}
    if grain.along == "length" and not stated.projection.core.has_datum:
        raise EditError(
            f"{stated.name} is laid by {stated.projection.kind}, which measures no board along itself: let its grain "
            "follow the sheet or each side's longest edge"
        )
    # The rule says the direction; a turn from before would be one to it.
    ruled: Fields = {"grain": grain, "turn_deg": 0.0, "grain_deg": None}
    # Boards lie every way; each is measured along itself.
    return {**ruled, "datum_for": "board", "datum": None} if grain.along == "length" else ruled
