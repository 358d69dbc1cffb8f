"""What the database holds, read though an earlier version kept what this one would refuse."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from copy import deepcopy
from types import MappingProxyType
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from pivrel.core.plain_text import printable
from pivrel.recipe.reading import first_error

M = TypeVar("M", bound=BaseModel)

MOST_LEFT_OUT = 100
"""Of so many values at most a document is read without them."""


def stored(
    model: type[M], fields: Mapping[str, Any], needed: Mapping[str, Any] = MappingProxyType({})
) -> tuple[M, str]:
    """What the database holds, and what of it this version does not take, in words; empty where it takes all.

    Names that an earlier version kept are put right, and told of nowhere. What else is wrong is left out, as little as
    serves. needed: what stands for fields that cannot be left out. ValidationError where nothing serves.
    """
    try:
        return model.model_validate(fields), ""
    except ValidationError:
        held, told = _printable(fields), ""
    for _ in range(MOST_LEFT_OUT):
        try:
            return model.model_validate(held), told
        except ValidationError as error:
            told = told or first_error(error)
            if not _leave_out(held, error.errors()[0]["loc"]):
                break
    return _by_field(model, _printable(fields), needed), told


def _by_field(model: type[M], fields: Mapping[str, Any], needed: Mapping[str, Any]) -> M:
    """What can be read field by field, where a rule is broken that holds for several."""
    out, held = model.model_validate(needed), dict(needed)
    for name, value in fields.items():
        try:
            out = model.model_validate({**held, name: value})
        except ValidationError:
            continue
        held[name] = value
    return out


def _leave_out(held: Any, place: Sequence[Any]) -> bool:
    """Takes the value at a place of JSON away, or what it lies in; False where that is all of it."""
    within: tuple[Any, Any] | None = None
    for step in place:
        # The branches of a union are named among the steps, too.
        if (isinstance(held, dict) and step in held) or (isinstance(held, list) and step in range(len(held))):
            within, held = (held, step), held[step]
    if within is None:
        return False
    del within[0][within[1]]
    return True


def _printable(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _printable(held) for key, held in value.items()}
    if isinstance(value, list):
        return [_printable(held) for held in value]
    return printable(value) if isinstance(value, str) else deepcopy(value)
