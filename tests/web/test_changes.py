"""What an edit answers: the changes alone, and the arrays that the view needs to show them."""

import gzip
import json

import brotli
import numpy as np
import pytest

from tests.conftest import unpacked

ALL = {"all": True}


class Following:
    """A page: it knows a project by what answers say has changed, and keeps the arrays that came with them."""

    def __init__(self, asking):
        self.asking = asking
        self.client, self.path = asking.client, asking.path
        self.state = self.client.get(self.path).json
        self.arrays = {}

    def send(self, what, **body):
        answer = self.client.post(
            f"{self.path}/{what}?changes", json={"revision": self.state["revision"], **body}
        )
        assert answer.status_code == 200, answer.json
        change, arrays = unpacked(answer.data)
        assert change["since"] == self.state["revision"]
        rows = {f["key"]: f for f in [*self.state["finishes"], *change["finishes"]]}
        order = change["order"]
        if order is None:
            order = [f["key"] for f in self.state["finishes"]]
        for name in ("name", "revision", "aside", "undo", "redo", "cover_key", "bare", "said"):
            self.state[name] = change[name]
        for name in ("model", "materials", "pick_sets", "views"):
            self.state[name] = self.state[name] if change[name] is None else change[name]
        self.state["finishes"] = [rows[key] for key in order]
        self.arrays = {path: data.tobytes() for path, data in arrays.items()}
        whole = self.client.get(self.path).json
        assert {**self.state, "said": None} == {**whole, "said": None}, (
            "what the changes say is what there is"
        )
        for path, data in self.arrays.items():
            assert self.client.get(f"{self.path}/{path}").data == data, (
                "what came with it is what is asked for"
            )
        return change

    def edit(self, **edit):
        return self.send("edits", edit=edit)


@pytest.fixture
def page(cube):
    return Following(cube)


def lay(page, pick=ALL, material="brick", projection="box"):
    return page.edit(kind="lay", pick=pick, material=material, projection={"kind": projection})


def names(page):
    return {path.partition("?")[0] for path in page.arrays}


def test_changes_add_up_to_the_project_as_it_is(page):
    lay(page)
    assert names(page) == {"cover", "laying/F1"}
    change = lay(page, {"faces": [0, 1]}, "oak")
    assert change["order"] == ["F1", "F2"] and {"cover", "laying/F1", "laying/F2"} == names(page)
    change = page.edit(kind="turn_by", finishes=["F2"], turn_by=30)
    assert [f["key"] for f in change["finishes"]] == ["F2"] and change["order"] is None
    assert change["materials"] is None and change["model"] is None
    page.edit(kind="duplicate", finishes=["F2"])
    page.edit(kind="switch", finishes=["F2"], on=False)
    page.edit(kind="remove", finishes=["F1"])
    for _ in range(6):
        page.send("undo")
    assert page.state["finishes"] == []
    for _ in range(6):
        page.send("redo")
    page.edit(kind="keep_pick", name="these", pick={"faces": [1]})
    assert page.state["pick_sets"][0]["name"] == "these"


def test_a_turn_an_offset_and_a_scale_need_no_arrays(page):
    """Corners as they were laid, taken by the two placements from one to the other, are those that are laid now."""
    lay(page)
    before, laid = page.state["finishes"][0], page.asking.st("F1")
    for change in ({"turn_deg": 25}, {"offset_mm": [130, -40]}, {"scale": [1.5, 1.5]}):
        kind = {"turn_deg": "turn_to", "offset_mm": "offset", "scale": "scale"}[next(iter(change))]
        page.send("edits", edit={"kind": kind, "finishes": ["F1"], **change})
        assert page.arrays == {} and page.state["finishes"][0]["raw_key"] == before["raw_key"]
    now, then = (matrix(finish) for finish in (page.state["finishes"][0], before))
    moved = (now @ np.linalg.inv(then)) @ np.column_stack([laid, np.ones(len(laid))]).T
    np.testing.assert_allclose(moved[:2].T, page.asking.st("F1"), atol=1e-3)
    assert page.state["finishes"][0]["laying_key"] != before["laying_key"], "its figures are others"
    page.edit(kind="set_projection", finishes=["F1"], projection={"kind": "planar"})
    assert names(page) == {"laying/F1"}
    # Where pieces lie by themselves, one placement does not tell where all of them lie.
    page.edit(kind="run_on", finishes=["F1"], run_on=True)
    assert page.state["finishes"][0]["raw_key"] is None
    page.send("edits", edit={"kind": "turn_to", "finishes": ["F1"], "turn_deg": 40})
    assert names(page) == {"laying/F1"}


