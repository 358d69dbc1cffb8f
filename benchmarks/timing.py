"""Timing two things in turn, so that a machine that slows down slows both."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import asdict, dataclass
from statistics import median
from typing import Any


@dataclass(frozen=True)
class Result:
    """What was measured beside a reference; both are seconds unless the unit is another."""

    what: str
    on: str
    seconds: float
    reference: str
    reference_seconds: float
    goal: str
    ratio: float
    met: bool
    unit: str = "ms"

    def row(self) -> str:
        ours, theirs = (
            f"{value * 1e3:>9.1f} ms" if self.unit == "ms" else f"{value:>9.4f} {self.unit}"
            for value in (self.seconds, self.reference_seconds)
        )
        return (
            f"{self.what:<28} {self.on:<34} {ours}  {self.reference:<44} {theirs}  "
            f"{self.ratio:>6.2f}  {self.goal:<14} {'met' if self.met else 'MISSED'}"
        )

    def json(self) -> dict[str, Any]:
        return asdict(self)


def seconds(run: Callable[[], object]) -> float:
    start = time.perf_counter()
    run()
    return time.perf_counter() - start


def compare(
    what: str,
    on: str,
    ours: Callable[[], object],
    reference: str,
    theirs: Callable[[], object],
    *,
    at_most: float | None = None,
    at_least: float | None = None,
    runs: int = 7,
) -> Result:
    """Medians of alternating runs after one warm-up of each.

    at_most bounds ours / theirs; at_least bounds theirs / ours (how many times faster).
    """
    ours()
    theirs()
    mine, other = [], []
    for _ in range(runs):
        mine.append(seconds(ours))
        other.append(seconds(theirs))
    a, b = median(mine), median(other)
    if at_most is not None:
        return Result(what, on, a, reference, b, f"at most {at_most:g}x", a / b, a / b <= at_most)
    assert at_least is not None
    return Result(what, on, a, reference, b, f"{at_least:g}x faster", b / a, b / a >= at_least)
