"""How the sheet lies on each face, where one turn and one offset do not serve all of a finish.

In this order: the grain rule turns each side, adjustments turn and shift some faces, running on moves
islands against each other, and variation gives each piece its own place on the sheet.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints, Precision
from pivrel.core.geometry.components import find_components
from pivrel.core.geometry.corner_rows import corner_rows
from pivrel.core.geometry.portion import portion
from pivrel.core.geometry.surface import Surface
from pivrel.core.kernels import kernel
from pivrel.core.laying.finish import Finish
from pivrel.core.picks import resolve
from pivrel.core.sheet import Placement
from pivrel.core.sheet.grain import grain_angles, side_groups
from pivrel.core.sheet.run_on import RunOn, run_on
from pivrel.core.sheet.tie import tied_motion
from pivrel.core.sheet.variation import By, variations
from pivrel.core.solve.nearest import nearest_triangle


@dataclass(frozen=True)
class FaceSheets:
    """How the sheet lies on each of some faces.

    faces: (K,) int32, ascending. group: (K,) into matrix. matrix: (G, 2, 3) from raw to final, mm. hand: (K,) -1 where
    the sheet is turned over on its way from raw, else 1; what variation mirrors, which the material allows, apart.
    """

    faces: Ints
    group: Ints
    matrix: Floats
    hand: Floats

    def laid(self, surface: Surface, faces: Ints, raw: Floats, dtype: Precision) -> Floats:
        """(N, 2) final mm for the corners of `faces`, which are some of these; raw: (N, 2) of the same."""
        rows = corner_rows(surface.mesh, faces)
        out = np.empty((int(rows[-1]), 2), dtype)
        _apply(raw, rows, self.group[np.searchsorted(self.faces, faces)], self.matrix, out)
        return out


@kernel
def _apply(raw: Floats, rows: Ints, group: Ints, matrix: Floats, out: Floats) -> None:
    for k in range(len(group)):
        m = matrix[group[k]]
        for c in range(rows[k], rows[k + 1]):
            s, t = raw[c, 0], raw[c, 1]
            out[c, 0] = m[0, 0] * s + m[0, 1] * t + m[0, 2]
            out[c, 1] = m[1, 0] * s + m[1, 1] * t + m[1, 2]


def boards(surface: Surface) -> Ints:
    """(F,) int32 the connected piece of its part that each face belongs to, numbered in face order."""
    key = np.column_stack([surface.mesh.face_part, find_components(surface).component])
    _, first, number = np.unique(key, axis=0, return_index=True, return_inverse=True)
    rank = np.empty(len(first), np.int32)
    rank[np.argsort(first)] = np.arange(len(first), dtype=np.int32)
    out: Ints = rank[number.reshape(-1)]
    return out


def pieces_by(surface: Surface, by: By, faces: Ints) -> tuple[Ints, list[str]]:
    """(K,) the part, board, patch or face that each of `faces` belongs to, and a steady name for each."""
    mesh = surface.mesh
    if by == "part":
        number = mesh.face_part
    elif by == "board":
        number = boards(surface)
    elif by == "patch":
        number = surface.patches()
    else:
        number = np.arange(mesh.face_count, dtype=np.int32)
    used, piece = np.unique(number[faces], return_inverse=True)
    # By the part's name and the piece's rank in it: other parts come and go without a trace.
    part = np.full(len(used), -1)
    part[piece.reshape(-1)] = mesh.face_part[faces]
    count: dict[str, int] = {}
    names = []
    for p in part.tolist():
        name = mesh.part_names[p]
        count[name] = count.get(name, 0) + 1
        names.append(f"{name}\0{count[name]}")
    return piece.reshape(-1).astype(np.int32), names


def _placed(
    surface: Surface, finish: Finish, faces: Ints, raw: Floats, piece: Ints, side: Ints
) -> tuple[Ints, Floats]:
    """(K,) groups and (G, 2, 3) their maps from raw to final, by the grain rule and the adjustments."""
    turn = np.full(len(faces), finish.placement.turn_deg)
    if finish.grain.along != "sheet":
        group = side_groups(surface.patches()[faces], piece, side)
        board = pieces_by(surface, "board", faces)[0] if finish.grain.along == "length" else group
        angle = grain_angles(finish.grain, surface, faces, raw, group, board)
        turn = np.degrees(angle)[group] - finish.material.grain_deg + (finish.turn_deg or 0.0)
    key = np.column_stack([turn, np.tile([*finish.offset_mm, 0.0, 1.0], (len(faces), 1))])
    for adjustment in finish.adjust:
        own = resolve(adjustment.pick, surface)[faces]
        key[own, :3] += (adjustment.turn_deg, *adjustment.offset_mm)
        key[own, 3] = (key[own, 3] + adjustment.mirrored) % 2
        key[own, 4] *= adjustment.size
    key = np.round(key, 9) + 0.0
    states, group = np.unique(key, axis=0, return_inverse=True)
    matrices = np.empty((len(states), 2, 3))
    for row, (degrees, x, y, mirrored, size) in enumerate(states.tolist()):
        # Mirrored about the offset, before the turn.
        flat = Placement(0.0, (x, y)).matrix
        flat[0] *= -1 if mirrored else 1
        turned = Placement(degrees, (0.0, 0.0), finish.scale).matrix[:, :2]
        matrices[row] = size * (turned @ flat)
    return group.reshape(-1).astype(np.int32), matrices


def _combined(group: Ints, matrix: Floats, then: Ints, motion: Floats) -> tuple[Ints, Floats]:
    """Groups and maps with another motion of the sheet after them, by another grouping."""
    pairs, out = np.unique(np.column_stack([group, then]), axis=0, return_inverse=True)
    first, second = matrix[pairs[:, 0]], motion[pairs[:, 1]]
    both = second[:, :, :2] @ first
    both[:, :, 2] += second[:, :, 2]
    return out.reshape(-1).astype(np.int32), both


def _hand(group: Ints, matrix: Floats) -> Floats:
    """(K,) -1 where the map of a face's group turns the sheet over, else 1."""
    hand: Floats = np.sign(np.linalg.det(matrix[:, :, :2]))[group]
    return hand


