"""Edits that place the sheet on some faces of a finish: setting out, running on, turning a pick, swapping."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from typing import Any, Literal

import numpy as np

from pivrel import edits
from pivrel.core.arrays import Floats, Ints
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
from pivrel.core.picks import resolve
from pivrel.core.setout import Cuts, What, units_of
from pivrel.edits import EditError, checked, finish_of, plain_turn, regrained, with_material
from pivrel.laid_project import COMPUTING, LaidProject, fitted
from pivrel.recipe import PickModel
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
    return {"faces": faces.tolist()}


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
        moves, sides = balance(laid, picked)
    body = adjusted(project, key, moves)
    wide, high = laid.finish.scale
    told = list(
        dict.fromkeys(f"{_cuts_told(s.along, wide)} along, {_cuts_told(s.up, high)} up" for s in sides)
    )
    many = "" if len(told) <= 4 else f" … and {len(told) - 4} more"
    sized = zip(units_of(laid.finish.material), laid.finish.scale, strict=True)
    unit = " × ".join(f"{u * abs(k):g}" for u, k in sized)
    said = f"balanced by units of {unit} mm: {'; '.join(told[:4])}{many}"
    return _with(project.contents, key, body), f"balance {body['name']}", said


def _cuts_told(cuts: Cuts, scale: float) -> str:
    """Cuts in words, in mm of face."""
    cut = f"{cuts.cut_mm * abs(scale):.1f} mm"
    if not cuts.cut:
        return f"{cuts.whole} whole"
    if cuts.whole < 0:
        return f"one piece of {cut}"
    return f"cuts of {cut} at both ends, {cuts.whole} whole between"


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
    return after, f"turn of {len(faces)} faces of {body['name']}"


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
