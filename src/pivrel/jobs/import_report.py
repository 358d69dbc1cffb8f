"""What the import check says of a model, in the trade's words."""

from __future__ import annotations

from dataclasses import dataclass

from pivrel.core.geometry.faults import Fault, Key

Pair = tuple[str, str]
"""Words for one, and for more."""


@dataclass(frozen=True)
class Wording:
    """What is said of a kind of fault, of what follows from it, and of mending it."""

    found: Pair
    then: Pair
    mend: Pair | None = None


def both(words: str) -> Pair:
    """Words that fit one and more."""
    return words, words


WORDING: dict[Key, Wording] = {
    "degenerate": Wording(
        ("face without area", "faces without area"),
        ("nothing shows on it; it can be left out", "nothing shows on them; they can be left out"),
        ("Leave it out", "Leave them out"),
    ),
    "duplicate": Wording(
        ("face lies on another one", "faces lie on another one"),
        (
            "two materials would flicker there; the later one can be left out",
            "two materials would flicker there; the later ones can be left out",
        ),
        ("Leave the later one out", "Leave the later ones out"),
    ),
    "mixed": Wording(
        ("face is turned against its neighbours", "faces are turned against their neighbours"),
        (
            "a pattern would be mirrored there; it can be turned",
            "a pattern would be mirrored there; they can be turned",
        ),
        ("Turn it like its neighbours", "Turn them like their neighbours"),
    ),
    "inverted": Wording(
        ("closed body is inside out", "closed bodies are inside out"),
        (
            "every pattern on it would be mirrored; it can be turned",
            "every pattern on them would be mirrored; they can be turned",
        ),
        ("Turn it inside out again", "Turn them inside out again"),
    ),
    "straight": Wording(
        ("corner lies on a straight edge", "corners lie on a straight edge"),
        both("such faces are laid as one face"),
    ),
    "open": Wording(
        ("open edge", "open edges"),
        both("the model is not closed there, which does no harm"),
    ),
    "shared": Wording(
        ("edge belongs to more than two faces", "edges belong to more than two faces"),
        both("patches end there"),
    ),
    "coincident": Wording(
        ("vertex lies on another one", "vertices lie on another one"),
        ("both count as one vertex", "they count as one vertex"),
    ),
    "far": Wording(
        both("The model lies far from its origin"),
        both("it is drawn near it, and handed over where it was"),
    ),
    "unnamed": Wording(
        ("part has no name", "parts have no name"),
        ("it is numbered", "they are numbered"),
    ),
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


def finding(fault: Fault) -> Finding:
    """A fault in words."""
    wording, more = WORDING[fault.key], fault.count != 1
    words = wording.found[more]
    if fault.key != "far":
        words = f"{fault.count:,} {words}"
    mend = wording.mend[more] if wording.mend else None
    return Finding(fault.key, fault.count, words, wording.then[more], mend, len(fault.faces) > 0)


def sentence(fault: Fault) -> str:
    """A fault as one line of text."""
    found = finding(fault)
    return f"{found.words}: {found.then}"
