"""Charts arranged on images of a size, at so many pixels per mm."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from pivrel.core.arrays import Floats, Ints
from pivrel.core.bake.charts import Charts
from pivrel.core.geometry.nesting import Board, nest
from pivrel.core.measure.stretch import stretch


@dataclass(frozen=True)
class Density:
    """How truly charts are to their density: the share of the area within 2 %, and between which shares of the density 99 %
    of the area lies; slivers of a scan go far beyond, and nobody sees them."""

    true_share: float
    least: float
    greatest: float


WITHIN = 0.02

LEFT_OUT = 0.01
"""The share of the area that is beyond the density that is told."""


@dataclass(frozen=True)
class Pages:
    """Where charts lie on images.

    sizes: width and height of each image in pixels. page: (P,) which image each chart is on. px: (C, 2) by corner id from
    an image's lower left corner, NaN where nothing is unfolded.
    """

    charts: Charts
    px_per_mm: float
    padding_px: int
    sizes: tuple[tuple[int, int], ...]
    page: Ints
    px: Floats

    @property
    def face_page(self) -> Ints:
        """(F,) which image a face is on, -1 for none."""
        chart = self.charts.chart
        out: Ints = np.where(chart < 0, -1, np.append(self.page, -1)[chart]).astype(np.int32)
        return out

    @property
    def uv(self) -> Floats:
        """(C, 2) the same in shares of an image, v up."""
        face = np.repeat(self.face_page, np.diff(self.charts.surface.mesh.face_start))
        out: Floats = self.px / np.array([*self.sizes, (1, 1)], float)[face]
        return out

    def filled(self) -> float:
        """The share of the images' pixels that the charts take."""
        total = sum(width * height for width, height in self.sizes)
        return self.px_per_mm**2 * sum(shape.area for shape in self.charts.shapes) / total if total else 0.0

    def density(self) -> Density:
        """How truly the surface is to the density that was asked for."""
        surface, own = self.charts.surface, self.charts.triangles
        mm = np.nan_to_num(self.px) / self.px_per_mm
        high, low, _ = stretch(surface.mesh.points, surface.mesh.corners, surface.triangles[own], mm)
        areas = surface.triangle_areas[own]
        true = (high <= 1 + WITHIN) & (low >= 1 - WITHIN)
        total = max(float(areas.sum()), 1e-300)
        return Density(
            float(areas[true].sum()) / total,
            _beyond(low, areas),
            _beyond(-high, areas) * -1,
        )


def _beyond(values: Floats, areas: Floats) -> float:
    """The value below which half of what is left out of the area lies."""
    order = np.argsort(values)
    reached = np.cumsum(areas[order])
    at = int(np.searchsorted(reached, LEFT_OUT / 2 * reached[-1], side="right")) if len(order) else 0
    return float(values[order[min(at, len(order) - 1)]]) if len(order) else 1.0


def arranged(charts: Charts, px_per_mm: float, size: int, padding_px: int) -> Pages:
    """Upright charts on as few images of size x size pixels as are found, none larger than that.

    Each has the padding about it, on its own side of what lies next to it. An image whose charts do with half its width
    or height is made so small.
    """
    board = Board(float(size), float(size), 2.0 * padding_px, float(padding_px))
    scaled = [shapely.transform(shape, lambda xy: xy * px_per_mm) for shape in charts.shapes]
    placed = nest(scaled, board, once=True).placed
    page = np.full(len(placed), -1, np.int32)
    shift = np.full((len(placed) + 1, 2), np.nan)
    for number, place in enumerate(placed):
        assert place is not None, "charts that no image holds are cut before they are arranged"
        page[number], shift[number] = place.board, place.shift
    count = int(page.max(initial=-1)) + 1
    reach = np.zeros((count, 2))
    for number, shape in enumerate(scaled):
        own = np.array(shape.bounds[2:]) + shift[number] + padding_px
        reach[page[number]] = np.maximum(reach[page[number]], own)
    sizes = tuple((_halved(size, float(wide)), _halved(size, float(high))) for wide, high in reach)
    of_corner = np.repeat(charts.chart, np.diff(charts.surface.mesh.face_start))
    px = charts.places * px_per_mm + shift[of_corner]
    return Pages(charts, px_per_mm, padding_px, sizes, page, px)


def _halved(size: int, reach: float) -> int:
    """A side halved as long as it stays whole and holds what reaches so far."""
    while size % 2 == 0 and size // 2 >= max(reach, 4):
        size //= 2
    return size
