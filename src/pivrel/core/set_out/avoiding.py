"""Keeping pieces clear of areas of the sheet: by the least shift that clears them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.affinity import scale, translate

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.laying.finish import Finish
from pivrel.core.measure.pieces import Pieces
from pivrel.core.set_out.moves import LaidFinish, SetOutMove
from pivrel.core.set_out.piece_moves import movable_pieces, shifted, touched
from pivrel.core.sheet.material import Box

CLEAR_MM = 0.05
"""So far pieces stay off an area at least."""

MOST_COPIES = 4000
"""A piece under which more copies of an area lie is called touching without looking at each."""


@dataclass(frozen=True)
class Marked:
    """Areas to avoid on a sheet, in mm of the model: boxes of least s and t, greatest s and t.

    repeat_mm: after which they come again. tile: whether they do; else the sheet ends there.
    """

    boxes: tuple[Box, ...]
    repeat_mm: tuple[float, float]
    tile: bool = True

    @classmethod
    def on(cls, finish: Finish) -> Marked:
        """Those of a finish's material, as its sheet lies."""
        return cls.of(finish.material.avoid, finish.material.repeat_mm, finish.scale, finish.tile)

    @classmethod
    def of(
        cls, areas: Sequence[Box], repeat: tuple[float, float], by: tuple[float, float], tile: bool
    ) -> Marked:
        """Those of a sheet that is enlarged by `by` along and up."""
        x, y = by
        boxes = tuple(
            (min(s0 * x, s1 * x), min(t0 * y, t1 * y), max(s0 * x, s1 * x), max(t0 * y, t1 * y))
            for s0, t0, s1, t1 in areas
        )
        return cls(boxes, (abs(repeat[0] * x), abs(repeat[1] * y)), tile)

    def touched(self, polygon: shapely.Geometry) -> bool:
        """Whether a piece lies on one of them."""
        bounds = polygon.bounds
        if not bounds or not np.isfinite(bounds).all():
            return False
        shapely.prepare(polygon)
        for box in self.boxes:
            copies = self._copies(box, bounds)
            if len(copies) > MOST_COPIES or bool(shapely.intersects(polygon, shapely.box(*copies.T)).any()):
                return True
        return False

    def _copies(self, box: Box, within: tuple[float, float, float, float]) -> Floats:
        """(N, 4) the area wherever it comes again near to some bounds."""
        if not self.tile:
            return np.array([box])
        steps = []
        for k in (0, 1):
            first = np.floor((within[k] - box[k + 2]) / self.repeat_mm[k])
            last = np.ceil((within[k + 2] - box[k]) / self.repeat_mm[k])
            if last - first > MOST_COPIES:
                last = first + MOST_COPIES
            steps.append(np.arange(first, last + 1) * self.repeat_mm[k])
        s, t = (grid.reshape(-1) for grid in np.meshgrid(*steps))
        return np.array(box) + np.stack([s, t, s, t], axis=1)

    def clearing(self, polygon: shapely.Geometry) -> Floats | None:
        """(2,) the least shift by which a piece lies on none of them; None where there is none.

        Forbidden are the shifts of the Minkowski sum of an area and the piece turned about: T. Lozano-Pérez, "Spatial
        planning: a configuration space approach", IEEE Transactions on Computers C-32(2), 1983. What repeats is looked
        at over one repeat about where the piece lies, for further on everything comes again.
        """
        about = scale(polygon, -1.0, -1.0, origin=(0.0, 0.0))
        open_ = self._shifts(polygon)
        if open_.is_empty:
            return None
        low, high = np.array(open_.bounds[:2]), np.array(open_.bounds[2:])
        taken = []
        for s0, t0, s1, t1 in self.boxes:
            wide, tall = s1 - s0 + 2 * CLEAR_MM, t1 - t0 + 2 * CLEAR_MM
            summed = translate(_swept(_swept(about, (wide, 0.0)), (0.0, tall)), s0 - CLEAR_MM, t0 - CLEAR_MM)
            at = summed.bounds
            copies = self._copies(
                (0.0, 0.0, 0.0, 0.0), (low[0] - at[2], low[1] - at[3], high[0] - at[0], high[1] - at[1])
            )
            if len(copies) > MOST_COPIES:
                return None
            taken += [translate(summed, s, t) for s, t in copies[:, :2]]
        free = open_.difference(shapely.union_all(taken))
        if free.is_empty:
            return None
        line = shapely.shortest_line(shapely.Point(0.0, 0.0), free)
        return np.array(line.coords[-1])

    def _shifts(self, polygon: shapely.Geometry) -> shapely.Geometry:
        """The shifts among which is looked: one repeat, or those that leave the piece on its sheet."""
        width, height = self.repeat_mm
        if self.tile:
            return shapely.box(-width / 2, -height / 2, width / 2, height / 2)
        s0, t0, s1, t1 = polygon.bounds
        if s0 < 0 or t0 < 0 or s1 > width or t1 > height:
            reach = 2 * max(width, height, s1 - s0, t1 - t0)
            return shapely.box(-reach, -reach, reach, reach)
        return shapely.box(-s0, -t0, width - s1, height - t1)


def _swept(shape: shapely.Geometry, by: tuple[float, float]) -> shapely.Geometry:
    """What a shape passes over that is moved by (2,) mm."""
    ends = np.concatenate([
        np.stack([(ring := np.array(r.coords))[:-1], ring[1:]], axis=1)
        for part in shapely.get_parts(shape)
        if part.geom_type == "Polygon" and not part.is_empty
        for r in (part.exterior, *part.interiors)
    ])  # fmt: skip
    sides = np.stack([ends[:, 0], ends[:, 1], ends[:, 1] + by, ends[:, 0] + by, ends[:, 0]], axis=1)
    # A side along the way passes over nothing.
    along, way = ends[:, 1] - ends[:, 0], np.asarray(by)
    passes = np.abs(along[:, 0] * way[1] - along[:, 1] * way[0]) > 0
    return shapely.union_all([shape, translate(shape, *by), *shapely.polygons(sides[passes])])


def kept_clear(laid: LaidFinish, picked: Mask) -> tuple[list[SetOutMove], Ints]:
    """The pieces that a pick (F,) touches, each moved by the least that clears the areas; and those that cannot be."""
    pieces = movable_pieces(laid)
    marked = Marked.on(laid.finish)
    own = touched(pieces, picked)
    on = own[[marked.touched(pieces.polygons[piece]) for piece in own.tolist()]]
    found = [marked.clearing(pieces.polygons[piece]) for piece in on.tolist()]
    goes = np.array([shift is not None for shift in found], bool)
    by = np.array([shift for shift in found if shift is not None]).reshape(-1, 2)
    return shifted(laid, pieces, on[goes], by), on[~goes]


def pieces_touching(pieces: Pieces, marked: Marked) -> Ints:
    """The pieces that lie on an area to avoid."""
    if not marked.boxes:
        return np.empty(0, np.int64)
    return np.flatnonzero([marked.touched(polygon) for polygon in pieces.polygons])
