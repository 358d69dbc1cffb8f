"""The model as a list: its parts, or what its file groups them by."""

from __future__ import annotations

from typing import Literal

from pivrel.recipe import PickModel
from pivrel.web.wire.base import Answer
from pivrel.web.wire.picking import LiesThere

ListedBy = Literal["part", "element", "storey", "source"]
"""What the model is listed by."""


class PartGroup(Answer):
    """What has one name. stated: what else the file says of it. pick: the rule that takes all of it.

    first_face: one of its faces. parts: how many there are of the name.
    """

    name: str
    stated: str
    parts: int
    first_face: int
    faces: int
    area_m2: float
    lies: list[LiesThere]
    pick: PickModel


class Framed(Answer):
    """What an opening view shows: parts by number, those that carry finishes, or all where none does."""

    parts: list[int]
