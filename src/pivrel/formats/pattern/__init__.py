"""Patterns to cut by, in true mm. A new format is a module and a line here."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial

from pivrel.formats.pattern.dxf import write_dxf
from pivrel.formats.pattern.layers import Drawn, boards_drawn, drawn, side_by_side
from pivrel.formats.pattern.paper import write_pdf
from pivrel.formats.pattern.svg import write_svg


@dataclass(frozen=True)
class PatternFormat:
    """A kind of file for patterns. suffix: the end of its name. write: from what is drawn, and how true it is."""

    suffix: str
    mime: str
    write: Callable[[Sequence[Drawn], str], bytes]


PATTERNS: Mapping[str, PatternFormat] = {
    "svg": PatternFormat(".svg", "image/svg+xml", write_svg),
    "dxf": PatternFormat(".dxf", "image/vnd.dxf", write_dxf),
    "a4": PatternFormat("_A4.pdf", "application/pdf", partial(write_pdf, page="A4")),
    "a3": PatternFormat("_A3.pdf", "application/pdf", partial(write_pdf, page="A3")),
}
"""By the word that asks for them."""

__all__ = ["PATTERNS", "Drawn", "boards_drawn", "drawn", "side_by_side"]
