"""Picks in plain words, as the inspector and the schedule show them."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from typing import assert_never

from pivrel.recipe.picks import (
    AllPick,
    AnyPick,
    ElementsPick,
    EveryPick,
    FacesPick,
    FacingPick,
    NotPick,
    PartsPick,
    PatchesPick,
    PickModel,
    SourcesPick,
    StoreysPick,
    face_count,
)


def _count(number: int, one: str, many: str) -> str:
    return f"1 {one}" if number == 1 else f"{number:,} {many}"


def _plain_glob(glob: str) -> str:
    """A glob as a person reads it: `[[]` is just an escaped bracket."""
    return re.sub(r"\[([\[*?])\]", r"\1", glob)


def _listed(one: str, many: str, globs: Sequence[str]) -> str:
    """Names after the word for them, some of them where there are many."""
    names = [f"“{_plain_glob(g)}”" for g in globs]
    if len(names) > 3:
        return f"{len(names)} {many}: {', '.join(names[:2])} and {len(names) - 2} more"
    return (one if len(names) == 1 else many) + " " + ", ".join(names)


_SIDES: dict[tuple[float, float, float], str] = {
    (0, 0, 1): "up",
    (0, 0, -1): "down",
    (0, -1, 0): "to the front",
    (0, 1, 0): "to the back",
    (-1, 0, 0): "to the left",
    (1, 0, 0): "to the right",
}


def _facing(direction: Sequence[float], angle: float) -> str:
    # By the largest component first: the square of a tiny one would vanish.
    largest = max(abs(d) for d in direction)
    length = math.hypot(*(d / largest for d in direction))
    x, y, z = (round(d / largest / length, 4) for d in direction)
    side = _SIDES.get((x, y, z))
    towards = side or "towards (" + ", ".join(f"{d:.3g}" for d in direction) + ")"
    return f"looking {towards} within {angle:g}°"


def pick_phrase(pick: PickModel) -> str:
    """A recipe's pick as a phrase."""
    match pick:
        case AllPick():
            return "everything"
        case PartsPick(parts=globs):
            return _listed("part", "parts", globs)
        case ElementsPick(elements=globs):
            return _listed("every element of type", "elements of the types", globs)
        case StoreysPick(storeys=globs):
            return _listed("storey", "storeys", globs)
        case SourcesPick(sources=globs):
            return _listed("faces that the file makes of", "faces that the file makes of", globs)
        case PatchesPick(patches=ids):
            return _count(len(ids), "patch", "patches")
        case FacesPick(faces=faces):
            return _count(face_count(faces), "face", "faces") if faces else "nothing"
        case FacingPick():
            return f"faces {_facing(pick.facing, pick.within_deg)}"
        case AnyPick(any=picks):
            return " and ".join(pick_phrase(p) for p in picks) or "nothing"
        case EveryPick(every=picks):
            return _every(picks)
        case NotPick():
            return f"everything but {pick_phrase(pick.not_)}"
        case _:
            assert_never(pick)


def _every(picks: Sequence[PickModel]) -> str:
    """What all the picks hold: "faces of part “Wall” looking up within 20° without 3 faces"."""
    looking = [_facing(p.facing, p.within_deg) for p in picks if isinstance(p, FacingPick)]
    less = [pick_phrase(p.not_) for p in picks if isinstance(p, NotPick)]
    held = [pick_phrase(p) for p in picks if not isinstance(p, FacingPick | NotPick)]
    words = " that are also ".join(held)
    if looking:
        words = " and ".join(
            [f"faces of {words} {looking[0]}" if words else f"faces {looking[0]}", *looking[1:]]
        )
    if less:
        words = f"{words or 'everything'} without {' and '.join(less)}"
    return words or "everything"
