"""Reading numbers as they are typed, for fields that are kept in the browser."""

from __future__ import annotations

from typing import Literal

from flask import Blueprint, Response, jsonify, request
from pydantic import BaseModel, ConfigDict

from pivrel.core.quantity import parse_angle, parse_length, parse_share

bp = Blueprint("quantities", __name__)

READERS = {"length": parse_length, "angle": parse_angle, "share": parse_share}


class Typed(BaseModel):
    """A number as typed, and what it stands for."""

    model_config = ConfigDict(extra="forbid")
    text: str
    kind: Literal["length", "angle", "share"]


@bp.post("/quantity")
def read() -> Response:
    """The number in mm, degrees or as a factor."""
    typed = Typed.model_validate(request.get_json())
    return jsonify({"value": READERS[typed.kind](typed.text)})
