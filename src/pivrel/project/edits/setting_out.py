"""What the edits that place the sheet on some faces of a finish have in common."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from pivrel.core.arrays import Ints, distinct
from pivrel.core.laying import BARE
from pivrel.core.picks import by_ids
from pivrel.core.set_out.moves import LaidFinish, SetOutMove, laid_finish
from pivrel.project.edits.base import Before, EditError, plain_turn
from pivrel.project.laid import LaidProject
from pivrel.recipe import AdjustmentModel, FinishModel, PickModel, changed, pick_model
from pivrel.recipe.picks import AllPick, PatchesPick
from pivrel.store.documents import Contents

ROUND = 1e-6


def laid_on_its_faces(project: LaidProject, key: str) -> LaidFinish:
    """A finish as setting out looks at it."""
    schedule = project.schedule
    return laid_finish(project.surface, schedule.finishes[key], schedule.held(key), schedule.settled(key))


def covering(before: Before, face: int, what: str) -> str:
    """The finish that covers a face, or EditError that begins with what was meant."""
    schedule = before.laid.schedule
    row = int(schedule.covering().face_finish[face])
    if row == BARE:
        raise EditError(f"{what} has no finish; lay the material there first")
    return schedule.keys[row]


def _pick_of(project: LaidProject, faces: Ints) -> PickModel:
    """The shortest pick that holds these faces: whole patches by their ids, or else the faces."""
    patches = project.surface.patches()
    used = distinct(patches[faces])
    if len(faces) == int(np.isin(patches, used).sum()):
        return PatchesPick(patches=tuple(used.tolist()))
    return pick_model(by_ids(faces))


def with_moves(before: Before, key: str, moves: Sequence[SetOutMove]) -> Contents:
    """The contents with a finish moved: by its own placement where all of it moves, else by its adjustments."""
    document = before.finish(key)
    stated, held = document.body, before.laid.schedule.held(key)
    fields: dict[str, object] = {}
    offset, own = stated.offset_mm, list(stated.adjust)
    rows: dict[str, int] = {}
    for row, adjustment in enumerate(own):
        rows.setdefault(adjustment.pick.model_dump_json(), row)
    for move in moves:
        if len(move.faces) == len(held) and not move.mirrored and move.size == 1.0:
            offset = _added(offset, move.offset_mm)
            if move.turn_deg:
                turn = before.laid.finish(key).placement.turn_deg + move.turn_deg
                fields |= {"turn_deg": plain_turn(turn), "grain_deg": None}
            continue
        whole = len(move.faces) == len(held)
        pick = AllPick(all=True) if whole else _pick_of(before.laid, move.faces)
        at = rows.setdefault(pick.model_dump_json(), len(own))
        if at == len(own):
            own.append(AdjustmentModel(pick=pick))
        own[at] = AdjustmentModel(
            pick=pick,
            turn_deg=plain_turn(own[at].turn_deg + move.turn_deg),
            offset_mm=_added(own[at].offset_mm, move.offset_mm),
            mirrored=own[at].mirrored != move.mirrored,
            size=round(own[at].size * move.size, 9),
        )
    fields |= {"offset_mm": offset, "adjust": tuple(a for a in own if _does_something(a))}
    return with_finish(before.contents, key, changed(stated, **fields))


def _added(a: tuple[float, float], b: tuple[float, float]) -> tuple[float, float]:
    return round(a[0] + b[0], 6), round(a[1] + b[1], 6)


def _does_something(adjustment: AdjustmentModel) -> bool:
    moved = max(map(abs, adjustment.offset_mm)) > ROUND
    changed_size = abs(adjustment.size - 1) > ROUND
    return adjustment.mirrored or changed_size or abs(adjustment.turn_deg) > ROUND or moved


def with_finish(contents: Contents, key: str, stated: FinishModel) -> Contents:
    """The contents with another body of a finish."""
    out = contents.copied()
    out.finishes[key] = out.finishes[key].with_body(stated)
    return out
