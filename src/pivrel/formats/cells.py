"""Text from people and files as a cell of a table (CSV, XLSX), where a program would take some of it for a formula."""

from __future__ import annotations

from pivrel.core.plain_text import printable

FORMULA = ("=", "+", "-", "@", "\uff1d", "\uff0b", "\uff0d", "\uff20")
"""What a formula begins with, in its wide forms too (OWASP, "CSV Injection")."""

LONGEST = 32_767
"""Characters of a cell of XLSX (from memory)."""


def cell_text(text: str) -> str:
    """The text so that it stands in a cell as it reads: an apostrophe keeps a program from computing it.

    Control characters and line breaks become blanks, and what no cell holds is cut off.
    """
    plain = printable(text)
    if plain.lstrip().startswith(FORMULA):
        plain = "'" + plain
    return plain[:LONGEST]
