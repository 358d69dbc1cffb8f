"""JSON that comes from elsewhere, read within bounds: the one reader of all files and requests."""

from __future__ import annotations

import json
import math
from typing import Any, NoReturn

import numpy as np

from pivrel.errors import InputError

MOST_BYTES = 64 << 20
MOST_VALUES = 4_000_000
"""Values of a text. Each takes some sixty bytes of memory once it is read, however short it is written."""

DEEPEST = 64
"""How far anything of ours is nested: a pick of picks of picks needs a handful, the masks of coats a few more."""

MOST_DIGITS = 19
"""Of a whole number: what 64 bits hold."""

STEP = 1 << 20
"""Signs of a text that are looked through at a time."""


class JsonError(InputError):
    """A text that is no JSON, or none that anything of ours would be; the message says why in one sentence."""


def read_json(
    data: bytes | str, most_bytes: int = MOST_BYTES, most_values: int = MOST_VALUES, own: bool = False
) -> Any:
    """What a text of JSON (RFC 8259) holds. JsonError where it is broken, or larger or deeper than it may be.

    own: whether it may hold the numbers that Python writes beside those of the standard: NaN and infinities.
    """
    if len(data) > most_bytes:
        raise JsonError(
            f"the JSON has {len(data) / 1e6:,.0f} MB; more than {most_bytes / 1e6:,.0f} MB are not read"
        )
    text = text_of(data)
    if values_in(text) > most_values:
        raise JsonError(f"the JSON holds more than {most_values:,} values")
    numbers: dict[str, Any] = {} if own else {"parse_float": _finite, "parse_constant": _no_number}
    # What is asked of each whole number takes six times as long as reading it.
    if _has_long_number(text):
        numbers["parse_int"] = _whole
    try:
        value = json.loads(text, **numbers)
    except json.JSONDecodeError as broken:
        raise JsonError(f"the JSON is broken at line {broken.lineno}, column {broken.colno}") from None
    except RecursionError:
        raise JsonError("the JSON is nested too deep") from None
    if text.count("[") + text.count("{") > DEEPEST:
        _check_depth(value)
    return value


def values_in(text: str) -> int:
    """How many values a text of JSON has at most: each but the first follows a comma, a bracket or a brace."""
    return text.count(",") + text.count("[") + text.count("{")


def text_of(data: bytes | str) -> str:
    """The text, in whichever encoding of Unicode its bytes are. JsonError where they are none."""
    if isinstance(data, str):
        return data
    try:
        return data.decode(json.detect_encoding(data))
    except UnicodeDecodeError:
        raise JsonError("the JSON is no text in UTF-8") from None


def _has_long_number(text: str) -> bool:
    """Whether more digits stand in a row than a whole number may have. Looked at in steps: a text may be large."""
    for begin in range(0, len(text), STEP):
        signs = np.frombuffer(
            text[begin : begin + STEP + MOST_DIGITS].encode("utf-8", "surrogatepass"), np.uint8
        )
        others = np.flatnonzero((signs < ord("0")) | (signs > ord("9")))
        if np.diff(others, prepend=-1, append=len(signs)).max() - 1 > MOST_DIGITS:
            return True
    return False


def _whole(digits: str) -> int:
    if len(digits) > MOST_DIGITS + 1:
        raise JsonError(f"the JSON holds a number of {len(digits):,} digits")
    return int(digits)


def _finite(text: str) -> float:
    value = float(text)
    if not math.isfinite(value):
        raise JsonError(f"the JSON holds {text[:40]}, which is more than any number here may be")
    return value


def _no_number(text: str) -> NoReturn:
    raise JsonError(f"the JSON holds {text}, which is no number")


def _check_depth(value: Any) -> None:
    level = [value] if isinstance(value, dict | list) else []
    for _ in range(DEEPEST):
        if not level:
            return
        held = (inner for outer in level for inner in (outer.values() if isinstance(outer, dict) else outer))
        level = [inner for inner in held if isinstance(inner, dict | list)]
    raise JsonError("the JSON is nested too deep")