def matrix(finish):
    turn = np.radians(finish["turn_deg"])
    c, s = np.cos(turn), np.sin(turn)
    (x, y), (u, v) = finish["offset_mm"], finish["scale"]
    flat = np.array([[c / u, s / u, 0], [-s / v, c / v, 0], [0, 0, 1]])
    return flat @ np.array([[1, 0, -x], [0, 1, -y], [0, 0, 1]])


def test_a_preview_is_laid_as_the_corners_in_the_view_are(page):
    lay(page)
    laid = page.asking.st("F1").tobytes()
    page.edit(kind="turn_to", finishes=["F1"], turn_deg=70)
    page.edit(kind="scale", finishes=["F1"], scale=[2, 2])
    placed = {"turn_deg": 0, "offset_mm": [0, 0], "scale": [1, 1]}
    answer = page.client.post(f"{page.path}/preview/F1", json={"placed": placed})
    assert answer.data == laid


def test_other_rows_keep_their_layings_when_one_pick_changes(page):
    lay(page, {"faces": [0, 1, 2]})
    lay(page, {"faces": [3]}, "oak")
    lay(page, {"faces": [4]}, "oak")
    page.edit(kind="set_pick", finishes=["F2"], pick={"faces": [5]})
    assert names(page) == {"cover", "laying/F2"}


def test_layings_of_several_finishes_come_in_one_answer(page):
    lay(page)
    lay(page, {"faces": [0, 1]}, "oak")
    answer = page.client.post(f"{page.path}/layings", json={"finishes": ["F1", "F2"]})
    _, arrays = unpacked(answer.data)
    assert len(arrays) == 2
    for path, data in arrays.items():
        assert page.client.get(f"{page.path}/{path}").data == data.tobytes()
    refused = page.client.post(f"{page.path}/layings", json={"finishes": ["F9"]})
    assert refused.status_code == 404 and "F9" in refused.json["error"]


def test_figures_of_some_rows_alone(page):
    lay(page)
    lay(page, {"faces": [0, 1]}, "oak")
    every = page.client.get(f"{page.path}/figures").json
    assert page.client.get(f"{page.path}/figures?of=F2").json == {"F2": every["F2"]}


def test_text_is_sent_compressed_and_named_files_are_kept_for_good(page):
    lay(page)
    plain = page.client.get(page.path)
    for coding, unpack in (("gzip", gzip.decompress), ("br", brotli.decompress)):
        sent = page.client.get(page.path, headers={"Accept-Encoding": coding})
        assert sent.headers["Content-Encoding"] == coding and len(sent.data) < 0.6 * len(plain.data)
        assert json.loads(unpack(sent.data)) == plain.json
    path = f"{page.path}/laying/F1"
    answer = page.client.get(path, headers={"Accept-Encoding": "gzip"})
    assert "Content-Encoding" not in answer.headers
    again = page.client.get(path, headers={"If-None-Match": answer.headers["ETag"]})
    assert again.status_code == 304 and not again.data
    html = page.client.get("/").get_data(as_text=True)
    script = html.partition('src="/assets/')[2].partition('"')[0]
    kept = page.client.get(f"/assets/{script}", headers={"Accept-Encoding": "gzip"})
    assert "immutable" in kept.headers["Cache-Control"] and kept.headers["Content-Encoding"] == "gzip"
    assert len(kept.data) < 150_000, "the first screen loads quickly"
