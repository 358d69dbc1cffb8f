"""Moving the sheet on some faces of a finish: to a joint, to balanced cuts, or to run on across an edge."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask, distinct
from pivrel.core.geometry.edge_chains import nearest_edge
from pivrel.core.geometry.fits.frame import vector
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import Settled, grounds, lay_by_corner, settle
from pivrel.core.laying.finish import Finish
from pivrel.core.set_out.cuts import What, balanced, to_balance, to_joint, units_of
from pivrel.core.set_out.state import Side, first_joint, is_level, sides_of
from pivrel.core.sheet import Material
from pivrel.core.sheet.grain import side_groups
from pivrel.core.sheet.run_on import across_edge
from pivrel.errors import InputError


class SetOutError(InputError):
    """A setting-out that cannot be done; the message says why in one sentence."""


@dataclass(frozen=True)
class SetOutMove:
    """What is added to how the sheet lies on some faces (int32 ids): turn, offset, size, and whether it is flipped."""

    faces: Ints
    offset_mm: tuple[float, float]
    turn_deg: float = 0.0
    mirrored: bool = False
    size: float = 1.0


@dataclass(frozen=True)
class LaidFinish:
    """A finish as it lies: its faces (K,), which side each belongs to (K,), and (C, 2) final by corner id."""

    surface: Surface
    finish: Finish
    settled: Settled
    faces: Ints
    side: Ints
    final: Floats

    def sides(self, picked: Mask | None = None) -> list[Side]:
        """The sides of the finish; with picked, (F,), those that it holds faces of, measured by these alone."""
        return sides_of(self.surface, self.finish.material, self.final, self.faces, self.side, picked)

    def maps(self, face: int) -> Floats:
        """(2, 3) from raw to final on a face."""
        sheets = self.settled.sheets
        if sheets is None:
            return self.finish.placement.matrix
        out: Floats = sheets.matrix[sheets.group[np.searchsorted(sheets.faces, face)]]
        return out

    def offset(self, face: int, move: Floats) -> tuple[float, float]:
        """What to add to the offset of a face so that its places move on the sheet by `move` (2,) mm."""
        maps = self._moved_by_offset(face) if self.finish.run_on else -self.maps(face)[:, :2]
        x, y = np.linalg.solve(maps, move)
        return float(round(x, 6)), float(round(y, 6))

    def _moved_by_offset(self, face: int) -> Floats:
        """(2, 2) how the places of a face move on the sheet with the offset of the finish that runs on.

        Every island follows the one that leads it, whatever its own turn: tried with a millimetre each way.
        """
        corner = int(self.surface.mesh.face_start[face])
        out = np.empty((2, 2))
        for way in (0, 1):
            offset = [self.finish.offset_mm[k] + (1.0 if k == way else 0.0) for k in (0, 1)]
            moved = replace(self.finish, offset_mm=(offset[0], offset[1]))
            settled = settle(self.surface, moved, self.faces, self.settled.solution)
            now = lay_by_corner(self.surface, moved, self.faces, settled)
            out[:, way] = now[corner] - self.final[corner]
        return out

    def moves_for(self, face: int, faces: Ints, move: Floats) -> list[SetOutMove]:
        """Moves one side on the sheet by `move` (2,) mm, and what has to go with it.

        Where the pattern runs on, all of the finish goes. Else sides whose courses were level with those
        of this one rise with it.
        """
        if self.finish.run_on:
            return [SetOutMove(self.faces, self.offset(face, move))]
        moves = [SetOutMove(faces, self.offset(face, move))]
        sides = self.sides()
        own = next(side for side in sides if int(side.faces[0]) == int(faces[0]))
        if own.plumb is None or abs(move[own.plumb]) <= 1e-9:
            return moves
        for side in sides:
            if side is not own and is_level(own, side, self.finish.material):
                assert side.plumb is not None
                rise = np.zeros(2)
                rise[side.plumb] = move[own.plumb] / own.slope * side.slope
                moves.append(SetOutMove(side.faces, self.offset(int(side.faces[0]), rise)))
        return moves

    def side_of(self, face: int) -> Ints:
        """The ids of the faces of the same side."""
        at = int(np.searchsorted(self.faces, face))
        if at >= len(self.faces) or self.faces[at] != face:
            raise SetOutError("this face belongs to another finish")
        out: Ints = self.faces[self.side == self.side[at]]
        return out

    def corner_at(self, face: int, place: int) -> int:
        """The corner id of a face that lies at a place (an id of `Topology.place`)."""
        start, end = self.surface.mesh.face_start[[face, face + 1]]
        at = self.surface.topology.place[self.surface.mesh.corners[start:end]]
        return int(start + np.flatnonzero(at == place)[0])


def laid_finish(surface: Surface, finish: Finish, faces: Ints, settled: Settled) -> LaidFinish:
    """A finish on its faces (int32, ascending)."""
    _, piece, side = grounds(surface, faces, settled)
    final = lay_by_corner(surface, finish, faces, settled)
    return LaidFinish(
        surface, finish, settled, faces, side_groups(surface.patches()[faces], piece, side), final
    )


def nearest_corner(surface: Surface, face: int, point: Floats) -> int:
    """The corner id of a face that is nearest to a point in mm."""
    start, end = surface.mesh.face_start[[face, face + 1]]
    points = surface.mesh.points[surface.mesh.corners[start:end]]
    return int(start + np.argmin(np.linalg.norm(points - point, axis=1)))


def at_corner(laid: LaidFinish, face: int, point: Floats, what: What) -> list[SetOutMove]:
    """Brings a joint, or a unit's middle, to the corner nearest to a point, on every side that meets there.

    Sides whose courses are level with those of the clicked one rise with it.
    """
    surface, material = laid.surface, laid.finish.material
    place = int(surface.topology.place[surface.mesh.corners[nearest_corner(surface, face, point)]])
    corners = np.flatnonzero(surface.topology.place[surface.mesh.corners] == place)
    meeting = np.intersect1d(distinct(surface.topology.corner_face[corners]), laid.faces, assume_unique=True)

    def wanted(at: int) -> Floats:
        return to_joint(laid.final[laid.corner_at(at, place)], material, what)

    moves = laid.moves_for(face, laid.side_of(face), wanted(face))
    if laid.finish.run_on:
        return moves
    done = {int(laid.side_of(face)[0])}
    for at in meeting.tolist():
        faces = laid.side_of(at)
        if int(faces[0]) in done:
            continue
        done.add(int(faces[0]))
        moves = [m for m in moves if int(m.faces[0]) != int(faces[0])]
        moves.append(SetOutMove(faces, laid.offset(at, wanted(at))))
    return moves


def at_edge(laid: LaidFinish, face: int, point: Floats, what: What) -> list[SetOutMove]:
    """Brings a joint, or the middle of units, onto the edge of a face that is nearest to a point."""
    half = nearest_edge(laid.surface, face, point)
    a, b = laid.final[half], laid.final[laid.surface.topology.next_corner[half]]
    level = abs(b[0] - a[0]) >= abs(b[1] - a[1])
    move = to_joint((a + b) / 2, laid.finish.material, what, (not level, bool(level)))
    return laid.moves_for(face, laid.side_of(face), move)


def at_middle(laid: LaidFinish, face: int, what: What) -> list[SetOutMove]:
    """Brings a joint, or a unit's middle, to the middle of a side."""
    faces = laid.side_of(face)
    own = laid.final[laid.surface.corners_of(faces)]
    middle = (own.min(axis=0) + own.max(axis=0)) / 2
    return laid.moves_for(face, faces, to_joint(middle, laid.finish.material, what))


