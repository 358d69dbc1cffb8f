"""Coats settled: where each of their sheets lies, and which lines their masks are near to."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.coats.masks.nearness import EdgeKind, Near
from pivrel.core.coats.segments import LineGrid, sorted_into_cells
from pivrel.core.coats.sheet_over import SheetOver
from pivrel.core.evaluation.coated import Coated
from pivrel.core.evaluation.layers import LaidLayer, Layer, TriplanarLayer, gradients
from pivrel.core.geometry.edge_pairs import GLUED
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.vectors import unit_rows
from pivrel.core.laying.face_sheets import pieces_by
from pivrel.core.laying.finish import AXES, Finish
from pivrel.core.laying.lay import UNTOUCHED
from pivrel.core.laying.settled import Settled
from pivrel.core.measure.seams import Seams
from pivrel.core.picks import resolve
from pivrel.core.projection import Triplanar
from pivrel.core.solve.nearest import nearest_triangle


def own_finish(finish: Finish, sheet: SheetOver) -> Finish:
    """A sheet with a laying of its own over a finish, as a finish on the same faces."""
    assert sheet.projection is not None, "a sheet without a projection lies as the finish beneath it"
    return Finish(
        name=finish.name, material=sheet.material, pick=finish.pick, projection=sheet.projection, datum=sheet.datum,
        turn_deg=sheet.turn_deg, offset_mm=sheet.offset_mm, scale=sheet.scale, material_key=sheet.key,
        cells=sheet.cells, on=finish.on,
    )  # fmt: skip


@dataclass(frozen=True)
class Under:
    """A finish as it lies on a surface. st: (C, 2) mm by corner id."""

    finish: Finish
    settled: Settled
    st: Floats


def layer_of(surface: Surface, under: Under, tile: bool = True) -> Layer:
    """A laid finish as a layer."""
    finish = under.finish
    given = (finish.scale, tile, finish.cells, finish.spread, finish.material.joints)
    if isinstance(finish.projection, Triplanar):
        settled = under.settled
        x, y, z = (key or finish.material_key for key in finish.projection.materials)
        a, b, c = (finish.material_of(axis).repeat_mm for axis in AXES)
        piece = None if settled.of_face is None else settled.of_face[surface.triangle_face]
        datums = tuple(one.datum for one in settled.pieces)
        return TriplanarLayer(*given, (x, y, z), (a, b, c), finish.projection, datums, piece, finish.sheets)
    return LaidLayer(
        *given, finish.material_key, finish.material.repeat_mm, surface, under.st, gradients(surface, under.st),
        UNTOUCHED,
    )  # fmt: skip


def laid_over(base: Layer, finish: Finish, sheet: SheetOver) -> Layer:
    """A sheet by the laying of the finish beneath, its own turn, offset and scale on top of it."""
    matrix = sheet.placement.matrix
    scale = (finish.scale[0] * sheet.scale[0], finish.scale[1] * sheet.scale[1])
    if isinstance(base, TriplanarLayer):
        one, size = sheet.key, sheet.material.repeat_mm
        return replace(
            base, spread=None, scale=scale, tile=sheet.tile, cells=sheet.cells, keys=(one,) * 3, repeats_mm=(size,) * 3,
            sheets=np.stack([_after(matrix, held) for held in base.sheets]),
        )  # fmt: skip
    assert isinstance(base, LaidLayer)
    return replace(
        base, spread=None, scale=scale, tile=sheet.tile, cells=sheet.cells, key=sheet.key,
        repeat_mm=sheet.material.repeat_mm, placed=matrix,
    )  # fmt: skip


def _after(second: Floats, first: Floats) -> Floats:
    """(2, 3) one map of the plane after another."""
    out: Floats = np.column_stack([second[:, :2] @ first[:, :2], second[:, :2] @ first[:, 2] + second[:, 2]])
    return out


@dataclass(frozen=True)
class LinesOf:
    """The lines that masks of a finish may be near to. faces: (K,) int32 that it is laid on; seams: called where asked."""

    surface: Surface
    faces: Ints
    seams: Callable[[], Seams]

    def open_seams(self) -> Floats:
        seams = self.seams()
        return self._ends(seams.pairs[seams.broken & (seams.length_mm > 0), 0])

    def edges(self, kind: EdgeKind, angle_deg: float) -> Floats:
        pairs = self.surface.edge_pairs
        # Open space of half a turn is flush; more is an outward edge, less an inward one.
        turn = np.degrees(pairs.opening) - 180
        wanted: dict[EdgeKind, Mask] = {
            "convex": turn > angle_deg, "concave": -turn > angle_deg, "both": np.abs(turn) > angle_deg,
        }  # fmt: skip
        # Faces that lie on each other leave no space: nobody sees their edge.
        return self._ends(pairs.near[wanted[kind] & (pairs.opening > GLUED) & (pairs.length_mm > 0)])

    def side_at(self, points: Floats) -> Floats:
        surface = self.surface
        own = np.flatnonzero(surface.held(self.faces)[surface.triangle_face])
        if not len(own):
            return np.zeros((len(points), 3))
        triangles = surface.mesh.corners[surface.triangles[own]]
        rows = [nearest_triangle(point, surface.mesh.points, triangles)[0] for point in points]
        return unit_rows(surface.normals[surface.triangle_face[own[rows]]])

    def _ends(self, half_edges: Ints) -> Floats:
        """(E, 2, 3) mm of half-edges, each once."""
        ends: Floats = self.surface.mesh.points[self.surface.ends_of(half_edges)]
        return ends


def face_tones(surface: Surface, finish: Finish) -> Floats | None:
    """(F, 5) what red, green and blue, roughness and bumps of each face are multiplied by beside the finish's own tone; None
    where that is 1 all over."""
    if not has_face_tones(finish):
        return None
    out = np.ones((surface.mesh.face_count, 5))
    for toned in finish.toned:
        out[resolve(toned.pick, surface)] *= toned.tone.factors
    if finish.spread is not None and finish.spread.by in ("part", "board"):
        every = np.arange(surface.mesh.face_count, dtype=np.int32)
        piece, names = pieces_by(surface, finish.spread.by, every)
        out[:, :3] *= np.array([finish.spread.of(name) for name in names])[piece, None]
    return out


def has_face_tones(finish: Finish) -> bool:
    """Whether faces of a finish differ in tone."""
    return bool(finish.toned) or (finish.spread is not None and finish.spread.by in ("part", "board"))


def settle_coats(
    surface: Surface,
    under: Under,
    lay: Callable[[SheetOver], Under],
    grid: Callable[[Near], LineGrid],
) -> Coated:
    """A finish with its coats.

    lay: lays a sheet with a laying of its own on the same faces. grid: the lines of a mask, sorted.
    """
    finish = under.finish
    base = layer_of(surface, under)
    over: dict[SheetOver, Layer] = {}
    for sheet in finish.sheets_over:
        if sheet not in over:
            by_base = sheet.projection is None
            over[sheet] = (
                laid_over(base, finish, sheet) if by_base else layer_of(surface, lay(sheet), sheet.tile)
            )
    grids = {mask: grid(mask) for mask in finish.near_masks}
    return Coated(surface, base, finish.tone, face_tones(surface, finish), finish.coats, over, grids)


def grid_of(mask: Near, lines: LinesOf) -> LineGrid:
    """The lines of a mask, sorted into cells."""
    return sorted_into_cells(mask.lines(lines), mask.soft_mm)
