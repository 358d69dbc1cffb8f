"""Reading numbers as they are typed, for fields that are kept in the browser."""

from __future__ import annotations

from flask import Blueprint, Response

from pivrel.core.quantity import parse_angle, parse_length, parse_share
from pivrel.web.wire.base import answer, asked
from pivrel.web.wire.picking import NumberRead, TypedNumber

bp = Blueprint("quantities", __name__)

READERS = {"length": parse_length, "angle": parse_angle, "share": parse_share}


@bp.post("/quantity")
def read() -> Response:
    """The number in mm, degrees or as a factor."""
    typed = asked(TypedNumber)
    return answer(NumberRead(value=READERS[typed.kind](typed.text)))
