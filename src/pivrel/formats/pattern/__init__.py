"""Patterns to cut by, in true mm. A new format is a module and a line here."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from pivrel.formats.loading import loaded
from pivrel.formats.pattern.layers import Drawn, boards_drawn, drawn, side_by_side


@dataclass(frozen=True)
class PatternFormat:
    """A kind of file for patterns. suffix: the end of its name. writer: "module:function". options: of the writer."""

    suffix: str
    mime: str
    writer: str
    options: Mapping[str, Any] = field(default_factory=dict)

    def write(self, pieces: Sequence[Drawn], told: str) -> bytes:
        """A file from what is drawn, and how true it is."""
        file: bytes = loaded(self.writer)(pieces, told, **self.options)
        return file


_AT = "pivrel.formats.pattern"

PATTERNS: Mapping[str, PatternFormat] = {
    "svg": PatternFormat(".svg", "image/svg+xml", f"{_AT}.svg:write_svg"),
    "dxf": PatternFormat(".dxf", "image/vnd.dxf", f"{_AT}.dxf:write_dxf"),
    "a4": PatternFormat("_A4.pdf", "application/pdf", f"{_AT}.paper:write_pdf", {"page": "A4"}),
    "a3": PatternFormat("_A3.pdf", "application/pdf", f"{_AT}.paper:write_pdf", {"page": "A3"}),
}
"""By the word that asks for them."""

__all__ = ["PATTERNS", "Drawn", "boards_drawn", "drawn", "side_by_side"]