def before_run_on(
    surface: Surface, finish: Finish, faces: Ints, raw: Floats, piece: Ints, side: Ints
) -> FaceSheets:
    """The sheets of all faces by grain rule and adjustments alone. raw: (C, 2) by corner id."""
    group, matrix = _placed(surface, finish, faces, raw, piece, side)
    return FaceSheets(faces, group, matrix, _hand(group, matrix))


def _tied(surface: Surface, finish: Finish, sheets: FaceSheets, raw: Floats) -> Floats:
    """(2, 3) what moves the sheet, as it lies, so that the ties of a finish hold. raw: (C, 2) by corner id."""
    now = final_at(surface, sheets, raw, np.array([tie.at_mm for tie in finish.tie]))
    wanted = np.array([tie.sheet_mm for tie in finish.tie])
    repeat = finish.material.repeat_mm if finish.tile else None
    return tied_motion(now, wanted, finish.tie_by, finish.scale, repeat)


def tie_offs(surface: Surface, finish: Finish, sheets: FaceSheets, raw: Floats) -> Floats:
    """(N,) mm on the sheet by which each tie of a finish, one at least, is missed. raw: (C, 2) by corner id."""
    off = final_at(surface, sheets, raw, np.array([tie.at_mm for tie in finish.tie]))
    off -= np.array([tie.sheet_mm for tie in finish.tie])
    if finish.tile:
        off -= np.round(off / finish.material.repeat_mm) * finish.material.repeat_mm
    out: Floats = np.linalg.norm(off, axis=1)
    return out


def final_at(surface: Surface, sheets: FaceSheets, raw: Floats, places: Floats) -> Floats:
    """(N, 2) final mm at the places of the faces that are nearest to some others (N, 3)."""
    own = portion(surface, sheets.faces).ids
    corners = surface.triangles[own]
    points = surface.mesh.corners[corners]
    out = np.empty((len(places), 2))
    for row, place in enumerate(places):
        triangle, share = nearest_triangle(place, surface.mesh.points, points)
        face = np.searchsorted(sheets.faces, surface.triangle_face[own[triangle]])
        m = sheets.matrix[sheets.group[face]]
        out[row] = m[:, :2] @ (share @ raw[corners[triangle]]) + m[:, 2]
    return out


def place_on_face(surface: Surface, sheets: FaceSheets, raw: Floats, scale: tuple[float, float]) -> Floats:
    """(C, 2) where corners lie on the sheet in mm of face: final, before it is enlarged."""
    mesh, corners = surface.mesh, surface.corners_of(sheets.faces)
    q = np.zeros((mesh.corner_count, 2))
    q[corners] = sheets.laid(surface, sheets.faces, raw[corners], np.float64) * scale
    return q


def running_on(surface: Surface, finish: Finish, sheets: FaceSheets, raw: Floats) -> RunOn:
    """How the islands of a finish move so that its pattern runs on."""
    q = place_on_face(surface, sheets, raw, finish.scale)
    return run_on(surface, sheets.faces, q)


def spread_sheets(
    surface: Surface, finish: Finish, faces: Ints, raw: Floats, piece: Ints, side: Ints
) -> FaceSheets | None:
    """How the sheet lies on each face, or None where the finish's own placement serves all of them.

    raw: (C, 2) by corner id. piece, side: (K,) of each face, what it is measured from and the side of
    the projection that it belongs to.
    """
    if finish.is_one_sheet or not len(faces):
        return None
    sheets = before_run_on(surface, finish, faces, raw, piece, side)
    group, matrix = sheets.group, sheets.matrix
    if finish.tie:
        motion = _tied(surface, finish, sheets, raw)
        group, matrix = _combined(group, matrix, np.zeros(len(faces), np.int32), motion[None])
        sheets = FaceSheets(faces, group, matrix, _hand(group, matrix))
    if finish.run_on:
        found = running_on(surface, finish, sheets, raw)
        # Islands move in mm of face, before the sheet is enlarged.
        scale = np.array(finish.scale)
        motion = found.motion.copy()
        motion[:, :, :2] *= scale[None, None, :]
        motion /= scale[None, :, None]
        group, matrix = _combined(group, matrix, found.island, motion)
    hand = _hand(group, matrix)
    if finish.variation is not None:
        own, names = pieces_by(surface, finish.variation.by, faces)
        group, matrix = _combined(group, matrix, own, variations(finish.variation, finish.material, names))
    return FaceSheets(faces, group, matrix, hand)
