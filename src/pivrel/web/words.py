"""Picks in plain words, as the inspector and the schedule show them."""

from __future__ import annotations

import re
from typing import Any


def _count(number: int, one: str, many: str) -> str:
    return f"1 {one}" if number == 1 else f"{number:,} {many}"


def _plain_glob(glob: str) -> str:
    """A glob as a person reads it: `[[]` is just an escaped bracket."""
    return re.sub(r"\[([\[*?])\]", r"\1", glob)


def pick_in_words(pick: dict[str, Any]) -> str:
    """A recipe's pick as a phrase."""
    match pick:
        case {"all": True}:
            return "everything"
        case {"parts": globs}:
            names = [f"“{_plain_glob(g)}”" for g in globs]
            if len(names) > 3:
                return f"{len(names)} parts: {', '.join(names[:2])} and {len(names) - 2} more"
            return ("part " if len(names) == 1 else "parts ") + ", ".join(names)
        case {"patches": ids}:
            return _count(len(ids), "patch", "patches")
        case {"faces": ids}:
            return _count(len(ids), "face", "faces") if ids else "nothing"
        case {"facing": direction, "within_deg": angle}:
            towards = ", ".join(f"{d:g}" for d in direction)
            return f"faces looking towards ({towards}) within {angle:g}°"
        case {"any": picks}:
            return " and ".join(pick_in_words(p) for p in picks) or "nothing"
        case {"every": [first, {"not": less}]}:
            return f"{pick_in_words(first)} without {pick_in_words(less)}"
        case {"every": picks}:
            return " that are also ".join(pick_in_words(p) for p in picks) or "everything"
        case {"not": inner}:
            return f"everything but {pick_in_words(inner)}"
    return "a pick"
