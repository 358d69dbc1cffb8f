"""Pieces: faces that are one on the sheet. Their outlines, how large they lie, and where they overlap."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from scipy.sparse import csr_array
from scipy.sparse.csgraph import connected_components

from pivrel.core.arrays import Floats, Ints, rows_by
from pivrel.core.geometry.surface import Surface
from pivrel.core.sheet.run_on import SAME_MM, edge_ends

WHOLE = 1e-6
"""A polygon whose area is that of its faces, but for this share, nowhere lies over itself."""

INDEX_BYTES, TRIANGLE_BYTES = 8, 84
"""Of each corner of the model its row here, and of each triangle its corners, its piece, its places and its area."""


@dataclass(frozen=True)
class Pieces:
    """The pieces of a laying.

    faces: (K,) int32 ids, ascending. final: (N, 2) mm for their corners, face after face. piece: (K,) which piece each
    belongs to, numbered in the order of the faces. rims: (R, 2, 2) mm the two ends of each edge on an outline, with the
    piece on its left as its faces wind; rim_corner: (R,) the corner id that each starts from, and rim_piece (R,).
    joined: (E, 2) half-edges (corner ids) over which a piece hangs together.
    """

    surface: Surface
    faces: Ints
    final: Floats
    piece: Ints
    rims: Floats
    rim_corner: Ints
    rim_piece: Ints
    joined: Ints

    @property
    def nbytes(self) -> int:
        """What they take in memory, with all that is worked out of them."""
        corners, triangles = self.surface.mesh.corner_count, max(len(self.final) - 2 * len(self.faces), 0)
        own = (
            self.faces.nbytes
            + self.final.nbytes
            + self.piece.nbytes
            + 4 * self.rims.nbytes
            + self.joined.nbytes
        )
        return own + INDEX_BYTES * corners + TRIANGLE_BYTES * triangles

    @property
    def count(self) -> int:
        return int(self.piece.max()) + 1 if len(self.piece) else 0

    @cached_property
    def _row(self) -> Ints:
        row = np.full(self.surface.mesh.corner_count, -1)
        row[self.surface.corners_of(self.faces)] = np.arange(len(self.final))
        return row

    def place_of(self, corners: Ints) -> Floats:
        """(..., 2) mm where corners of the faces lie, by their ids."""
        out: Floats = self.final[self._row[corners]]
        return out

    def piece_at(self, face: int) -> int | None:
        """The piece that a face belongs to, None where it is not among them."""
        at = int(np.searchsorted(self.faces, face))
        return int(self.piece[at]) if at < len(self.faces) and self.faces[at] == face else None

    def piece_of(self, corners: Ints) -> Ints:
        """The pieces that corners of the faces belong to, by their ids."""
        out: Ints = self.piece[np.searchsorted(self.faces, self.surface.topology.corner_face[corners])]
        return out

    @cached_property
    def triangle_corners(self) -> Ints:
        """(T, 3) corner ids of the triangles of the faces."""
        out: Ints = self.surface.triangles[self.surface.held(self.faces)[self.surface.triangle_face]]
        return out

    @cached_property
    def triangles(self) -> tuple[Floats, Ints]:
        """(T, 3, 2) mm the triangles on the sheet, and (T,) the piece of each."""
        return self.place_of(self.triangle_corners), self.piece_of(self.triangle_corners[:, 0])

    @cached_property
    def sheet_areas(self) -> Floats:
        """(P,) mm² of the sheet that each piece takes, what lies over itself counted twice."""
        piece, signed = self.triangles[1], self._signed
        return np.bincount(piece, np.abs(signed), self.count).astype(float)

    @cached_property
    def hand(self) -> Floats:
        """(P,) 1 for each piece that lies as it looks, -1 for one that lies turned over."""
        return np.where(np.bincount(self.triangles[1], self._signed, self.count) < 0, -1.0, 1.0)

    @cached_property
    def _signed(self) -> Floats:
        """(T,) mm² of each triangle on the sheet, below zero where it lies turned over."""
        places, _ = self.triangles
        a, b = places[:, 1] - places[:, 0], places[:, 2] - places[:, 0]
        out: Floats = (a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]) / 2
        return out

    @cached_property
    def areas(self) -> Floats:
        """(P,) mm² of the model that each piece covers."""
        return np.bincount(self.piece, self.surface.face_areas[self.faces], self.count).astype(float)

    @cached_property
    def boxes(self) -> Floats:
        """(P, 4) mm on the sheet: least s and t, greatest s and t."""
        corners = np.repeat(self.piece, np.diff(self.surface.mesh.face_start)[self.faces])
        out = np.empty((self.count, 4))
        for k in (0, 1):
            out[:, k] = np.inf
            np.minimum.at(out[:, k], corners, self.final[:, k])
            out[:, 2 + k] = -np.inf
            np.maximum.at(out[:, 2 + k], corners, self.final[:, k])
        return out

    @cached_property
    def polygons(self) -> list[shapely.Geometry]:
        """What each piece covers of the sheet."""
        out = []
        for piece, rows in enumerate(rows_by(self.rim_piece, self.count)):
            rims = self.rims[rows]
            found = shapely.build_area(shapely.multilinestrings(rims)) if len(rims) else shapely.Polygon()
            if abs(found.area - self.sheet_areas[piece]) > WHOLE * self.sheet_areas[piece]:
                # It lies over itself: what its faces cover together.
                own = self.triangles[0][self.triangles[1] == piece]
                found = shapely.union_all(shapely.polygons(np.concatenate([own, own[:, :1]], axis=1)))
            out.append(found)
        return out

    @cached_property
    def overlap_mm2(self) -> float:
        """mm² of the sheet that are taken more than once."""
        if not self.count:
            return 0.0
        over = float(self.sheet_areas.sum()) - shapely.union_all(self.polygons).area
        return over if over > WHOLE * float(self.sheet_areas.sum()) else 0.0


def find_pieces(surface: Surface, faces: Ints, final: Floats) -> Pieces:
    """The pieces of some faces (K,) int32, ascending, laid at final (N, 2) mm; repeats of the sheet are not one."""
    q = np.full((surface.mesh.corner_count, 2), np.nan)
    q[surface.corners_of(faces)] = final
    row = np.full(surface.mesh.face_count, -1, np.int32)
    row[faces] = np.arange(len(faces), dtype=np.int32)
    corner_face = surface.topology.corner_face
    pairs = surface.edge_pairs
    own = (row[corner_face[pairs.near]] >= 0) & (row[corner_face[pairs.far]] >= 0)
    near, far = pairs.near[own], pairs.far[own]
    one, other = edge_ends(q, near, far, pairs.opposed[own], surface.topology.next_corner)
    same = (np.abs(one - other) <= SAME_MM).all(axis=1)
    near, far = near[same], far[same]
    a, b = row[corner_face[near]], row[corner_face[far]]
    graph = csr_array((np.ones(len(a), np.int8), (a, b)), (len(faces), len(faces)))
    label = connected_components(graph, directed=False)[1].astype(np.int32)
    within = np.zeros(surface.mesh.corner_count, bool)
    within[near] = within[far] = True
    rim = np.flatnonzero(surface.corners_of(faces) & ~within)
    rims = np.stack([q[rim], q[surface.topology.next_corner[rim]]], axis=1)
    return Pieces(
        surface, faces, final, label, rims, rim, label[row[corner_face[rim]]], np.stack([near, far], axis=1)
    )