def balance(laid: LaidFinish, picked: Mask) -> list[SetOutMove]:
    """Balances every side of a finish that the pick holds: equal cuts at opposite borders, the wider choice.

    picked: (F,). Sides that stand keep their courses level: up and down they are balanced as one, from
    the lowest place of them to the highest. Where the pattern runs on, its largest side leads.
    """
    sides = laid.sides(picked)
    if not sides:
        raise SetOutError("none of the picked faces belongs to this finish")
    reach = _heights(laid.surface, sides)
    if laid.finish.run_on:
        areas = [float(laid.surface.face_areas[side.faces].sum()) for side in sides]
        lead = sides[int(np.argmax(areas))]
        face = int(lead.faces[0])
        return [SetOutMove(laid.faces, laid.offset(face, _balancing(lead, laid.finish.material, reach)))]
    return [
        SetOutMove(side.faces, laid.offset(int(side.faces[0]), _balancing(side, laid.finish.material, reach)))
        for side in sides
    ]


def _heights(surface: Surface, sides: list[Side]) -> tuple[float, float]:
    """The lowest and the highest place of the sides that stand with level courses, in mm of the model."""
    ends = [
        (z - side.zero) / side.slope
        for side in sides
        if side.plumb is not None
        for z in (side.low[side.plumb], side.high[side.plumb])
    ]
    return (float(min(ends)), float(max(ends))) if ends else (0.0, 0.0)


