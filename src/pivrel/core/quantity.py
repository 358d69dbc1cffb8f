"""Numbers as people type them: with units and sums."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from pivrel.errors import InputError

MM_PER_UNIT = {
    "mm": 1.0, "cm": 10.0, "dm": 100.0, "m": 1000.0, "km": 1e6,
    "in": 25.4, '"': 25.4, "″": 25.4, "ft": 304.8, "'": 304.8, "′": 304.8,
}  # fmt: skip
"""Inch and foot by the international yard and pound agreement of 1959."""

DEGREES_PER_UNIT = {"deg": 1.0, "°": 1.0, "rad": 180.0 / math.pi, "turn": 360.0}
SHARE_PER_UNIT = {"%": 0.01, "x": 1.0}

_TOKEN = re.compile(r"""\s*(?:(\d+(?:\.\d*)?(?:[eE][+-]?\d+)?|\.\d+)|([A-Za-z°%]+|["'′″])|([-+*/()×÷]))""")


class QuantityError(InputError):
    """Text that is no number; the message quotes it and says why."""


@dataclass(frozen=True)
class _Value:
    """A number in the field's own unit, and the unit that it was typed with (None for a bare one)."""

    number: float
    unit: float | None


LONGEST = 200
"""Nobody types a longer number."""

DEEPEST = 20
"""Brackets and signs within each other."""


class _Reader:
    """sum := product (('+' | '-') product)*; product := signed (('*' | '/') signed)*."""

    def __init__(self, text: str, units: dict[str, float]) -> None:
        self.text, self.units = text, units
        self.tokens: list[tuple[str, str]] = []
        self.depth = 0
        at, body = 0, text.strip()
        if len(body) > LONGEST:
            raise QuantityError(f"{body[:20]!r}… is not a number: it has {len(body):,} signs")
        # A comma is a decimal sign where no point is used: 2,4m.
        if "," in body and "." not in body:
            body = body.replace(",", ".")
        while at < len(body):
            match = _TOKEN.match(body, at)
            if match is None:
                raise QuantityError(
                    f"{text!r} is not a number: {body[at:].strip()[:12]!r} means nothing here"
                )
            kind = ("number", "unit", "sign")[match.lastindex - 1 if match.lastindex else 0]
            self.tokens.append((kind, match.group(match.lastindex or 0)))
            at = match.end()

    def peek(self) -> tuple[str, str]:
        return self.tokens[0] if self.tokens else ("end", "")

    def read(self) -> float:
        if not self.tokens:
            raise QuantityError("a number is needed here")
        value = self.sum()
        if self.tokens:
            raise QuantityError(f"{self.text!r} is not a number: {self.peek()[1]!r} is out of place")
        if not math.isfinite(value.number):
            raise QuantityError(f"{self.text!r} is too large")
        return value.number

    def sum(self) -> _Value:
        value = self.product()
        while self.peek() in (("sign", "+"), ("sign", "-")):
            factor = 1 if self.tokens.pop(0)[1] == "+" else -1
            other = self.product()
            value = _Value(value.number + factor * other.number, value.unit or other.unit)
        return value

    def product(self) -> _Value:
        value = self.signed()
        while self.peek()[0] == "sign" and self.peek()[1] in "*/×÷":
            times = self.tokens.pop(0)[1] in "*×"
            other = self.signed()
            if times and value.unit and other.unit:
                raise QuantityError(f"{self.text!r} multiplies two measured numbers")
            if not times and other.number == 0:
                raise QuantityError(f"{self.text!r} divides by zero")
            if times:
                value = _Value(value.number * other.number, value.unit or other.unit)
            elif other.unit and not value.unit:
                # 1/2in is half an inch: nobody means one over two inches.
                value = _Value(value.number / other.number * other.unit**2, other.unit)
            else:
                value = _Value(value.number / other.number, None if other.unit else value.unit)
        return value

    def signed(self) -> _Value:
        kind, text = self.peek()
        if kind == "sign" and text in "+-(":
            self.depth += 1
            if self.depth > DEEPEST:
                raise QuantityError(f"{self.text[:20]!r}… has too many signs and brackets within each other")
            value = self.within()
            self.depth -= 1
            return value
        if kind != "number":
            raise QuantityError(f"{self.text!r} is not a number: a number is missing" if kind == "end"
                                else f"{self.text!r} is not a number: {text!r} is out of place")  # fmt: skip
        return self.measured()

    def within(self) -> _Value:
        """What follows a sign, or stands within a bracket."""
        text = self.tokens.pop(0)[1]
        if text == "(":
            value = self.sum()
            if self.peek() != ("sign", ")"):
                raise QuantityError(f"{self.text!r} has a bracket that is not closed")
            self.tokens.pop(0)
            return value
        value = self.signed()
        return _Value(-value.number if text == "-" else value.number, value.unit)

    def measured(self) -> _Value:
        """A number with its unit; feet and inches may follow each other: 5'6"."""
        total: float = 0.0
        last: float | None = None
        while True:
            number = float(self.tokens.pop(0)[1])
            if self.peek()[0] != "unit":
                return _Value(total + number, last)
            unit = self.tokens.pop(0)[1]
            factor = self.units.get(unit, self.units.get(unit.lower()))
            if factor is None:
                known = ", ".join(self.units)
                raise QuantityError(f"{unit!r} in {self.text!r} is not a unit known here; known are {known}")
            total, last = total + number * factor, factor
            if self.peek()[0] != "number":
                return _Value(total, last)


def parse_length(text: str) -> float:
    """Millimetres; a bare number is in mm. `2.4m`, `8'`, `5'6"`, `450/2`, `3*(75+10)mm`."""
    return _Reader(text, MM_PER_UNIT).read()


def parse_angle(text: str) -> float:
    """Degrees; a bare number is in degrees."""
    return _Reader(text, DEGREES_PER_UNIT).read()


def parse_share(text: str) -> float:
    """A factor: `1.5`, `150%`, `2x`, `1/3`."""
    return _Reader(text, SHARE_PER_UNIT).read()
