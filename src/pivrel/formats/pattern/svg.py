"""Patterns as SVG: one user unit is one mm; t runs up, as on the sheet."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from xml.etree import ElementTree as Et

from pivrel.core.arrays import Floats
from pivrel.core.plain_text import printable
from pivrel.formats.pattern.layers import LAYERS, Drawn, extent

MARGIN_MM = 10.0

STYLES = {
    "OUTLINE": "#000000", "INNER_CUT": "#d02020", "FOLD": "#2050c0", "GRAIN": "#707070", "NUMBER": "#000000",
    "MARK": "#108040", "MATERIAL": "#707070", "BOARD": "#909090",
}  # fmt: skip

LINE_MM = 0.2


def write_svg(pieces: Sequence[Drawn], told: str) -> bytes:
    """The pattern in true mm, a group for each layer; told: how true it is.

    Folds say by data-angle by how many degrees what lies beyond is folded back, away from whoever looks.
    """
    low, high = extent(pieces)
    low, high = low - MARGIN_MM, high + MARGIN_MM
    width, height = high - low
    root = Et.Element("svg", {
        "xmlns": "http://www.w3.org/2000/svg", "version": "1.1", "width": f"{_mm(width)}mm", "height": f"{_mm(height)}mm",
        "viewBox": f"0 0 {_mm(width)} {_mm(height)}",
    })  # fmt: skip
    Et.SubElement(root, "desc").text = printable(told)

    def at(place: Floats) -> str:
        return f"{_mm(place[0] - low[0])} {_mm(high[1] - place[1])}"

    for layer in LAYERS:
        look = {"fill": "none", "stroke": STYLES[layer], "stroke-width": str(LINE_MM)}
        if layer == "FOLD":
            look["stroke-dasharray"] = "4 2"
        group = Et.SubElement(root, "g", {"id": layer, **look})
        for piece in pieces:
            own = Et.SubElement(group, "g", {"data-piece": str(piece.number)})
            _drawn(own, piece, layer, at)
            if not len(own):
                group.remove(own)
    return Et.tostring(root, encoding="utf-8", xml_declaration=True)


def _drawn(to: Et.Element, piece: Drawn, layer: str, at: Callable[[Floats], str]) -> None:
    for of, ring in piece.rings:
        if of == layer:
            Et.SubElement(to, "path", {"d": "M" + "L".join(at(place) for place in ring) + "Z"})
    for of, line in piece.lines:
        if of == layer:
            Et.SubElement(to, "path", {"d": "M" + "L".join(at(place) for place in line)})
    if layer == "FOLD":
        for fold in piece.folds:
            path = "M" + "L".join(at(place) for place in fold.ends)
            Et.SubElement(to, "path", {"d": path, "data-angle": f"{fold.angle_deg:.4f}"})
    for of, words in piece.words:
        if of == layer:
            x, y = at(words.at).split()
            look = {"x": x, "y": y, "font-size": _mm(words.height_mm), "text-anchor": "middle", "stroke": "none",
                    "fill": STYLES[layer], "font-family": "sans-serif"}  # fmt: skip
            Et.SubElement(to, "text", look).text = printable(words.text)


def _mm(value: float) -> str:
    return f"{value:.6f}".rstrip("0").rstrip(".")
