"""Moving the sheet on some faces of a finish: to a joint, to balanced cuts, or to run on across an edge."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.finish import Finish
from pivrel.core.geometry.fits.frame import vector
from pivrel.core.geometry.surface import Surface
from pivrel.core.grain import side_groups
from pivrel.core.laying import Settled, grounds, lay_by_corner
from pivrel.core.run_on import across_edge
from pivrel.core.setout import Cuts, What, balanced, to_balance, to_joint, units_of


class SetOutError(ValueError):
    """A setting-out that cannot be done; the message says why in one sentence."""


@dataclass(frozen=True)
class Move:
    """What is added to how the sheet lies on some faces (int32 ids): turn, offset, and whether it is flipped."""

    faces: Ints
    offset_mm: tuple[float, float]
    turn_deg: float = 0.0
    mirrored: bool = False


@dataclass(frozen=True)
class Balanced:
    """How one side came out: its faces, and the cuts along and up."""

    faces: Ints
    along: Cuts
    up: Cuts


@dataclass(frozen=True)
class Laid:
    """A finish as it lies: its faces (K,), which side each belongs to (K,), and (C, 2) final by corner id."""

    surface: Surface
    finish: Finish
    settled: Settled
    faces: Ints
    side: Ints
    final: Floats

    def maps(self, face: int) -> Floats:
        """(2, 3) from raw to final on a face."""
        sheets = self.settled.sheets
        if sheets is None:
            return self.finish.placement.matrix
        out: Floats = sheets.matrix[sheets.group[np.searchsorted(sheets.faces, face)]]
        return out

    def offset(self, face: int, move: Floats) -> tuple[float, float]:
        """What to add to the offset of a face so that its places move on the sheet by `move` (2,) mm."""
        # Where a pattern runs on, all islands follow the sheet as the finish itself lays it.
        maps = self.finish.placement.matrix if self.finish.run_on else self.maps(face)
        x, y = -np.linalg.solve(maps[:, :2], move)
        return float(round(x, 6)), float(round(y, 6))

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


def as_laid(surface: Surface, finish: Finish, faces: Ints, settled: Settled) -> Laid:
    """A finish on its faces (int32, ascending)."""
    _, piece, side = grounds(surface, faces, settled)
    final = lay_by_corner(surface, finish, faces, settled)
    return Laid(surface, finish, settled, faces, side_groups(surface.patches()[faces], piece, side), final)


def nearest_corner(surface: Surface, face: int, point: Floats) -> int:
    """The corner id of a face that is nearest to a point in mm."""
    start, end = surface.mesh.face_start[[face, face + 1]]
    points = surface.mesh.points[surface.mesh.corners[start:end]]
    return int(start + np.argmin(np.linalg.norm(points - point, axis=1)))


def nearest_edge(surface: Surface, face: int, point: Floats) -> int:
    """The half-edge (corner id) of a face that is nearest to a point in mm."""
    start, end = surface.mesh.face_start[[face, face + 1]]
    a = surface.mesh.points[surface.mesh.corners[start:end]]
    along = np.roll(a, -1, axis=0) - a
    share = ((point - a) * along).sum(axis=1) / np.maximum((along**2).sum(axis=1), 1e-12)
    near = a + np.clip(share, 0, 1)[:, None] * along
    return int(start + np.argmin(np.linalg.norm(near - point, axis=1)))


def at_corner(laid: Laid, face: int, point: Floats, what: What) -> list[Move]:
    """Brings a joint, or a unit's middle, to the corner nearest to a point, on every side that meets there."""
    surface = laid.surface
    place = int(surface.topology.place[surface.mesh.corners[nearest_corner(surface, face, point)]])
    corners = np.flatnonzero(surface.topology.place[surface.mesh.corners] == place)
    meeting = np.intersect1d(surface.topology.corner_face[corners], laid.faces)
    moves, done = [], set[int]()
    for at in [face, *(f for f in meeting.tolist() if f != face)]:
        faces = laid.side_of(at)
        if int(faces[0]) in done:
            continue
        done.add(int(faces[0]))
        spot = laid.final[laid.corner_at(at, place)]
        moves.append(Move(faces, laid.offset(at, to_joint(spot, laid.finish.material, what))))
        if laid.finish.run_on:
            break
    return moves


