"""Cutting single sheets out of the faces that they lie on, for files that know only whole faces."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.clipping import clipped
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.surface import Surface

PLACE, NORMAL, BASE, REST = slice(0, 3), slice(3, 6), slice(6, 8), 8
"""What is carried along with each corner while it is cut; the model's own UV sets and the sheets' (s', t') follow."""


@dataclass(frozen=True)
class SingleSheet:
    """A sheet that is shown once.

    faces: (N,) int32 ascending. rows: (N,) the finish that each is written with. st: (K, 2) mm, face
    after face.
    """

    faces: Ints
    rows: Ints
    st: Floats


@dataclass(frozen=True)
class Cut:
    """The mesh after cutting, with (F,) finish rows and (C, 2) mm; pieces of a face stay together.

    face: (F,) the face of the mesh before that each was cut from.
    """

    mesh: Mesh
    face_row: Ints
    st: Floats
    face: Ints


@dataclass
class _Piece:
    """A convex piece of a face: (N, 8 + 2 U + 2 S) values at its corners, and the row that it takes."""

    corners: Floats
    row: int


def cut_out(
    surface: Surface, face_row: Ints, st: Floats, sheets: Sequence[SingleSheet], repeats: Floats
) -> Cut:
    """Cuts each sheet's [0, W] x [0, H] out of its faces; later sheets lie over earlier ones.

    face_row (F,) and st (C, 2) are what lies beneath. repeats: (rows, 2) mm. Faces that a sheet's
    outline crosses become triangles and these are clipped, so the outline is straight within each.
    """
    mesh = surface.mesh
    face_row, st = face_row.copy(), st.copy()
    crossed: dict[int, list[int]] = {}
    by_corner = np.full((len(sheets), mesh.corner_count, 2), np.nan)
    row_of = np.full((len(sheets), mesh.face_count), -1, np.int32)
    for at, sheet in enumerate(sheets):
        by_corner[at, surface.corners_of(sheet.faces)] = sheet.st
        row_of[at, sheet.faces] = sheet.rows
        first = mesh.face_start[:-1]
        size = repeats[row_of[at]]
        low = np.minimum.reduceat(by_corner[at], first)
        high = np.maximum.reduceat(by_corner[at], first)
        with np.errstate(invalid="ignore"):
            meets = ((high > 0) & (low < size)).all(axis=1) & (row_of[at] >= 0)
            whole = meets & ((low >= 0) & (high <= size)).all(axis=1)
        for face in np.flatnonzero(meets & ~whole).tolist():
            crossed.setdefault(face, []).append(at)
        for face in crossed:
            if whole[face]:
                crossed[face].append(at)
        clear = whole.copy()
        clear[list(crossed)] = False
        face_row[clear] = row_of[at][clear]
        corners = surface.corners_of(np.flatnonzero(clear))
        st[corners] = by_corner[at][corners]
    pieces = {
        face: _cut_face(surface, face, face_row, st, crossing, by_corner, row_of, repeats)
        for face, crossing in crossed.items()
    }
    return _assembled(surface, face_row, st, pieces)


def _cut_face(
    surface: Surface, face: int, face_row: Ints, st: Floats, crossing: list[int], by_corner: Floats,
    row_of: Ints, repeats: Floats,
) -> list[_Piece]:  # fmt: skip
    mesh = surface.mesh
    first, last = np.searchsorted(surface.triangle_face, [face, face + 1])
    pieces = []
    first_sheet = REST + 2 * len(mesh.uv_sets)
    for triangle in surface.triangles[first:last]:
        places = mesh.points[mesh.corners[triangle]]
        own = [by_corner[at, triangle] for at in range(len(by_corner))]
        uv = [held[triangle] for held in mesh.uv_sets]
        values = np.hstack([places, surface.shading_normals[triangle], st[triangle], *uv, *own])
        pieces.append(_Piece(values, int(face_row[face])))
    for at in sorted(set(crossing)):
        row = int(row_of[at, face])
        kept = []
        for piece in pieces:
            inside, outside = _split(piece.corners, first_sheet + 2 * at, repeats[row])
            kept += [_Piece(part, piece.row) for part in outside]
            if len(inside):
                inside[:, BASE] = inside[:, first_sheet + 2 * at : first_sheet + 2 * at + 2]
                kept.append(_Piece(inside, row))
        pieces = kept
    return pieces


def _split(polygon: Floats, column: int, size: Floats) -> tuple[Floats, list[Floats]]:
    """A convex polygon cut by the rectangle of a sheet: the piece inside, and those around it."""
    outside = []
    for axis in (0, 1):
        for sign, bound in ((1.0, 0.0), (-1.0, -float(size[axis]))):
            if not len(polygon):
                break
            height = sign * polygon[:, column + axis] - bound
            away = clipped(polygon, -height)
            if len(away):
                outside.append(away)
            polygon = clipped(polygon, height)
    return polygon, outside


def _assembled(surface: Surface, face_row: Ints, st: Floats, pieces: dict[int, list[_Piece]]) -> Cut:
    """The mesh with each cut face replaced by its pieces, in the order of the faces."""
    mesh = surface.mesh
    kept = np.ones(mesh.face_count, bool)
    kept[list(pieces)] = False
    old = np.flatnonzero(kept)
    new = [(face, piece) for face, parts in pieces.items() for piece in parts]
    origin = np.array([*old, *(face for face, _ in new)], np.int64)
    sizes = np.array([*np.diff(mesh.face_start)[old], *(len(p.corners) for _, p in new)], np.int64)
    old_corners = np.repeat(kept, np.diff(mesh.face_start))
    values = (
        np.concatenate([p.corners for _, p in new]) if new else np.zeros((0, REST + 2 * len(mesh.uv_sets)))
    )
    point = np.concatenate([mesh.corners[old_corners], len(mesh.points) + np.arange(len(values))])
    normal = np.concatenate([surface.shading_normals[old_corners], values[:, NORMAL]])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
    placed = np.concatenate([st[old_corners], values[:, BASE]])
    rows = np.concatenate([face_row[old], np.array([p.row for _, p in new], np.int32)])
    order = np.argsort(origin, kind="stable")
    start = np.concatenate([[0], np.cumsum(sizes)])
    corner_order = (
        np.concatenate([np.arange(start[f], start[f + 1]) for f in order])
        if len(new)
        else np.arange(len(point))
    )
    return Cut(
        replace(
            mesh,
            points=np.concatenate([mesh.points, values[:, PLACE]]),
            corners=point[corner_order].astype(np.int32),
            face_start=np.concatenate([[0], np.cumsum(sizes[order])]).astype(np.int32),
            face_part=mesh.face_part[origin[order]],
            normals=normal[corner_order].astype(np.float32),
            face_source=None if mesh.face_source is None else mesh.face_source[origin[order]],
            face_patch=None if mesh.face_patch is None else mesh.face_patch[origin[order]],
            uv_sets=tuple(
                np.concatenate([uv[old_corners], values[:, REST + 2 * k : REST + 2 * k + 2]])[corner_order]
                for k, uv in enumerate(mesh.uv_sets)
            ),
        ),
        rows[order].astype(np.int32),
        placed[corner_order],
        origin[order],
    )
