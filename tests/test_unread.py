"""What another version kept and this one does not take: its row is told of and lies bare, and nothing of it is lost."""

import json

import pytest
from pydantic import ValidationError

from pivrel.recipe import FinishModel
from pivrel.store.documents import DOCUMENTS, LibraryBody, stored_document
from pivrel.store.stored import stored
from pivrel.web.routes import baking
from tests.test_failing_rows import everything_answers, row

FAR = 1 << 70
PLAIN = {"name": "Brick", "material": "brick", "pick": {"all": True}, "projection": {"kind": "box"}}


@pytest.mark.parametrize(
    ("more", "left", "told"),
    [
        ({"variation": {"by": "patch", "seed": FAR}}, {"variation": {"by": "patch"}}, "variation.seed"),
        ({"tie": [{"sheet_mm": [0, 0], "at_mm": [0, 0, 1e300]}]}, {}, "tie.0.at_mm.2"),
        ({"offset_mm": [1e300, 2]}, {}, "offset_mm.0"),
        ({"run_on": "perhaps", "unheard_of": 3, "tile": False}, {"tile": False}, "run_on"),
        (
            {"projection": {"kind": "box", "unheard_of": [1]}, "turn_deg": 7.0},
            {"turn_deg": 7.0},
            "unheard_of",
        ),
        ({"turn_deg": 1.0, "grain_deg": 2.0}, {"turn_deg": 1.0}, FinishModel.BOTH),
        ({"name": "a\nb"}, {"name": "a b"}, ""),
    ],
)
def test_as_little_as_serves_is_left_out(more, left, told):
    given = {**PLAIN, **more}
    before = json.dumps(given)
    body, words = stored(FinishModel, given, DOCUMENTS["finish"].needed)
    assert body == FinishModel.model_validate({**PLAIN, **left})
    assert words.find(told) >= 0 and bool(words) == bool(told)
    assert json.dumps(given) == before, "what is kept stays"


@pytest.mark.parametrize("kind", DOCUMENTS)
def test_something_stands_for_what_cannot_be_read_at_all(kind):
    document = stored_document(kind, "K", 3, {"name": 7, "unheard_of": 1})
    assert document.unread and document.fields == {"name": 7, "unheard_of": 1}
    assert document.body == DOCUMENTS[kind].body.model_validate(DOCUMENTS[kind].needed)


def test_nothing_stands_for_what_has_no_stand_in():
    with pytest.raises(ValidationError):
        stored(LibraryBody, {"name": "a"})


class Kept:
    """What is kept of the documents of a project, put there past all checks."""

    def __init__(self, database):
        self.database = database

    def text(self, kind, key):
        with self.database.reading() as db:
            return db.execute("SELECT body FROM document WHERE kind = ? AND key = ?", (kind, key)).fetchone()[
                0
            ]

    def put(self, kind, key, **fields):
        text = json.dumps(json.loads(self.text(kind, key)) | fields)
        with self.database.transaction() as db:
            db.execute("UPDATE document SET body = ? WHERE kind = ? AND key = ?", (text, kind, key))
            # So that it is read anew.
            db.execute("UPDATE project SET aside = aside + 1")


@pytest.fixture
def kept(cube, client):
    """A project with rows, a kept pick and a view."""
    cube.lay({"all": True})
    cube.lay({"faces": [1]}, "oak")
    cube.lay({"faces": [2]}, "walnut")
    cube.edit(kind="keep_pick", name="One", pick={"faces": [1]})
    cube.edit(kind="keep_view", name="View", position_mm=[0, -5000, 0], target_mm=[0, 0, 0], up=[0, 0, 1], height_mm=None)  # fmt: skip
    return Kept(client.application.extensions["pivrel"].database)


