"""The library of materials."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from pivrel.materials.channels import Channel
from pivrel.recipe import JointsModel
from pivrel.recipe.typed import Angle, Side
from pivrel.recipe.values import Name
from pivrel.store.documents import LibraryBody, Tag
from pivrel.web.wire.base import Answer, Request


class UsedIn(Answer):
    """A project that uses a material."""

    id: int
    name: str


class LibraryMaterial(LibraryBody):
    """A material of the library. said: what was noticed as it came in."""

    key: str
    used_in: tuple[UsedIn, ...] = ()
    said: tuple[str, ...] = ()


class MaterialChange(Request):
    """What of a material of the library is changed; what is left out stays.

    channels: where the image of a channel belongs, or None to put it away.
    """

    name: Name | None = None
    repeat_mm: tuple[Side | None, Side | None] | None = None
    linked: bool = True
    grain_deg: Angle | Literal["none"] | None = None
    metallic: Annotated[float, Field(ge=0, le=1)] | None = None
    joints: JointsModel | Literal["none"] | None = None
    half_turns: bool | None = None
    mirrors: bool | None = None
    normal_y: Literal["+", "-"] | None = None
    tags: Annotated[list[Tag], Field(max_length=100)] | None = None
    channels: Annotated[dict[Channel, Channel | None], Field(max_length=20)] | None = None


class Reading(Answer):
    """What is read off an image: its grain, and how much its borders show where it repeats."""

    grain_deg: float | None
    confidence: float
    wrap_along: float
    wrap_up: float
    shows_from: float
    pixels: tuple[int, int]
    bits: int
