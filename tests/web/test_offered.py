"""What the controls of the front end offer, which the server must take.

The list is written by the component tests, from the controls themselves: `frontend/src/projections/offered.test.tsx`.
"""

import json
from pathlib import Path

import pytest

from pivrel.recipe.projections import PROJECTIONS

FOLDER = Path(__file__).parents[2] / "frontend/src/projections"
OFFERED = json.loads((FOLDER / "offered.fixture.json").read_text())
TYPED = {"450*2": 900, "1.2m": 1200, "2.4m": 2400, "4m": 4000, "90": 90, "1": 1, "3 cm": 30}
EACH = [
    pytest.param(row["projection"], options, id=f"{row['projection']['kind']}-{at}")
    for row in OFFERED
    for at, options in enumerate(row["options"])
]


@pytest.mark.parametrize(("projection", "options"), EACH)
def test_each_offered_option_is_taken(projection, options, cube):
    cube.edit(kind="lay", material="oak", pick={"all": True}, projection=projection)
    state = cube.edit(kind="set_options", finishes=["F1"], options=options)
    taken = state["finishes"][0]["projection"]
    for name, value in options.items():
        assert taken[name] == read(value), name


def read(value):
    """What a person typed, as the number that it stands for."""
    if isinstance(value, list):
        return [read(one) for one in value]
    if isinstance(value, dict):
        return {name: read(one) for name, one in value.items()}
    return TYPED.get(value, value) if isinstance(value, str) else value


def test_every_projection_offers_something():
    assert {row["projection"]["kind"] for row in OFFERED} == set(PROJECTIONS)
