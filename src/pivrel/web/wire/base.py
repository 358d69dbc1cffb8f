"""What requests and answers are made of."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, TypeVar

from flask import Response, request
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from pivrel.recipe import Strict

MOST = (1 << 53) - 1
"""The largest whole number that JSON and SQLite both hold."""

R = TypeVar("R", bound=BaseModel)

RevisionNumber = Annotated[int, Field(ge=0, le=MOST)]


class Request(Strict):
    """What is asked; unknown keys are errors."""


class Answer(BaseModel):
    """What is answered."""

    model_config = ConfigDict(extra="forbid", frozen=True, json_schema_serialization_defaults_required=True)


def asked(model: type[R]) -> R:
    """The request's JSON, checked. pydantic's ValidationError where it is not what the model says."""
    return model.model_validate(request.get_json())


def answer(what: BaseModel, status: int = 200) -> Response:
    """An answer as JSON."""
    return Response(what.model_dump_json(by_alias=True), status, mimetype="application/json")


def answers(kind: type[R], what: Sequence[R]) -> Response:
    """Several answers of one kind as a JSON list."""
    text = TypeAdapter(list[kind]).dump_json(list(what), by_alias=True)  # type: ignore[valid-type]
    return Response(text, mimetype="application/json")
