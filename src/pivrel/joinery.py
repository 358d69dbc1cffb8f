"""Edits that place the sheet on some faces of a finish: setting out, running on, turning a pick, swapping."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from typing import Any, Literal

import numpy as np

from pivrel import edits
from pivrel.computing import COMPUTING
from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.given_up import given_up
from pivrel.core.laying import BARE
from pivrel.core.moves import (
    Laid,
    Move,
    as_laid,
    at_corner,
    at_edge,
    at_middle,
    balance,
    edge_between,
    run_across,
)
from pivrel.core.picks import by_ids, resolve
from pivrel.core.projection import Triplanar
from pivrel.core.set_out_state import Row, rows_of
from pivrel.core.setout import What, units_of
from pivrel.edits import EditError, checked, counted, finish_of, plain_turn, regrained, with_material
from pivrel.laid_project import LaidProject, fitted
from pivrel.recipe import PickModel, pick_json
from pivrel.store.projects import Contents, Document

At = Literal["corner", "edge", "middle"]

ROUND = 1e-6


def _laid(project: LaidProject, key: str) -> Laid:
    finish_of(project.contents, key)
    return as_laid(project.surface, project.finish(key), project.held(key), project.settled(key))


def _pick_of(project: LaidProject, faces: Ints) -> dict[str, Any]:
    """The shortest pick that holds these faces: whole patches by their ids, or else the faces."""
    patches = project.surface.patches()
    used = np.unique(patches[faces])
    if len(faces) == int(np.isin(patches, used).sum()):
        return {"patches": used.tolist()}
    return pick_json(by_ids(faces))


def adjusted(project: LaidProject, key: str, moves: Sequence[Move]) -> dict[str, Any]:
    """The body of a finish with moves added: to its own placement where they move all of it, else to its adjustments."""
    body = dict(finish_of(project.contents, key).body)
    held = project.held(key)
    own = [dict(a) for a in body.get("adjust", ())]
    for move in moves:
        if len(move.faces) == len(held) and not move.mirrored:
            body["offset_mm"] = [
                round(a + b, 6) for a, b in zip(body["offset_mm"], move.offset_mm, strict=True)
            ]
            if move.turn_deg:
                body["turn_deg"] = plain_turn(project.finish(key).placement.turn_deg + move.turn_deg)
                body["grain_deg"] = None
            continue
        pick = {"all": True} if len(move.faces) == len(held) else _pick_of(project, move.faces)
        same = next((a for a in own if a["pick"] == pick), None)
        if same is None:
            same = {"pick": pick, "turn_deg": 0.0, "offset_mm": [0.0, 0.0], "mirrored": False}
            own.append(same)
        same["turn_deg"] = plain_turn(same["turn_deg"] + move.turn_deg)
        same["offset_mm"] = [round(a + b, 6) for a, b in zip(same["offset_mm"], move.offset_mm, strict=True)]
        same["mirrored"] = same["mirrored"] != move.mirrored
    body["adjust"] = [
        a for a in own if a["mirrored"] or abs(a["turn_deg"]) > ROUND or max(map(abs, a["offset_mm"])) > ROUND
    ]
    return body


def _with(contents: Contents, key: str, body: dict[str, Any]) -> Contents:
    out = contents.copied()
    out.finishes[key] = replace(out.finishes[key], body=checked(body))
    return out


def _covering(project: LaidProject, face: int, what: str) -> str:
    """The finish that covers a face, or EditError."""
    row = int(project.covering().face_finish[face])
    if row == BARE:
        raise EditError(f"{what} has no finish; lay the material there first")
    return project.keys[row]


def set_out(
    project: LaidProject, face: int, point: Floats, at: At, what: What
) -> tuple[Contents, str]:  # fmt: skip
    """Puts a joint or a unit's middle on a corner, an edge or the middle of what a click met."""
    key = _covering(project, face, "what you clicked")
    with COMPUTING:
        laid = _laid(project, key)
        if at == "corner":
            moves = at_corner(laid, face, point, what)
        elif at == "edge":
            moves = at_edge(laid, face, point, what)
        else:
            moves = at_middle(laid, face, what)
    body = adjusted(project, key, moves)
    words = {"joint": "joint", "centre": "middle of a unit"}[what]
    return _with(project.contents, key, body), f"{words} on the {at} in {body['name']}"


def balanced(
    project: LaidProject, key: str, pick: PickModel | None
) -> tuple[Contents, str, str]:  # fmt: skip
    """Balances the sides of a finish that a pick holds, or all; the contents, a label, and the cuts in words."""
    with COMPUTING:
        laid = _laid(project, key)
        count = project.surface.mesh.face_count
        picked = np.ones(count, bool) if pick is None else resolve(pick.to_core(), project.surface)
        after = _with(project.contents, key, adjusted(project, key, balance(laid, picked)))
        # What is told is what lies there, and not what was meant.
        lies = _laid(replace(project, contents=after), key)
    return after, f"balance {after.finishes[key].body['name']}", _balance_told(lies, picked)


