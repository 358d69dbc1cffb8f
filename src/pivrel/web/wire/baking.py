"""Baking: what is asked of it, what the plan tells, and how far it is."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from pivrel.formats.baking.asked import PADDINGS, SIZES, Asked, Unfold
from pivrel.jobs.process import State
from pivrel.recipe.values import Key
from pivrel.web.wire.base import Answer, Request

Kind = Literal["glb", "gltf", "obj"]


class BakeAsked(Request):
    """A bake to be planned. finishes: by their codes, None for those that no file can hold otherwise."""

    kind: Kind = "glb"
    px_per_m: Annotated[float, Field(ge=0.001, le=1e6)] = 250.0
    size: Annotated[int, Field(ge=SIZES[0], le=SIZES[1])] = 4096
    padding_px: Annotated[int, Field(ge=PADDINGS[0], le=PADDINGS[1])] = 8
    finishes: Annotated[tuple[Key, ...], Field(max_length=10_000)] | None = None
    unfold: Unfold = "own"
    height_bits: Literal[8, 16] = 16

    def to_core(self, rows: tuple[str, ...] | None) -> Asked:
        """The same with finishes by their rows in the schedule."""
        return Asked(
            self.px_per_m, self.size, self.padding_px, rows, self.unfold, height_bits=self.height_bits
        )


class BakePlan(Answer):
    """What will be made: width and height of each image, how much of them is filled, and how true they are."""

    images: list[tuple[int, int]]
    pieces: int
    filled: float
    true_share: float
    least_px_per_m: float
    greatest_px_per_m: float
    finishes: list[str]


class BakeState(Answer):
    """A bake on its way: planned, and then baked. error: why it failed; notes: what is said of the files."""

    step: Literal["plan", "bake"]
    state: State
    doing: str
    share: float
    plan: BakePlan | None
    notes: list[str]
    error: str | None


class Bakeable(Answer):
    """A finish that can be baked; needs: no file can hold all of it otherwise."""

    key: str
    name: str
    area_m2: float
    needs: bool
