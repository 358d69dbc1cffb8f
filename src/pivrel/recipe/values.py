"""What the models of a recipe are made of: strict objects, and numbers within bounds."""

from __future__ import annotations

from typing import Annotated, Any, TypeVar

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from pivrel.core.geometry.mesh import REACH_MM
from pivrel.core.plain_text import LONGEST_NAME, PRINTABLE


class Strict(BaseModel):
    """Unknown keys and numbers that are not finite are errors."""

    model_config = ConfigDict(
        extra="forbid", allow_inf_nan=False, frozen=True, json_schema_serialization_defaults_required=True
    )


Text = Annotated[str, Field(max_length=4 * LONGEST_NAME, pattern=PRINTABLE)]
"""A name of something in a model, or a glob of such names, which takes three signs for one."""

Name = Annotated[str, Field(min_length=1, max_length=200, pattern=PRINTABLE)]
"""A name that a person gives."""

Key = Annotated[str, Field(min_length=1, max_length=200, pattern=PRINTABLE)]
"""What a finish, a material, a pick or a view is known by."""

Keys = Annotated[list[Key], Field(min_length=1, max_length=100_000)]

MOST_LISTED = 1_000_000
"""Parts, or pieces, that are named one by one at most."""

MOST_FACES = 1 << 26
"""Ids beyond this are no faces of any model that can be opened."""

FaceId = Annotated[int, Field(ge=-MOST_FACES, le=MOST_FACES)]
"""A face by its number; below zero it is none, and whoever looks for it says so."""

RowNumber = Annotated[int, Field(ge=-MOST_LISTED, le=MOST_LISTED)]
"""A row of a list, counted from 0."""

M = TypeVar("M", bound=BaseModel)


def changed(model: M, **fields: Any) -> M:
    """The model with other values in some fields, checked as a whole. ValidationError where it breaks a rule."""
    held = {name: getattr(model, name) for name in type(model).model_fields}
    return type(model).model_validate({**held, **fields})


Number = Annotated[float, Field(ge=-10 * REACH_MM, le=10 * REACH_MM)]
"""A length, a coordinate or a part of a direction; a datum may lie further away than its model reaches."""

Degrees = Annotated[float, Field(ge=-1e6, le=1e6)]

Pair = tuple[Number, Number]
Triple = tuple[Number, Number, Number]
Positive = Annotated[float, Field(gt=0, le=1e7)]


def not_zero(value: float) -> float:
    """The value, or ValueError for zero."""
    if value == 0:
        raise ValueError("must not be zero")
    return value


Factor = Annotated[float, Field(ge=-1e7, le=1e7), AfterValidator(not_zero)]
"""A scale; below zero it also flips the sheet."""
