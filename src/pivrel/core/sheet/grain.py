"""Which way the grain runs on each face, as a rule: along a direction, an edge, a length, level or plumb."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from pivrel.core.arrays import Floats, Ints, rows_by
from pivrel.core.geometry.fits.edges import longest_edges
from pivrel.core.geometry.fits.tight_box import tightest_axes
from pivrel.core.geometry.frames import Vector
from pivrel.core.geometry.surface import Surface

Along = Literal["sheet", "direction", "edge", "length", "level", "plumb"]


@dataclass(frozen=True)
class GrainRule:
    """What the grain of a finish follows; its turn_deg counts from there.

    "sheet": the sheet as the projection lays it. "direction": a direction in model axes, such as a
    picked edge. "edge": each flat side's longest straight edge. "length": each board's longest side.
    "level": across the slope. "plumb": down the slope. A side that has no such direction (a floor is
    level every way) keeps the sheet's own.
    """

    along: Along = "sheet"
    direction: Vector | None = None


SHEET = GrainRule()

SQUARE_TO_IT = 0.05
"""A face whose plane holds less than this share of a direction has no such direction."""


def side_groups(patch: Ints, piece: Ints, side: Ints) -> Ints:
    """(K,) a number for each patch, piece and side of the projection: faces over which one turn serves."""
    key = np.column_stack([piece, patch, side])
    return np.unique(key, axis=0, return_inverse=True)[1].reshape(-1).astype(np.int32)


def raw_directions(surface: Surface, faces: Ints, raw: Floats, direction: Floats) -> Floats:
    """(K, 2) where a direction points on the raw sheet, for each face, by area.

    raw: (C, 2) by corner id. direction: (K, 3) in model axes, for each face.
    """
    held = surface.held(faces)[surface.triangle_face]
    triangles = surface.triangles[held]
    row = np.searchsorted(faces, surface.triangle_face[held])
    points = surface.mesh.points[surface.mesh.corners[triangles]]
    u, v = points[:, 1] - points[:, 0], points[:, 2] - points[:, 0]
    normal = np.cross(u, v)
    twice = np.linalg.norm(normal, axis=1)
    solid = twice > 1e-9
    unit = normal / np.maximum(twice, 1e-300)[:, None]
    # The gradient of s over the triangle; times the area only one division is left.
    ds = raw[triangles[:, 1:]] - raw[triangles[:, :1]]
    across_v, across_u = np.cross(v, unit), np.cross(u, unit)
    d = direction[row]
    along_v, along_u = (across_v * d).sum(axis=1), (across_u * d).sum(axis=1)
    moved = ds[:, 0] * along_v[:, None] - ds[:, 1] * along_u[:, None]
    moved[~solid] = 0.0
    out = np.zeros((len(faces), 2))
    for k in range(2):
        out[:, k] = np.bincount(row, weights=moved[:, k], minlength=len(faces))
    return out


def board_lengths(surface: Surface, faces: Ints, board: Ints) -> Floats:
    """(B, 3, 3) the axes of the tightest box round each board, the longest first. board: (K,) of each face."""
    out = np.empty((int(board.max()) + 1 if len(board) else 0, 3, 3))
    for b, rows in enumerate(rows_by(board, len(out))):
        points = surface.points_of(faces[rows])
        axes = tightest_axes(points)
        size = np.ptp(points @ axes.T, axis=0)
        out[b] = axes[np.argsort(-np.round(size, 6), kind="stable")]
    return out


def _wanted(rule: GrainRule, surface: Surface, faces: Ints, group: Ints, board: Ints) -> list[Floats]:
    """(K, 3) directions for each face, the one wanted most first."""
    count = len(faces)
    match rule.along:
        case "sheet":
            return []
        case "direction":
            return [np.tile(np.asarray(rule.direction, float), (count, 1))]
        case "level":
            up = surface.normals[faces]
            return [np.stack([-up[:, 1], up[:, 0], np.zeros(count)], axis=1)]
        case "plumb":
            return [np.tile([0.0, 0.0, 1.0], (count, 1))]
        case "edge":
            return [longest_edges(surface, faces, group)[group]]
        case "length":
            axes = board_lengths(surface, faces, board)[board]
            # The end of a board has no length: its grain follows the longer of its own sides.
            return [axes[:, 0], axes[:, 1]]


def grain_angles(
    rule: GrainRule, surface: Surface, faces: Ints, raw: Floats, group: Ints, board: Ints
) -> Floats:
    """(G,) radians from raw +s of what the grain follows on each group of faces; 0 where there is nothing.

    raw: (C, 2) by corner id. group: (K,) from `side_groups`. board: (K,) the board of each face.
    """
    count = int(group.max()) + 1 if len(group) else 0
    out, open_ = np.zeros(count), np.ones(count, bool)
    area = np.bincount(group, weights=surface.face_areas[faces], minlength=count)
    for direction in _wanted(rule, surface, faces, group, board):
        size = np.linalg.norm(direction, axis=1, keepdims=True)
        direction = direction / np.where(size > 0, size, 1.0)
        moved = raw_directions(surface, faces, raw, direction)
        total = np.stack([np.bincount(group, weights=moved[:, k], minlength=count) for k in (0, 1)], axis=1)
        found = open_ & (np.linalg.norm(total, axis=1) > SQUARE_TO_IT * np.maximum(area, 1e-300))
        angle = np.arctan2(total[:, 1], total[:, 0])
        # Noise of the last digits must not part sides that are turned alike.
        out[found] = np.round(angle[found], 10)
        open_ &= ~found
    return out + 0.0
