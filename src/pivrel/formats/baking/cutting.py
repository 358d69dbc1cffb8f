"""Charts larger than an image, cut into parts that one holds."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.bake.charts import Charts, joined, pieces_apart, together, upright
from pivrel.core.geometry.surface import Surface
from pivrel.formats.cutting import SingleSheet, cut_out
from pivrel.formats.laid import LaidModel

APART = 4.0
"""Charts lie so many times the largest one's length apart while their parts are found."""


def within(model: LaidModel, charts: Charts, limit_mm: float) -> tuple[LaidModel, Charts]:
    """Upright charts none of which is longer than a limit either way; those that are are cut along straight lines, and
    the model's faces with them."""
    sizes = np.array([shape.bounds[2:] for shape in charts.shapes]).reshape(-1, 2)
    large: Mask = sizes.max(axis=1) > limit_mm
    if not large.any():
        return model, charts
    was = charts.chart
    surface, places = charts.surface, charts.places
    st, row = model.st, was.copy()
    for axis in (0, 1):
        model, surface, places, row, was = _cut_across(
            model, surface, places, row, was, sizes, axis, limit_mm
        )
        st = model.st
    assert len(st) == surface.mesh.corner_count
    # The parts of each chart, found by themselves.
    faces = np.flatnonzero((was >= 0) & large[was]).astype(np.int32)
    by_corner = np.repeat(row, np.diff(surface.mesh.face_start)).astype(float)
    aside = places + np.column_stack([by_corner * APART * limit_mm, np.zeros(len(by_corner))])
    pieces, _ = pieces_apart(surface, faces, aside)
    parts = together(surface, [(pieces, np.ones(pieces.count, bool))])
    kept = _kept(charts, surface, places, was, ~large)
    # Turned anew one could be longer than an image again.
    return model, joined(kept, upright(parts, turned=False))


def _kept(charts: Charts, surface: Surface, places: Floats, was: Ints, small: Mask) -> Charts:
    """The charts that stay as they are, on the surface after cutting."""
    number = np.append(np.where(small, np.cumsum(small) - 1, -1), -1)
    chart = number[was].astype(np.int32)
    held = np.repeat(chart >= 0, np.diff(surface.mesh.face_start))
    shapes = tuple(shape for shape, stays in zip(charts.shapes, small, strict=True) if stays)
    return Charts(surface, np.where(held[:, None], places, np.nan), chart, shapes)


def _cut_across(
    model: LaidModel, surface: Surface, places: Floats, row: Ints, was: Ints, sizes: Floats, axis: int, limit_mm: float
) -> tuple[LaidModel, Surface, Floats, Ints, Ints]:  # fmt: skip
    """Charts cut into strips of one length along an axis; row tells strips from each other."""
    count = np.maximum(np.ceil(sizes[:, axis] / limit_mm - 1e-9), 1).astype(int)
    # The last strip reaches a little further, so that rounding leaves nothing beyond it.
    step = sizes[:, axis] / count * (1 + 1e-9)
    base = int(row.max()) + 1
    far = float(sizes.max()) + 1.0
    sheets, repeats = [], [np.zeros((base, 2))]
    for strip in range(int(count.max())):
        own = np.flatnonzero((was >= 0) & (np.append(count, 0)[was] > max(strip, 1))).astype(np.int32)
        if not len(own):
            continue
        corners = surface.corners_of(own)
        chart = np.repeat(was, np.diff(surface.mesh.face_start))[corners]
        shifted = places[corners].copy()
        shifted[:, axis] -= strip * step[chart]
        # Across, every strip is as wide as anything.
        shifted[:, 1 - axis] += far
        # Strips of one chart that was cut the other way stay apart by the row that they had.
        kinds, kind = np.unique(row[own], return_inverse=True)
        size = np.empty((len(kinds), 2))
        size[kind, axis] = step[was[own]]
        size[:, 1 - axis] = 4 * far
        sheets.append(SingleSheet(own, (base + kind).astype(np.int32), shifted))
        repeats.append(size)
        base += len(kinds)
    if not sheets:
        return model, surface, places, row, was
    mesh = replace(surface.mesh, uv_sets=(*surface.mesh.uv_sets, model.st, places))
    cut = cut_out(Surface(mesh), row, places, sheets, np.concatenate(repeats))
    *sets, st, whole = cut.mesh.uv_sets
    surface = Surface(replace(cut.mesh, uv_sets=tuple(sets)))
    model = replace(
        model,
        surface=surface,
        face_finish=model.face_finish[cut.face],
        st=st,
        face_origin=model.face_origin[cut.face],
    )
    return model, surface, whole, cut.face_row, was[cut.face]
