"""Patterns as DXF (R2010) in mm, a layer for each kind of line."""

from __future__ import annotations

import io
from collections.abc import Sequence

from ezdxf.document import Drawing
from ezdxf.enums import TextEntityAlignment
from ezdxf.filemanagement import new

from pivrel.formats.pattern.layers import LAYERS, Drawn

COLORS = {
    "OUTLINE": 7,
    "INNER_CUT": 1,
    "FOLD": 5,
    "GRAIN": 8,
    "NUMBER": 7,
    "MARK": 3,
    "MATERIAL": 8,
    "BOARD": 9,
}
"""Numbers of the standard's own color index."""

MILLIMETRES = 4

ANGLE = "PIVREL"
"""The application name under which a fold carries its angle in degrees, as a real number (group code 1040)."""


def write_dxf(pieces: Sequence[Drawn], told: str) -> bytes:
    """The pattern in true mm. told: how true it is, kept as a property of the drawing.

    A fold is a line with its angle as extended data, and in words beside it.
    """
    document = new("R2010", units=MILLIMETRES)
    document.appids.new(ANGLE)
    document.header.custom_vars.append("How true", told)
    for layer in LAYERS:
        document.layers.add(layer, color=COLORS[layer])
    for piece in pieces:
        _piece(document, piece)
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode("utf-8")


def _piece(document: Drawing, piece: Drawn) -> None:
    space = document.modelspace()
    for layer, ring in piece.rings:
        space.add_lwpolyline(ring.tolist(), close=True, dxfattribs={"layer": layer})
    for layer, line in piece.lines:
        space.add_line(tuple(line[0]), tuple(line[1]), dxfattribs={"layer": layer})
    for fold in piece.folds:
        made = space.add_line(tuple(fold.ends[0]), tuple(fold.ends[1]), dxfattribs={"layer": "FOLD"})
        made.set_xdata(ANGLE, [(1040, fold.angle_deg)])
    for layer, words in piece.words:
        text = space.add_text(words.text, height=words.height_mm, dxfattribs={"layer": layer})
        text.set_placement(tuple(words.at), align=TextEntityAlignment.MIDDLE_CENTER)
