"""Pieces of a laying moved by hand on the sheet: turned, shifted, flipped, laid level, or set apart."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from shapely.affinity import translate

from pivrel.core.arrays import Floats, Ints, Mask, distinct
from pivrel.core.geometry.nesting import Turns, packed
from pivrel.core.measure.pieces import Pieces, find_pieces
from pivrel.core.set_out.moves import LaidFinish, SetOutError, SetOutMove, added_motion
from pivrel.core.sheet import Placement
from pivrel.core.sheet.run_on import across_edge
from pivrel.core.solve.layout import shelved, spread

MOST_NESTED = 300
"""So many pieces are packed by their shapes; of more it would be waited too long."""

ALIKE_MM = 0.05
"""Pieces of one shape are nowhere further from each other."""


@dataclass(frozen=True)
class PieceMotion:
    """How some pieces go on the sheet, in mm of the model: flipped across s, sized, turned by degrees, then shifted.

    All but shifted about the middle of all of them together. size: how long they are to lie for their true length, None
    as they lie.
    """

    shift_mm: tuple[float, float] = (0.0, 0.0)
    turn_deg: float = 0.0
    flipped: bool = False
    size: float | None = None

    def about(self, middle: Floats, now: float = 1.0) -> Floats:
        """(2, 3) the motion about a place (2,) of what lies at the size `now`."""
        size = 1.0 if self.size is None else self.size / now
        # The sheet turned back shows what lies on it turned on.
        turn = Placement(-self.turn_deg).matrix[:, :2] @ np.diag([-size if self.flipped else size, size])
        return np.column_stack([turn, middle + self.shift_mm - turn @ middle])


def all_shifted(laid: LaidFinish, by: Floats) -> list[SetOutMove]:
    """All of a finish moved on the sheet by (2,) mm of the model, however its pieces lie beside each other.

    SetOutError where something else says where they lie.
    """
    if laid.finish.run_on and len(laid.faces):
        scale = np.array(laid.finish.scale)
        return [SetOutMove(laid.faces, laid.offset(int(laid.faces[0]), by / scale))]
    pieces = movable_pieces(laid)
    return _moves_of(
        laid, np.ones(len(pieces.faces), bool), PieceMotion((float(by[0]), float(by[1]))).about(np.zeros(2))
    )


def movable_pieces(laid: LaidFinish) -> Pieces:
    """The pieces of a finish in mm of the model on the sheet: as they lie before the sheet is enlarged.

    SetOutError where something else says where pieces lie, so that moving one by hand would come to nothing.
    """
    finish = laid.finish
    led = "its pattern runs on" if finish.run_on else "it varies" if finish.variation else ""
    if led or finish.tie:
        raise SetOutError(
            f"{led or 'ties hold it'}, which says where its pieces lie; switch that off to move them by hand"
        )
    own = laid.surface.corners_of(laid.faces)
    return find_pieces(laid.surface, laid.faces, laid.final[own] * np.array(finish.scale))


def touched(pieces: Pieces, picked: Mask) -> Ints:
    """The pieces of which a pick (F,) holds a face. SetOutError where it holds none."""
    found = distinct(pieces.piece[picked[pieces.faces]])
    if not len(found):
        raise SetOutError("none of the picked faces belongs to this finish; pick a piece of it")
    return found


def moved_together(laid: LaidFinish, picked: Mask, motion: PieceMotion) -> list[SetOutMove]:
    """The pieces that a pick (F,) touches, moved as one."""
    pieces = movable_pieces(laid)
    own = touched(pieces, picked)
    boxes = pieces.boxes[own]
    middle = (boxes[:, :2].min(axis=0) + boxes[:, 2:].max(axis=0)) / 2
    now = np.sqrt(pieces.sheet_areas[own].sum() / max(float(pieces.areas[own].sum()), 1e-300))
    return _moves(laid, pieces, own, [motion.about(middle, float(now))] * len(own))


def laid_level(laid: LaidFinish, half: int, plumb: bool) -> list[SetOutMove]:
    """The piece of a half-edge (corner id), turned the short way until that edge lies along s, or along t."""
    pieces = movable_pieces(laid)
    surface = laid.surface
    piece = _piece_of(pieces, int(surface.topology.corner_face[half]))
    scale = np.array(laid.finish.scale)
    along = (laid.final[surface.topology.next_corner[half]] - laid.final[half]) * scale
    angle = float(np.degrees(np.arctan2(along[1], along[0]))) - (90.0 if plumb else 0.0)
    turn = -((angle + 90.0) % 180.0 - 90.0)
    box = pieces.boxes[piece]
    motion = PieceMotion(turn_deg=round(turn, 9)).about((box[:2] + box[2:]) / 2)
    return _moves(laid, pieces, np.array([piece]), [motion])


def joined_along(laid: LaidFinish, half: int, other: int, opposed: bool) -> list[SetOutMove]:
    """The smaller of the two pieces at an edge, laid against the larger one along it.

    half, other: the half-edges (corner ids) of the two sides.
    """
    pieces = movable_pieces(laid)
    surface = laid.surface
    sides = [_piece_of(pieces, int(surface.topology.corner_face[h])) for h in (half, other)]
    if sides[0] == sides[1]:
        raise SetOutError("the pattern runs on across this edge already, or the piece meets itself there")
    if pieces.areas[sides[0]] < pieces.areas[sides[1]] * (1 - 1e-9):
        sides.reverse()
        half, other = other, half
    q = laid.final * np.array(laid.finish.scale)
    motion, _ = across_edge(surface, q, (half, other), opposed)
    return _moves(laid, pieces, np.array([sides[1]]), [motion])


def set_apart(laid: LaidFinish, picked: Mask, gap: float) -> list[SetOutMove]:
    """The pieces that a pick (F,) touches, moved along the sheet until their boxes lie at least a gap apart."""
    pieces = movable_pieces(laid)
    own = touched(pieces, picked)
    boxes = pieces.boxes[own]
    low, size = boxes[:, :2], boxes[:, 2:] - boxes[:, :2]
    return shifted(laid, pieces, own, spread(low + size / 2, size, gap) - low)


def packed_together(laid: LaidFinish, picked: Mask, gap: float, turns: Turns) -> list[SetOutMove]:
    """The pieces that a pick (F,) touches, close together from where the first of them began, at least a gap apart.

    By their shapes; where there are hundreds by their boxes, and then none is turned.
    """
    pieces = movable_pieces(laid)
    own = touched(pieces, picked)
    boxes = pieces.boxes[own]
    low = boxes[:, :2]
    if len(own) > MOST_NESTED:
        corner = shelved(boxes[:, 2:] - low, gap) + low.min(axis=0)
        return shifted(laid, pieces, own, corner - low)
    placed = packed([pieces.polygons[piece] for piece in own.tolist()], gap, turns)
    motions = [np.column_stack([place.motion[:, :2], place.shift + low.min(axis=0)]) for place in placed]
    return _moves(laid, pieces, own, motions)


def split_off(laid: LaidFinish, picked: Mask, gap: float) -> list[SetOutMove]:
    """Faces that a pick (F,) holds, taken off their pieces and laid to the right of all that the finish has."""
    pieces = movable_pieces(laid)
    touched(pieces, picked)
    mine = picked[pieces.faces]
    if mine.all():
        raise SetOutError("the pick is all of the finish; pick the faces that shall be a piece of their own")
    corners = np.repeat(mine, np.diff(laid.surface.mesh.face_start)[pieces.faces])
    low = pieces.final[corners].min(axis=0)
    shift = np.array([pieces.boxes[:, 2].max() + gap - low[0], 0.0])
    motion = np.column_stack([np.eye(2), shift])
    return _moves_of(laid, mine, motion)


def stacked(laid: LaidFinish, picked: Mask) -> list[SetOutMove]:
    """Pieces of one shape and stand, of those that a pick (F,) touches, laid on the first of them."""
    pieces = movable_pieces(laid)
    own = touched(pieces, picked)
    low = pieces.boxes[own, :2]
    sizes = np.column_stack([pieces.boxes[own, 2:] - low, np.sqrt(pieces.sheet_areas[own])])
    shapes = [pieces.polygons[piece] for piece in own.tolist()]
    lead: list[int] = []
    by = np.zeros((len(own), 2))
    for row, (size, shape) in enumerate(zip(sizes, shapes, strict=True)):
        near = np.flatnonzero((np.abs(sizes[lead] - size) <= ALIKE_MM).all(axis=1))
        for first in (lead[k] for k in near.tolist()):
            there = translate(shape, *(low[first] - low[row]))
            if there.symmetric_difference(shapes[first]).area <= ALIKE_MM * shape.length:
                by[row] = low[first] - low[row]
                break
        else:
            lead.append(row)
    return shifted(laid, pieces, own, by)


def _piece_of(pieces: Pieces, face: int) -> int:
    piece = pieces.piece_at(face)
    if piece is None:
        raise SetOutError("this face belongs to another finish")
    return piece


def shifted(laid: LaidFinish, pieces: Pieces, own: Ints, by: Floats) -> list[SetOutMove]:
    """Some pieces (N,), each shifted by its own (N, 2) mm."""
    far = np.abs(by).max(axis=1) > 1e-6
    motions = [PieceMotion((float(x), float(y))).about(np.zeros(2)) for x, y in by[far]]
    return _moves(laid, pieces, own[far], motions)


def _moves(laid: LaidFinish, pieces: Pieces, own: Ints, motions: Sequence[Floats]) -> list[SetOutMove]:
    """What the motions (2, 3) of some pieces add to the turn and offset of their faces, grouped by what lies alike."""
    out = []
    for piece, motion in zip(own.tolist(), motions, strict=True):
        out += _moves_of(laid, pieces.piece == piece, motion)
    return out


def _moves_of(laid: LaidFinish, mine: Mask, motion: Floats) -> list[SetOutMove]:
    """The same for some faces (K,) of the finish."""
    sheets = laid.settled.sheets
    group = np.zeros(len(laid.faces), np.int64) if sheets is None else sheets.group
    return [
        added_motion(laid, laid.faces[mine & (group == number)], motion)
        for number in distinct(group[mine]).tolist()
    ]
