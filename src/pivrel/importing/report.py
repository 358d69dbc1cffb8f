"""What the import check says of a model, in the trade's words."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from pivrel.core.geometry.faults import Fault, Key

ONE_MANY: dict[Key, tuple[str, str]] = {
    "degenerate": ("face without area", "faces without area"),
    "duplicate": ("face lies on another one", "faces lie on another one"),
    "mixed": ("face is turned against its neighbours", "faces are turned against their neighbours"),
    "inverted": ("closed body is inside out", "closed bodies are inside out"),
    "straight": ("corner lies on a straight edge", "corners lie on a straight edge"),
    "open": ("open edge", "open edges"),
    "shared": ("edge belongs to more than two faces", "edges belong to more than two faces"),
    "coincident": ("vertex lies on another one", "vertices lie on another one"),
    "far": ("The model lies far from its origin", ""),
    "unnamed": ("part has no name", "parts have no name"),
}

WHAT_OF_IT: dict[Key, str] = {
    "degenerate": "nothing shows on them; they can be left out",
    "duplicate": "two materials would flicker there; the later ones can be left out",
    "mixed": "a pattern would be mirrored there; they can be turned",
    "inverted": "every pattern on them would be mirrored; they can be turned",
    "straight": "such faces are laid as one face",
    "open": "the model is not closed there, which does no harm",
    "shared": "patches end there",
    "coincident": "they count as one vertex",
    "far": "it is drawn near it, and handed over where it was",
    "unnamed": "they are numbered",
}

MENDING: dict[Key, str] = {
    "degenerate": "Leave them out",
    "duplicate": "Leave the later ones out",
    "mixed": "Turn them like their neighbours",
    "inverted": "Turn them inside out again",
}


@dataclass(frozen=True)
class Finding:
    """A line of the check. mend: what can be done about it, in words; None where nothing has to."""

    key: str
    count: int
    words: str
    then: str
    mend: str | None
    shown: bool

    def as_json(self) -> dict[str, Any]:
        return vars(self)


def finding(fault: Fault) -> Finding:
    """A fault in words."""
    one, many = ONE_MANY[fault.key]
    words = one if not many else f"1 {one}" if fault.count == 1 else f"{fault.count:,} {many}"
    return Finding(
        fault.key, fault.count, words, WHAT_OF_IT[fault.key], MENDING.get(fault.key), len(fault.faces) > 0
    )


def sentence(fault: Fault) -> str:
    """A fault as one line of text."""
    found = finding(fault)
    return f"{found.words}: {found.then}"