def _balance_told(laid: Laid, picked: Mask) -> str:
    material, scale = laid.finish.material, laid.finish.scale
    sized = zip(units_of(material), scale, strict=True)
    unit = " × ".join(f"{u * abs(k):g}" for u, k in sized)
    told: dict[str, int] = {}
    sides = laid.sides(picked)
    rows = [rows_of(side, material) for side in sides]
    for along, up in rows:
        words = f"{_row_told(along, scale[0])} along, {_row_told(up, scale[1])} up"
        told[words] = told.get(words, 0) + 1
    listed = [f"{words} ({counted(count, 'side')})" if count > 1 else words for words, count in told.items()]
    many = "" if len(listed) <= 4 else f" … and {len(listed) - 4} more"
    course = " (along: in the lowest course)" if material.joints and material.joints.bond else ""
    said = f"balanced by units of {unit} mm{course}: {'; '.join(listed[:4])}{many}"
    uneven = sum(not (along.equal and up.equal) for along, up in rows)
    if uneven and not laid.finish.run_on:
        said += f". So that courses stay level, {uneven} of the sides {'has' if uneven == 1 else 'have'} unequal cuts"
    elif uneven:
        said += ". The pattern runs on, so the largest side is balanced and the others follow"
    return said


def _row_told(row: Row, scale: float) -> str:
    """A row as it lies in words, in mm of face."""
    first, last = (f"{cut * abs(scale):.1f}" for cut in (row.first_mm, row.last_mm))
    if row.whole < 0:
        return f"one piece of {first} mm"
    if first != last:
        return f"cuts of {first} and {last} mm, {row.whole} whole between"
    if row.is_uncut:
        return f"{row.whole} whole"
    return f"cuts of {first} mm at both ends, {row.whole} whole between"


def _may_lie_otherwise(before: Contents, after: Contents, key: str) -> bool:
    """Whether a finish, or its material, is another document after an edit; those that it left alone are the same."""
    was, now = before.finishes[key], after.finishes.get(key)
    if now is None:
        return False
    material = was.body["material"]
    return was is not now or before.materials.get(material) is not after.materials.get(material)


def given_up_by(before: LaidProject, after: LaidProject) -> list[str]:
    """What an edit gave up of how its finishes were set out, in sentences; those that were not are passed."""
    out = []
    for key in before.keys:
        if not _may_lie_otherwise(before.contents, after.contents, key):
            continue
        was, now = before.finish(key), after.finish(key)
        set_out = was.adjust or was.offset_mm != (0.0, 0.0)
        if not set_out or isinstance(was.projection, Triplanar) or isinstance(now.projection, Triplanar):
            continue
        if not was.tile or after.laying_key(key) == before.laying_key(key):
            continue
        if not np.array_equal(before.held(key), after.held(key)):
            continue
        with COMPUTING:
            told = given_up(_laid(before, key), _laid(after, key))
        if told:
            out.append(f"{now.name}: {'; '.join(told)}")
    return out


def ran_across(project: LaidProject, face: int, point: Floats) -> tuple[Contents, str, str]:
    """Lets the pattern run on across the edge nearest to a click; the clicked side stays."""
    near = _covering(project, face, "the side that you clicked")
    with COMPUTING:
        _, other, _ = edge_between(project.surface, face, point)
        far = _covering(project, int(project.surface.topology.corner_face[other]), "the side beyond the edge")
        move, misfit = run_across(_laid(project, near), _laid(project, far), face, point)
    after = _with(project.contents, far, adjusted(project, far, [move]))
    if misfit > 0.05:
        said = f"the sheet is stretched on one side of this edge: each of its ends is off by {misfit:.1f} mm"
    else:
        said = "the pattern runs on across this edge"
    return after, f"run on in {after.finishes[far].body['name']}", said


def turned_pick(
    project: LaidProject, key: str, pick: PickModel, turn_by: float, mirrored: bool
) -> tuple[Contents, str]:
    """Turns or flips the sheet on those faces of a finish that a pick holds; on all where it holds none."""
    body = finish_of(project.contents, key).body
    with COMPUTING:
        picked = resolve(pick.to_core(), project.surface)
    faces = project.held(key)[picked[project.held(key)]]
    if len(faces) in (0, len(project.held(key))) and not mirrored:
        # The pick is elsewhere, or all of it: the finish itself is meant.
        return edits.change(
            project.contents, {}, [key], {"turn_by": turn_by}, partial(fitted, project.surface)
        )
    if not len(faces):
        raise EditError(f"none of the picked faces belongs to {body['name']}; pick some of its faces")
    if body["projection"]["kind"] == "triplanar":
        raise EditError(
            "triplanar blends one sheet over all faces; split the pick off first with Own projection"
        )
    after = _with(project.contents, key, adjusted(project, key, [Move(faces, (0.0, 0.0), turn_by, mirrored)]))
    return after, f"turn of {counted(len(faces), 'face')} of {body['name']}"


def without_adjustment(contents: Contents, key: str, row: int) -> tuple[Contents, str]:
    """Takes one adjustment off a finish; row counts from 0."""
    body = dict(finish_of(contents, key).body)
    own = list(body.get("adjust", ()))
    if not 0 <= row < len(own):
        raise EditError(f"{body['name']} has no adjustment {row + 1}")
    del own[row]
    body["adjust"] = own
    return _with(contents, key, body), f"adjustment of {body['name']}"


def swapped(contents: Contents, library: dict[str, Document], key: str, to: str) -> tuple[Contents, str]:
    """Puts another material in the place of one, on all its uses; mm and grain hold."""
    if key not in contents.materials:
        raise EditError(f"the project does not use the material {key!r}")
    out = with_material(contents, library, to).copied()
    for finish_key, document in out.finishes.items():
        body = dict(document.body)
        axes = body["projection"].get("materials")
        if axes and key in axes.values():
            named = {axis: to if m == key else m for axis, m in axes.items()}
            body["projection"] = {**body["projection"], "materials": named}
        if body["material"] == key:
            body = regrained(body, out, to)
        out.finishes[finish_key] = replace(document, body=checked(body))
    name = out.materials[to].body["name"]
    return out, f"{name} in place of {out.materials[key].body['name']}"
