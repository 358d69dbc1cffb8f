"""Charts: pieces of a surface laid flat, true to size, none of them over itself."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
import xatlas

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.core.measure.pieces import Pieces, find_pieces
from pivrel.core.measure.stretch import stretch

TRUE_WITHIN = 0.01
"""Faces that a finish lays so truly keep its laying as their chart, which holds the density within twice as much."""

OVER = 1e-4
"""A piece of which a larger share lies over itself is unfolded anew."""

COST = 0.1
"""What xatlas may spend on a chart before it begins another: a twentieth of its own choice. On scanned bodies half as many
charts again, of which 97 % lie within 10 % of their size in place of 74 %."""

FINE = 4096.0
"""xatlas packs in whole pixels, of which the surface has so many a side; its charts are put to scale afterwards."""


@dataclass(frozen=True)
class Charts:
    """Charts of some faces of a surface.

    places: (C, 2) mm by corner id, each chart by itself; NaN where nothing is unfolded. chart: (F,) which chart a face
    lies in, -1 for none. shapes: what each covers of its plane.
    """

    surface: Surface
    places: Floats
    chart: Ints
    shapes: tuple[shapely.Geometry, ...]

    @property
    def triangles(self) -> Ints:
        """(K,) the rows of the surface's triangles that lie in a chart."""
        out: Ints = np.flatnonzero(self.chart[self.surface.triangle_face] >= 0)
        return out


def true_faces(surface: Surface, faces: Ints, places: Floats) -> Ints:
    """Those of some faces (K,) that lie true to size by places (C, 2) mm."""
    own = np.flatnonzero(surface.held(faces)[surface.triangle_face])
    high, low, _ = stretch(
        surface.mesh.points, surface.mesh.corners, surface.triangles[own], np.nan_to_num(places)
    )
    off = (high > 1 + TRUE_WITHIN) | (low < 1 - TRUE_WITHIN)
    wrong = np.zeros(surface.mesh.face_count, bool)
    wrong[surface.triangle_face[own[off]]] = True
    # What has no place lies nowhere.
    lost = np.isnan(places).any(axis=1)
    wrong |= np.logical_or.reduceat(lost, surface.mesh.face_start[:-1])
    out: Ints = faces[~wrong[faces]]
    return out


def pieces_apart(surface: Surface, faces: Ints, places: Floats) -> tuple[Pieces, Mask]:
    """The pieces of faces (K,) that hang together by places (C, 2) mm, and (P,) which lie nowhere over themselves."""
    pieces = find_pieces(surface, faces, places[surface.corners_of(faces)])
    areas = np.array([shape.area for shape in pieces.polygons])
    return pieces, pieces.sheet_areas - areas <= OVER * pieces.sheet_areas


def unfolded(surface: Surface, faces: Ints) -> Floats:
    """(C, 2) mm: triangles laid flat by xatlas, its charts apart and to scale as wholes; NaN elsewhere.

    faces: (K,) int32, each of three corners.
    """
    mesh = surface.mesh
    out = np.full((mesh.corner_count, 2), np.nan)
    corners = (mesh.face_start[:-1][faces][:, None] + np.arange(3)).reshape(-1)
    used, index = np.unique(mesh.corners[corners], return_inverse=True)
    points = mesh.points[used]
    area = float(surface.face_areas[faces].sum())
    if not len(faces) or area <= 0:
        return out
    atlas = xatlas.Atlas()
    atlas.add_mesh((points - points.mean(axis=0)).astype(np.float32), index.reshape(-1, 3).astype(np.uint32))
    charts, packing = xatlas.ChartOptions(), xatlas.PackOptions()
    charts.max_cost = COST
    packing.texels_per_unit = FINE / float(np.sqrt(area))
    packing.rotate_charts = packing.rotate_charts_to_axis = False
    atlas.generate(charts, packing)
    _, triangles, uv = atlas[0]
    numbers = atlas.get_mesh_vertex_assignment(0)[1][triangles[:, 0]].astype(np.int64)
    flat = uv.astype(np.float64) * (atlas.width, atlas.height) / packing.texels_per_unit
    out[corners] = flat[triangles.reshape(-1)]
    # Each chart as large as what it covers, and as it looks from outside.
    u, v = (flat[triangles[:, k]] - flat[triangles[:, 0]] for k in (1, 2))
    signed = (u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]) / 2
    laid = np.bincount(numbers, signed)
    wanted = np.bincount(numbers, surface.face_areas[faces])
    size = np.sqrt(wanted / np.maximum(np.abs(laid), 1e-300))[numbers]
    by_corner = np.repeat(np.stack([size * np.sign(laid)[numbers], size], axis=1), 3, axis=0)
    out[corners] *= by_corner
    return out


