"""What a step of a setting-out gave up of what held before it, in sentences."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask, distinct
from pivrel.core.phrases import counted
from pivrel.core.set_out.cuts import units_of
from pivrel.core.set_out.moves import LaidFinish
from pivrel.core.set_out.state import ON_MM, all_level, rows_of


def given_up(before: LaidFinish, after: LaidFinish) -> list[str]:
    """Sentences on what held of a finish before a step and does not after it; both laid on the same faces."""
    material = before.finish.material
    sides, now = before.sides(), after.sides()
    out = []
    if sum(side.plumb is not None for side in sides) > 1 and all_level(sides, material):
        stood = {int(side.faces[0]) for side in sides if side.plumb is not None}
        still = [side for side in now if int(side.faces[0]) in stood]
        if any(side.plumb is None for side in still) or not all_level(still, after.finish.material):
            out.append("the courses no longer run on level from side to side")
    equal = {int(s.faces[0]) for s in sides if all(row.equal for row in rows_of(s, material))}
    uneven = [
        s
        for s in now
        if int(s.faces[0]) in equal and not all(r.equal for r in rows_of(s, after.finish.material))
    ]
    if uneven:
        out.append(f"the cuts of {counted(len(uneven), 'side')} are no longer equal")
    places = [
        (_missing(_corners_on_joints(before), _corners_on_joints(after)), "corner"),
        (_missing(_edges_on(before, False), _edges_on(after, False)), "edge"),
    ]
    lost = " and ".join(counted(count, one) for count, one in places if count)
    if lost:
        out.append(f"joints no longer fall on {lost} where they did")
    middles = _missing(_edges_on(before, True), _edges_on(after, True))
    if middles:
        out.append(f"the middle of a unit no longer lies on {counted(middles, 'edge')} where it did")
    return out


def _missing(before: Ints, after: Ints) -> int:
    """How many of some numbers, each once, are not among others, each once."""
    return len(np.setdiff1d(before, after, assume_unique=True))


def _borders(laid: LaidFinish) -> Ints:
    """(E,) the half-edges at which the sides of a finish end."""
    surface = laid.surface
    side = np.full(surface.mesh.face_count, -1, np.int64)
    side[laid.faces] = laid.side
    of_corner = side[surface.topology.corner_face]
    beyond = np.full(surface.mesh.corner_count, -2, np.int64)
    edge_pairs = surface.edge_pairs
    beyond[edge_pairs.near], beyond[edge_pairs.far] = of_corner[edge_pairs.far], of_corner[edge_pairs.near]
    out: Ints = np.flatnonzero((of_corner >= 0) & (of_corner != beyond))
    return out


def _on_lines(laid: LaidFinish, corners: Ints, middle: bool) -> Mask:
    """(N, 2) whether joints, or the middles of units, run through corners along and up."""
    material = laid.finish.material
    unit, joints = np.array(units_of(material)), material.joints
    at = np.array(joints.at_mm if joints else (0.0, 0.0)) + (unit / 2 if middle else 0.0)
    off: Floats = laid.final[corners] - at
    if joints is not None and joints.bond:
        off[:, 0] -= joints.bond * unit[0] * np.round(off[:, 1] / unit[1])
    on: Mask = np.abs(off - unit * np.round(off / unit)) <= ON_MM
    return on


def _corners_on_joints(laid: LaidFinish) -> Ints:
    """The places (ids of `Topology.place`) where joints cross on every side that meets there."""
    surface = laid.surface
    half = _borders(laid)
    corners = distinct(np.concatenate([half, surface.topology.next_corner[half]]))
    place = surface.topology.place[surface.mesh.corners[corners]]
    on = _on_lines(laid, corners, False).all(axis=1)
    missed = distinct(place[~on])
    out: Ints = np.setdiff1d(distinct(place), missed, assume_unique=True)
    return out


def _edges_on(laid: LaidFinish, middle: bool) -> Ints:
    """The half-edges at the border of a side along which a joint runs, or the middles of units."""
    half = _borders(laid)
    after = laid.surface.topology.next_corner[half]
    run = np.abs(laid.final[after] - laid.final[half])
    on = _on_lines(laid, half, middle) & _on_lines(laid, after, middle)
    along = (run[:, 1] <= ON_MM) & on[:, 1]
    up = (run[:, 0] <= ON_MM) & on[:, 0]
    if laid.finish.material.joints is not None and laid.finish.material.joints.bond:
        up[:] = False
    out: Ints = half[along | up]
    return out