def _balancing(side: Side, material: Material, reach: tuple[float, float]) -> Floats:
    """(2,) how a side has to move on the sheet to be balanced."""
    joints, unit = material.joints, units_of(material)
    at = joints.at_mm if joints else (0.0, 0.0)
    joint, bond = (joints.width_mm, joints.bond) if joints else (0.0, 0.0)
    low, high = side.low.copy(), side.high.copy()
    if side.plumb is not None:
        low[side.plumb], high[side.plumb] = sorted(side.slope * z + side.zero for z in reach)
    cuts = [balanced(float(high[k] - low[k]), unit[k], joint, bond if k == 0 else 0.0) for k in (0, 1)]
    move = np.array([to_balance(float(low[k]), float(high[k]), cuts[k], unit[k], at[k]) for k in (0, 1)])
    if bond:
        # Along, joints lie where the first level joint above the lower end has them.
        course = first_joint(float(side.low[1] + move[1]), unit[1], at[1])
        gap = at[0] + bond * unit[0] * course - (float(low[0]) + cuts[0].first_mm)
        move[0] = gap - unit[0] * np.round(gap / unit[0])
    return move


FLAT = 1e-9
"""A sheet that a face takes in by a smaller share of its area shows as lines there."""


def run_across(near: LaidFinish, far: LaidFinish, face: int, point: Floats) -> tuple[SetOutMove, float]:
    """Lets the far side of an edge run on from the near side, which stays; and the misfit in mm.

    The edge is the one of `face`, a face of the near finish, that is nearest to a point.
    """
    surface = near.surface
    half, other, opposed = edge_between(surface, face, point)
    beyond = int(surface.topology.corner_face[other])
    q = np.zeros((surface.mesh.corner_count, 2))
    for one, at in ((near, face), (far, beyond)):
        own = surface.corners_of(np.array([at], np.int32))
        q[own] = one.final[own] * one.finish.scale
    motion, misfit = across_edge(surface, q, (half, other), opposed)
    faces = far.side_of(beyond)
    return added_motion(far, faces, motion), misfit


def added_motion(laid: LaidFinish, faces: Ints, motion: Floats) -> SetOutMove:
    """What to add to the turn and offset of faces that lie alike, so that they move on the sheet by a motion (2, 3).

    The motion is in mm of the model: of places on the sheet before it is enlarged.
    """
    before = laid.maps(int(faces[0]))[:, :2] * np.array(laid.finish.scale)[:, None]
    if abs(np.linalg.det(motion[:, :2] @ before)) < FLAT:
        raise SetOutError(
            "the sheet is smeared along one of the two faces, so nothing can run on; lay it by another projection"
        )
    was_flipped = np.linalg.det(before) < 0
    after = motion[:, :2] @ before
    flipped = np.linalg.det(after) < 0
    flat = np.diag([-1.0 if flipped else 1.0, 1.0])
    turned = after @ flat
    new_turn = float(np.degrees(np.arctan2(turned[0, 1], turned[0, 0])))
    old = before @ np.diag([-1.0 if was_flipped else 1.0, 1.0])
    old_turn = float(np.degrees(np.arctan2(old[0, 1], old[0, 0])))
    # after (raw - offset - more) = motion (before (raw - offset)) gives the offset that is added.
    x, y = -np.linalg.solve(after, motion[:, 2])
    turn = (new_turn - old_turn + 180) % 360 - 180
    offset = round(float(x), 6), round(float(y), 6)
    size = float(np.sqrt(abs(np.linalg.det(after) / np.linalg.det(before))))
    return SetOutMove(faces, offset, round(turn, 9), bool(flipped != was_flipped), round(size, 9))


def edge_between(surface: Surface, face: int, point: Floats) -> tuple[int, int, bool]:
    """The half-edge of a face that is nearest to a point, that of the face beyond, and whether they are opposed."""
    half = nearest_edge(surface, face, point)
    edge_pairs = surface.edge_pairs
    for one, other in ((edge_pairs.near, edge_pairs.far), (edge_pairs.far, edge_pairs.near)):
        found = np.flatnonzero(one == half)
        if len(found):
            return half, int(other[found[0]]), bool(edge_pairs.opposed[found[0]])
    raise SetOutError("nothing lies beyond this edge: the model ends there")


def edge_direction(surface: Surface, face: int, point: Floats) -> tuple[float, float, float]:
    """The direction of the edge of a face that is nearest to a point, a unit vector in model axes."""
    half = nearest_edge(surface, face, point)
    a, b = (surface.mesh.points[surface.mesh.corners[c]] for c in (half, surface.topology.next_corner[half]))
    along = b - a
    size = float(np.linalg.norm(along))
    if size < 1e-9:
        raise SetOutError("this edge has no length, so it has no direction")
    return vector(along / size)