def upright(charts: Charts, turned: bool = True) -> Charts:
    """Each chart turned so that the smallest rectangle about it lies along the axes, its longer side across, and moved to
    the origin: so it takes least room. turned False: moved alone."""
    places, shapes = charts.places.copy(), []
    of_corner = np.repeat(charts.chart, np.diff(charts.surface.mesh.face_start))
    order = np.argsort(of_corner, kind="stable")
    bounds = np.searchsorted(of_corner[order], np.arange(len(charts.shapes) + 1))
    for number, shape in enumerate(charts.shapes):
        own = order[bounds[number] : bounds[number + 1]]
        about = shape.minimum_rotated_rectangle if turned else shapely.box(*shape.bounds)
        # A piece as thin as rounding has a line about it.
        ring = np.array(
            (about if about.geom_type == "Polygon" else shapely.box(*shape.bounds)).exterior.coords
        )
        sides = np.diff(ring[:3], axis=0)
        along = sides[np.argmax(np.hypot(*sides.T))]
        c, s = along / max(float(np.hypot(*along)), 1e-300)
        turn = np.array([[c, -s], [s, c]])
        moved = places[own] @ turn
        low = moved.min(axis=0)
        places[own] = moved - low
        shapes.append(shapely.transform(shape, lambda xy, turn=turn, low=low: xy @ turn - low))
    return Charts(charts.surface, places, charts.chart, tuple(shapes))


def together(surface: Surface, found: Sequence[tuple[Pieces, Mask]]) -> Charts:
    """The pieces that were chosen of each laying, as charts."""
    places = np.full((surface.mesh.corner_count, 2), np.nan)
    chart = np.full(surface.mesh.face_count, -1, np.int32)
    shapes: list[shapely.Geometry] = []
    for pieces, wanted in found:
        # What has no area, as slivers beside a cut, lies in no chart.
        chosen = wanted & np.array([not shape.is_empty for shape in pieces.polygons], bool)
        number = np.where(chosen, len(shapes) + np.cumsum(chosen) - 1, -1)[pieces.piece]
        own = pieces.faces[number >= 0]
        chart[own] = number[number >= 0]
        corners = surface.corners_of(own)
        flip = np.repeat(pieces.hand[pieces.piece[number >= 0]], np.diff(surface.mesh.face_start)[own])
        ids = np.flatnonzero(corners)
        places[ids] = pieces.place_of(ids) * np.column_stack([flip, np.ones(len(flip))])
        for number_of, shape in enumerate(pieces.polygons):
            if chosen[number_of]:
                hand = float(pieces.hand[number_of])
                shapes.append(shapely.transform(shape, lambda xy, hand=hand: xy * (hand, 1.0)))
    return Charts(surface, places, chart, tuple(shapes))


def joined(first: Charts, second: Charts) -> Charts:
    """Charts of different faces of one surface, the first ones' numbers before the second ones'."""
    own = second.chart >= 0
    corners = np.repeat(own, np.diff(second.surface.mesh.face_start))
    return Charts(
        first.surface,
        np.where(corners[:, None], second.places, first.places),
        np.where(own, second.chart + len(first.shapes), first.chart).astype(np.int32),
        (*first.shapes, *second.shapes),
    )


def alone(surface: Surface, faces: Ints) -> Charts:
    """Each of some triangles (K,) as a chart of its own, true to size."""
    mesh = surface.mesh
    corners = mesh.face_start[:-1][faces][:, None] + np.arange(3)
    a, b, c = (mesh.points[mesh.corners[corners[:, k]]] for k in range(3))
    u, v = b - a, c - a
    along = np.linalg.norm(u, axis=1)
    x = (u * v).sum(axis=1) / np.maximum(along, 1e-300)
    y = np.linalg.norm(np.cross(u, v), axis=1) / np.maximum(along, 1e-300)
    nought = np.zeros(len(faces))
    flat = np.stack([[nought, nought], [along, nought], [x, y]], axis=0).transpose(2, 0, 1)
    places = np.full((mesh.corner_count, 2), np.nan)
    places[corners.reshape(-1)] = flat.reshape(-1, 2)
    chart = np.full(mesh.face_count, -1, np.int32)
    chart[faces] = np.arange(len(faces))
    return Charts(
        surface, places, chart, tuple(shapely.polygons(np.concatenate([flat, flat[:, :1]], axis=1)))
    )
