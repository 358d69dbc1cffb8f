"""Rules of the page that hold over its files: figures of the core that its own tests compare with, and what may move."""

import json
import re
from pathlib import Path

import numpy as np

from pivrel.core.sheet import Placement

SOURCES = Path(__file__).parents[1] / "frontend" / "src"
FIXTURE = SOURCES / "model" / "placement.fixture.json"

CASES = [
    (0.0, (0.0, 0.0), (1.0, 1.0)),
    (90.0, (120.0, -35.0), (1.0, 1.0)),
    (-270.0, (10.0, 0.0), (2.0, 0.5)),
    (37.5, (1234.5, 678.9), (1.5, 1.5)),
    (213.0, (-50.0, 900.0), (-1.0, 0.25)),
    (359.9, (0.25, 0.125), (-3.0, -0.1)),
]


def test_the_fixture_holds_the_cores_own_matrices():
    """`placement.test.ts` holds the browser to the same figures."""
    told = json.loads(FIXTURE.read_text())
    assert len(told) == len(CASES)
    for row, (turn, offset, scale) in zip(told, CASES, strict=True):
        assert (row["turn_deg"], tuple(row["offset_mm"]), tuple(row["scale"])) == (turn, offset, scale)
        np.testing.assert_allclose(
            row["matrix"], Placement(turn, offset, scale).matrix, rtol=1e-12, atol=1e-12
        )


def test_what_moves_for_as_long_as_something_lasts_lays_out_and_paints_nothing():
    """The browser's compositor moves and fades what is painted already; anything else paints the page for each frame.

    CSS Animations and `will-change` have both for cheap; a bar that moved its background took half a core of every wait.
    """
    css = (SOURCES / "index.css").read_text()
    steps = re.findall(r"@keyframes \w+ \{((?:[^{}]*\{[^{}]*\})*)\s*\}", css)
    assert len(steps) == css.count("@keyframes") > 0
    moved = {name for step in steps for name in re.findall(r"([\w-]+):", step)}
    assert moved <= {"transform", "opacity"}
