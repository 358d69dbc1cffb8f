"""Roll as a recipe states it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from pivrel.core.projection import Projection, Roll
from pivrel.core.revision import Motion
from pivrel.recipe.picks import FacesPick, PickModel
from pivrel.recipe.projections.base import OptionsBase, ProjectionBase, moved_place
from pivrel.recipe.values import Triple

FaceId = Annotated[int, Field(ge=0, le=2**31 - 1)]


class RollModel(ProjectionBase):
    """The sheet on one face, folded over its edges to all others.

    from: the face that it starts from, by its id or by a place on it; None takes the largest
    of each region. together: the faces hang together, true near the start and softer the farther away.
    """

    core: ClassVar[type[Projection]] = Roll
    kind: Literal["roll"]
    from_: Annotated[FaceId | Triple | None, Field(alias="from")] = None
    together: bool = False

    def to_core(self) -> Roll:
        return Roll(self.from_, self.together)

    @classmethod
    def of(cls, projection: Projection) -> Self:
        assert isinstance(projection, Roll)
        return cls.model_validate({"kind": "roll", "from": projection.start, "together": projection.together})

    def with_picks(self, change: Callable[[PickModel], PickModel]) -> Self:
        if not isinstance(self.from_, int):
            return self
        now = change(FacesPick(faces=(self.from_,)))
        # A newer model may not have the face any more.
        one = now.faces[0] if isinstance(now, FacesPick) and len(now.faces) == 1 else None
        return self.model_copy(update={"from_": one})

    def moved(self, motion: Motion) -> Self:
        if not isinstance(self.from_, tuple):
            return self
        return self.model_copy(update={"from_": moved_place(self.from_, motion)})


class RollOptions(OptionsBase):
    """Options of a roll."""

    kind: Literal["roll"]
    from_: Annotated[FaceId | Triple | None, Field(alias="from")] = None
    together: bool = False