def at_edge(laid: Laid, face: int, point: Floats, what: What) -> list[Move]:
    """Brings a joint, or the middle of units, onto the edge of a face that is nearest to a point."""
    half = nearest_edge(laid.surface, face, point)
    a, b = laid.final[half], laid.final[laid.surface.topology.next_corner[half]]
    level = abs(b[0] - a[0]) >= abs(b[1] - a[1])
    move = to_joint((a + b) / 2, laid.finish.material, what, (not level, bool(level)))
    return [Move(laid.side_of(face), laid.offset(face, move))]


def at_middle(laid: Laid, face: int, what: What) -> list[Move]:
    """Brings a joint, or a unit's middle, to the middle of a side."""
    faces = laid.side_of(face)
    own = laid.final[laid.surface.corners_of(faces)]
    middle = (own.min(axis=0) + own.max(axis=0)) / 2
    return [Move(faces, laid.offset(face, to_joint(middle, laid.finish.material, what)))]


def upright(surface: Surface, faces: Ints) -> Mask:
    """(K,) the faces that stand: within 45 degrees of plumb."""
    normals = surface.normals[faces]
    size = np.maximum(np.linalg.norm(normals, axis=1), 1e-300)
    out: Mask = np.abs(normals[:, 2]) < size * np.sqrt(0.5)
    return out


def balance(laid: Laid, picked: Mask) -> tuple[list[Move], list[Balanced]]:
    """Balances every side of a finish that the pick holds: equal cuts at opposite borders, the wider choice.

    picked: (F,). Sides that stand keep their courses level: they are balanced up and down as one.
    """
    surface, material = laid.surface, laid.finish.material
    joints = material.joints
    unit = units_of(material)
    joint = joints.width_mm if joints else 0.0
    at = joints.at_mm if joints else (0.0, 0.0)
    bond = joints.bond if joints else 0.0
    ends: list[tuple[Ints, Floats, Floats]] = []
    for number in np.unique(laid.side[picked[laid.faces]]).tolist():
        faces = laid.faces[(laid.side == number) & picked[laid.faces]]
        own = laid.final[surface.corners_of(faces)]
        ends.append((laid.faces[laid.side == number], own.min(axis=0), own.max(axis=0)))
    if not ends:
        raise SetOutError("none of the picked faces belongs to this finish")
    standing = [bool(upright(surface, faces).all()) for faces, _, _ in ends]
    level = [row for row, stands in enumerate(standing) if stands]
    low = min((ends[row][1][1] for row in level), default=0.0)
    high = max((ends[row][2][1] for row in level), default=0.0)
    moves, told = [], []
    for (faces, least, most), stands in zip(ends, standing, strict=True):
        bottom, top = (low, high) if stands else (float(least[1]), float(most[1]))
        up = balanced(top - bottom, unit[1], joint)
        rise = to_balance(bottom, top, up, unit[1], at[1])
        along = balanced(float(most[0] - least[0]), unit[0], joint, bond)
        move = np.array([to_balance(float(least[0]), float(most[0]), along, unit[0], at[0]), rise])
        if bond:
            # Along, joints lie where the lowest course has them after the rise.
            course = np.round((bottom + rise + up.first_mm - at[1]) / unit[1])
            gap = at[0] + bond * unit[0] * course - (float(least[0]) + along.first_mm)
            move[0] = gap - unit[0] * np.round(gap / unit[0])
        moves.append(Move(faces, laid.offset(int(faces[0]), move)))
        told.append(Balanced(faces, along, up))
    return moves, told


def run_across(near: Laid, far: Laid, face: int, point: Floats) -> tuple[Move, float]:
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
    maps = far.maps(beyond)
    before = maps[:, :2] * np.array(far.finish.scale)[:, None]
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
    move = Move(faces, (round(float(x), 6), round(float(y), 6)), round(turn, 9), bool(flipped != was_flipped))
    return move, misfit


def edge_between(surface: Surface, face: int, point: Floats) -> tuple[int, int, bool]:
    """The half-edge of a face that is nearest to a point, that of the face beyond, and whether they are opposed."""
    half = nearest_edge(surface, face, point)
    meetings = surface.meetings
    for one, other in ((meetings.near, meetings.far), (meetings.far, meetings.near)):
        found = np.flatnonzero(one == half)
        if len(found):
            return half, int(other[found[0]]), bool(meetings.opposed[found[0]])
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
