"""Numbers as people type them: with units, sums and fractions, within what the fields can mean."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any

from pydantic import AfterValidator, BeforeValidator, Field

from pivrel.core.geometry.mesh import REACH_MM
from pivrel.core.quantity import parse_angle, parse_length, parse_share
from pivrel.recipe.values import not_zero

LONGEST = 200
"""Signs of a number as it is typed, with its units, sums and fractions."""

Typed = Annotated[str, Field(max_length=LONGEST)]


def _typed(parse: Callable[[str], float], number: Any) -> BeforeValidator:
    """Text is read as a person types it; numbers are taken as they are. number: their type, for the schema."""

    def read(value: Any) -> Any:
        if isinstance(value, str) and len(value) > LONGEST:
            raise ValueError(f"a number of more than {LONGEST} signs is none")
        return parse(value) if isinstance(value, str) else value

    return BeforeValidator(read, json_schema_input_type=number | Typed)


_Length = Annotated[float, Field(ge=-REACH_MM, le=REACH_MM)]
_Angle = Annotated[float, Field(ge=-36000, le=36000)]
_Share = Annotated[float, Field(ge=-1e6, le=1e6)]
_Side = Annotated[float, Field(gt=0, le=1e7)]

Length = Annotated[_Length, _typed(parse_length, _Length)]
Angle = Annotated[_Angle, _typed(parse_angle, _Angle)]
Share = Annotated[_Share, AfterValidator(not_zero), _typed(parse_share, _Share)]
Side = Annotated[_Side, _typed(parse_length, _Side)]
"""The side of a repeat, a radius: a length above zero."""
