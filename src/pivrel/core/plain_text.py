"""Names as one line of text, which every file can hold."""

from __future__ import annotations

import re

PRINTABLE = "^[^\\p{Cc}\ufffe\uffff]*$"
"""Text of one line: without control characters, and without what XML has no place for (XML 1.0, production 2).
The pattern of a JSON Schema, which knows classes of Unicode (ECMA-262, section 22.2)."""

LONGEST_NAME = 1000
"""Signs that are kept of a name that a model states."""

_UNPRINTABLE = re.compile("[\x00-\x1f\x7f-\x9f\ud800-\udfff\ufffe\uffff]+")


def printable(text: str) -> str:
    """The text with a blank in the place of whatever `PRINTABLE` refuses."""
    return _UNPRINTABLE.sub(" ", text)
