"""Patterns to cut by, in true mm. A new format is a module and a line here."""

from collections.abc import Callable, Mapping, Sequence

from pivrel.formats.pattern.dxf import write_dxf
from pivrel.formats.pattern.layers import Drawn, drawn
from pivrel.formats.pattern.svg import write_svg

PATTERNS: Mapping[str, tuple[str, Callable[[Sequence[Drawn], str], bytes]]] = {
    "svg": ("image/svg+xml", write_svg),
    "dxf": ("image/vnd.dxf", write_dxf),
}
"""By the end of a file's name: its media type, and what writes it with a sentence on how true it is."""

__all__ = ["PATTERNS", "Drawn", "drawn"]
