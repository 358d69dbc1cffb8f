"""Make finishes lighter or darker, tint them, make them rougher, or their bumps stronger."""

from __future__ import annotations

from typing import ClassVar, Literal

from pivrel.project.edits.base import Before, Fields, FinishEdit
from pivrel.recipe import FinishModel
from pivrel.recipe.coats import HexColor, Times
from pivrel.store.documents import Contents


class SetTone(FinishEdit):
    """Tint finishes, or change how light, how rough they are, how strong their bumps; what is left out stays."""

    what: ClassVar[str] = "tone"
    kind: Literal["set_tone"]
    tint: HexColor | None = None
    lightness: Times | None = None
    roughness: Times | None = None
    bump: Times | None = None

    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        named = self.model_fields_set - {"kind", "finishes"}
        # A tint of None takes it away; the factors have no such value.
        return {
            name: getattr(self, name) for name in named if name == "tint" or getattr(self, name) is not None
        }
