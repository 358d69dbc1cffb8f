"""Work in a process of its own gives what it gives here, says what is wrong, and ends where nobody waits for it."""

import os
import tempfile
import zipfile
from io import BytesIO
from pathlib import Path

import numpy as np
import pytest

from pivrel.jobs import leftovers
from pivrel.web.context import laid_by_id
from pivrel.web.routes import handover, trials
from tests.conftest import unpacked

EVERYTHING = -1
"""Triangles above which work goes aside: all of it does."""


@pytest.fixture
def aside(monkeypatch):
    """From when it is called, all work that can go aside does."""

    def from_now_on():
        for module in (trials, handover):
            monkeypatch.setattr(module, "LARGE", EVERYTHING)

    return from_now_on


@pytest.fixture
def laid(cube):
    """A cube with a finish on every face, one of them a single sheet."""
    cube.edit(kind="lay", material="oak", pick={"all": True}, projection={"kind": "box"})
    cube.edit(kind="lay", material="brick", pick={"faces": [0]}, projection={"kind": "planar"})
    cube.edit(kind="tile", finishes=["F2"], tile=False)
    return cube


def folders():
    """What jobs of this process have left in the folder for temporary files."""
    return set(Path(tempfile.gettempdir()).glob(f"{leftovers.PREFIX}{os.getpid()}-*"))


def test_trials_come_out_the_same(laid, aside):
    here, arrays_here = laid.packet("trials", pick={"all": True}, material="oak")
    before = folders()
    aside()
    asked = {"pick": {"all": True}, "material": "oak", "called": "mine"}
    answer = laid.client.post(f"{laid.path}/trials", json=asked)
    there, arrays_there = unpacked(answer.data)
    answer.close()
    assert here == there and arrays_here.keys() == arrays_there.keys() and len(here["trials"]) > 2
    for name, array in arrays_here.items():
        np.testing.assert_array_equal(array, arrays_there[name], err_msg=name)
    assert folders() == before, "nothing is left behind"
    assert laid.client.get(f"{laid.path}/trials/mine").json == {"projection": None, "share": 0.0}


def test_what_is_wrong_is_said_as_ever(laid, aside):
    asked = {"pick": {"faces": []}, "material": "oak"}
    here = laid.client.post(f"{laid.path}/trials", json=asked)
    aside()
    there = laid.client.post(f"{laid.path}/trials", json=asked)
    assert (here.status_code, here.json) == (there.status_code, there.json)
    assert "the pick is empty" in there.json["error"]


@pytest.mark.parametrize("kind", ["glb", "obj", "gltf"])
def test_files_come_out_the_same(laid, aside, kind):
    path = f"{laid.path}/handover/{kind}"
    here = laid.client.get(path)
    before = folders()
    aside()
    there = laid.client.get(path)
    assert there.status_code == 200 and there.content_type == here.content_type
    assert here.headers["Content-Disposition"] == there.headers["Content-Disposition"]
    assert contents(kind, here.data) == contents(kind, there.data)
    there.close()
    assert folders() == before, "nothing is left behind"


def contents(kind, data):
    """Files by name; those of a ZIP, which knows when it was made, one by one."""
    if kind == "glb":
        return data
    with zipfile.ZipFile(BytesIO(data)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


@pytest.mark.parametrize("address", ["trials", "handover/glb"])
def test_it_ends_where_nobody_waits_for_it(laid, aside, address):
    aside()
    before = folders()
    ask = laid.client.post if address == "trials" else laid.client.get
    body = {"json": {"pick": {"all": True}, "material": "oak"}} if address == "trials" else {}
    left = ask(
        f"{laid.path}/{address}", environ_overrides={"waitress.client_disconnected": lambda: True}, **body
    )
    assert left.status_code == 408 and folders() == before


def test_what_would_have_to_be_solved_anew_is_written_here(laid):
    project = handover_project(laid)
    assert not handover.is_written_aside(project), "a cube is small"


def handover_project(laid):
    with laid.client.application.test_request_context():
        return laid_by_id(int(laid.path.rsplit("/", 1)[1]))[1]


def test_a_solved_finish_keeps_the_files_here(laid, aside):
    aside()
    assert handover.is_written_aside(handover_project(laid))
    laid.edit(kind="set_projection", finishes=["F1"], projection={"kind": "flow"})
    assert not handover.is_written_aside(handover_project(laid))