def test_a_row_that_is_not_read_whole_lies_bare_and_says_so(cube, kept):
    kept.put("finish", "F2", variation={"by": "patch", "seed": FAR})
    everything_answers(cube)
    found = row(cube, "F2")
    assert "variation.seed" in found["troubles"] and "another version of Pivrel" in found["troubles"]
    assert found["faces"] == 0 and row(cube, "F1")["faces"] == 5
    # The others are edited, and rows change places; it stays as it was kept.
    cube.change(["F1"], turn_deg=30.0)
    cube.step("undo")
    cube.edit(kind="move", finish="F2", to=0)
    cube.step("undo")
    assert json.loads(kept.text("finish", "F2"))["variation"]["seed"] == FAR
    assert row(cube, "F2")["troubles"] == found["troubles"]
    # What is changed of it leaves that out; undo brings it back, as it was.
    cube.change(["F2"], turn_deg=15.0)
    assert row(cube, "F2")["troubles"] == "" and row(cube, "F2")["faces"] == 1
    cube.step("undo")
    assert json.loads(kept.text("finish", "F2"))["variation"]["seed"] == FAR
    assert row(cube, "F2")["faces"] == 0
    everything_answers(cube)


def test_a_material_that_is_not_read_whole_leaves_its_rows_bare(cube, kept):
    kept.put("material", "oak", avoid_mm=[[0, 0, 1e300, 1]])
    everything_answers(cube)
    assert "avoid_mm" in row(cube, "F2")["troubles"] and row(cube, "F1")["troubles"] == ""
    cube.edit(kind="change_material", material="oak", repeat_mm=[900, 600])
    assert row(cube, "F2")["troubles"] == ""


def test_kept_picks_and_views_are_there_as_far_as_they_are_read(cube, kept, client):
    kept.put("pick_set", "P1", pick={"faces": [1 << 40]})
    kept.put("view", "V1", position_mm=[1e300, 0, 0], clip={"axis": "w"})
    everything_answers(cube)
    state = client.get(cube.path).json
    assert [p["name"] for p in state["pick_sets"]] == ["One"]
    assert [v["name"] for v in state["views"]] == ["View"]


def test_a_material_of_the_library_that_is_not_read_whole_is_there(client, cube):
    database = client.application.extensions["pivrel"].database
    with database.transaction() as db:
        (body,) = db.execute("SELECT body FROM library_material WHERE key = 'oak'").fetchone()
        db.execute(
            "UPDATE library_material SET body = ? WHERE key = 'oak'",
            (json.dumps(json.loads(body) | {"use": "u" * 500, "metallic": "much"}),),
        )
    answer = client.get("/api/library")
    assert answer.status_code == 200 and "oak" in {m["key"] for m in answer.json}


@pytest.mark.parametrize("kind, key", [("finish", "F2"), ("material", "oak")])
def test_a_recipe_and_a_bake_state_the_other_rows_and_mean_the_same_ones(cube, kept, monkeypatch, kind, key):
    broken = (
        {"variation": {"by": "patch", "seed": FAR}} if kind == "finish" else {"avoid_mm": [[0, 0, 1e300, 1]]}
    )
    kept.put(kind, key, **broken)
    begun = []
    monkeypatch.setattr(baking, "Bake", lambda request, files: begun.append((request, files)) or OSError)
    monkeypatch.setattr(type(cube.client.application.extensions["pivrel"].bakes), "add", lambda *_: 1)
    asked = {"px_per_m": 100.0, "size": 512}
    answer = cube.client.post(f"{cube.path}/bakes", json={**asked, "finishes": ["F3"]})
    assert answer.status_code == 202, answer.json
    ((request, files),) = begun
    stated = json.loads(files["recipe.json"])["finishes"]
    assert [row["material"] for row in stated] == ["brick", "walnut"]
    assert request.asked.finishes == ("1",), "walnut, and not the row that stood there"
    refused = cube.client.post(f"{cube.path}/bakes", json={**asked, "finishes": ["F2"]})
    assert "F2" in refused.json["error"]
