"""Patterns as PDF at 1:1, over as many sheets of paper as it takes, to be put together at their marks."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from io import BytesIO

import numpy as np
import shapely
from reportlab.lib.pagesizes import A3, A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from pivrel.core.arrays import Floats
from pivrel.errors import InputError
from pivrel.formats.pattern.layers import LAYERS, Drawn, extent
from pivrel.formats.pattern.svg import STYLES

PAGES = {"A4": A4, "A3": A3}
"""Sizes in points, upright (ISO 216)."""

BORDER_MM = 10.0
"""What printers leave white."""

OVERLAP_MM = 10.0
"""What neighbouring sheets both show."""

FOOT_MM = 14.0
"""The strip below the drawing with the bar to check by, and where the sheet belongs."""

BAR_MM = 100.0
MOST_PAGES = 300
LINE_MM = 0.2


@dataclass(frozen=True)
class _Tiling:
    """How a drawing is spread over sheets of paper.

    paper, window: width and height in mm of a sheet and of what it shows. low: where the first window begins.
    """

    paper: tuple[float, float]
    window: Floats
    low: Floats
    columns: int
    rows: int

    @property
    def step(self) -> Floats:
        """(2,) mm from a sheet to the next."""
        return self.window - OVERLAP_MM

    def windows(self) -> Iterator[tuple[int, int, Floats]]:
        """Row from the top and column of every sheet, from 1, with its lower left corner."""
        for row in range(self.rows - 1, -1, -1):
            for column in range(self.columns):
                yield self.rows - row, column + 1, self.low + self.step * [column, row]


def write_pdf(pieces: Sequence[Drawn], told: str, page: str) -> bytes:
    """The pattern in true mm: an overview, and then the sheets on which something lies, by rows from the top.

    InputError where it would take hundreds of sheets.
    """
    low, high = extent(pieces)
    tiling = _best_tiling(page, low - 2.0, high + 2.0)
    shapes = [_lines_of(piece) for piece in pieces]
    tree = shapely.STRtree(shapes)
    shown = []
    for row, column, corner in tiling.windows():
        box = shapely.box(*corner, *(corner + tiling.window))
        found = sorted(int(k) for k in tree.query(box) if shapely.intersects(shapes[k], box))
        # A sheet with nothing but a board's border on it is not worth its paper.
        if any(pieces[k].number for k in found):
            shown.append((row, column, corner, [pieces[k] for k in found]))
        if len(shown) > MOST_PAGES:
            raise InputError(
                f"at 1:1 the pattern takes more than {MOST_PAGES} sheets of {page}; "
                "pack the pieces closer, or take DXF or SVG"
            )
    out = BytesIO()
    canvas = Canvas(out, pagesize=tuple(side * mm for side in tiling.paper), invariant=1, pageCompression=1)
    canvas.setTitle("Pattern at 1:1")
    canvas.setSubject(told)
    _overview(
        canvas, tiling, pieces, told, {(row, column): n + 2 for n, (row, column, _, _) in enumerate(shown)}
    )
    for row, column, corner, own in shown:
        canvas.showPage()
        _sheet(canvas, tiling, corner, own)
        place = f"row {row} of {tiling.rows}, column {column} of {tiling.columns}"
        _foot(canvas, tiling, f"{place} - 1:1, print without scaling")
    canvas.save()
    return out.getvalue()


def _best_tiling(page: str, low: Floats, high: Floats) -> _Tiling:
    """Upright or lying, whichever takes fewer sheets."""
    size = high - low
    upright = tuple(float(side) / mm for side in PAGES[page])
    found = []
    for paper in (upright, upright[::-1]):
        window = np.array([paper[0] - 2 * BORDER_MM, paper[1] - 2 * BORDER_MM - FOOT_MM])
        columns, rows = (
            1 + max(int(np.ceil((size[k] - window[k]) / (window[k] - OVERLAP_MM) - 1e-9)), 0) for k in (0, 1)
        )
        # What is left over lies evenly about the pattern.
        whole = window + (window - OVERLAP_MM) * [columns - 1, rows - 1]
        found.append(_Tiling((paper[0], paper[1]), window, low - (whole - size) / 2, columns, rows))
    return min(found, key=lambda tiling: tiling.columns * tiling.rows)


def _lines_of(piece: Drawn) -> shapely.Geometry:
    """All that is drawn of a piece, to find the sheets that show it."""
    rings = [np.concatenate([ring, ring[:1]]) for _, ring in piece.rings]
    return shapely.multilinestrings(
        [shapely.linestrings(line) for line in (*rings, *(own for _, own in piece.lines))]
    )


def _sheet(canvas: Canvas, tiling: _Tiling, corner: Floats, pieces: Sequence[Drawn]) -> None:
    """One sheet: what its window shows, and marks where the next one begins."""
    at = np.array([BORDER_MM, BORDER_MM + FOOT_MM])
    canvas.saveState()
    clip = canvas.beginPath()
    clip.rect(*(at * mm), *(tiling.window * mm))
    canvas.clipPath(clip, stroke=0, fill=0)
    canvas.translate(*((at - corner) * mm))
    _draw(canvas, pieces, LINE_MM)
    canvas.restoreState()
    _register(canvas, at, tiling.window)


def _draw(canvas: Canvas, pieces: Sequence[Drawn], line_mm: float) -> None:
    canvas.setLineWidth(line_mm * mm)
    for layer in LAYERS:
        canvas.setStrokeColor(STYLES[layer])
        canvas.setFillColor(STYLES[layer])
        canvas.setDash(*(((4 * mm, 2 * mm),) if layer == "FOLD" else ()))
        for piece in pieces:
            for ring in (own for of, own in piece.rings if of == layer):
                _path(canvas, ring, closed=True)
            for line in (own for of, own in piece.lines if of == layer):
                _path(canvas, line)
            for fold in piece.folds if layer == "FOLD" else ():
                _path(canvas, fold.ends)
            for words in (own for of, own in piece.words if of == layer):
                canvas.setFont("Helvetica", words.height_mm * mm)
                canvas.drawCentredString(words.at[0] * mm, words.at[1] * mm, words.text)


def _path(canvas: Canvas, places: Floats, closed: bool = False) -> None:
    path = canvas.beginPath()
    path.moveTo(*(places[0] * mm))
    for place in places[1:]:
        path.lineTo(*(place * mm))
    if closed:
        path.close()
    canvas.drawPath(path, stroke=1, fill=0)


def _register(canvas: Canvas, at: Floats, window: Floats) -> None:
    """Crosses in the middle of what neighbours both show, and a fine line about the window."""
    canvas.setDash()
    canvas.setStrokeColor("#808080")
    canvas.setLineWidth(0.1 * mm)
    canvas.rect(*(at * mm), *(window * mm), stroke=1, fill=0)
    inset = OVERLAP_MM / 2
    for x in (at[0] + inset, at[0] + window[0] - inset):
        for y in (at[1] + inset, at[1] + window[1] - inset):
            canvas.line((x - 3) * mm, y * mm, (x + 3) * mm, y * mm)
            canvas.line(x * mm, (y - 3) * mm, x * mm, (y + 3) * mm)


def _foot(canvas: Canvas, tiling: _Tiling, place: str) -> None:
    """A bar of a stated length, and where the sheet belongs."""
    x, y = BORDER_MM, BORDER_MM + 4
    canvas.setStrokeColor("#000000")
    canvas.setFillColor("#000000")
    canvas.setLineWidth(0.3 * mm)
    canvas.line(x * mm, y * mm, (x + BAR_MM) * mm, y * mm)
    for k in range(11):
        long = 3 if k % 5 == 0 else 1.5
        canvas.line((x + k * BAR_MM / 10) * mm, y * mm, (x + k * BAR_MM / 10) * mm, (y + long) * mm)
    canvas.setFont("Helvetica", 8)
    canvas.drawString(x * mm, (y - 3.5) * mm, f"{BAR_MM:.0f} mm: check it by a ruler")
    canvas.drawRightString((tiling.paper[0] - BORDER_MM) * mm, y * mm, place)


def _overview(
    canvas: Canvas, tiling: _Tiling, pieces: Sequence[Drawn], told: str, pages: dict[tuple[int, int], int]
) -> None:
    """The whole pattern, made smaller, with the page of each sheet."""
    whole = tiling.window + tiling.step * [tiling.columns - 1, tiling.rows - 1]
    room = np.array(tiling.paper) - [2 * BORDER_MM, 2 * BORDER_MM + FOOT_MM + 12]
    by = min(float((room / whole).min()), 1.0)
    canvas.setFont("Helvetica", 10)
    canvas.drawString(
        BORDER_MM * mm, (tiling.paper[1] - BORDER_MM - 4) * mm, f"Overview, 1:{1 / by:.1f}. {told}"[:110]
    )
    canvas.saveState()
    canvas.translate(BORDER_MM * mm, (BORDER_MM + FOOT_MM) * mm)
    canvas.scale(by, by)
    canvas.translate(*(-tiling.low * mm))
    _draw(canvas, pieces, LINE_MM / by)
    canvas.setDash()
    canvas.setStrokeColor("#a0a0a0")
    canvas.setFillColor("#606060")
    canvas.setLineWidth(0.1 / by * mm)
    for row, column, corner in tiling.windows():
        canvas.rect(*(corner * mm), *(tiling.window * mm), stroke=1, fill=0)
        if (row, column) in pages:
            canvas.setFont("Helvetica", 9 / by)
            canvas.drawString(*((corner + 4 / by) * mm), f"page {pages[row, column]}")
    canvas.restoreState()
    _foot(canvas, tiling, "the sheets overlap by 10 mm; their crosses lie on each other")
