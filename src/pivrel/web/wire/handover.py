"""Hand-over: what is still wrong with what will be written."""

from __future__ import annotations

from typing import Literal

from pivrel.web.wire.base import Answer


class ProblemState(Answer):
    """What an artist would want to know before handing over; finish: None where it concerns what has none."""

    what: Literal["bare", "smeared", "mirrored", "seams", "covered", "unsolved", "untrue", "off"]
    finish: str | None
    amount: float
    unit: str
    text: str
    fix: str


class Overview(Answer):
    """What is still wrong, what no file can hold as the view shows it, and how large the model is."""

    problems: list[ProblemState]
    notes: list[str]
    triangles: int
