"""The library over HTTP: what comes in, what is refused, and what edits make of it."""

from __future__ import annotations

import json
import zipfile
from io import BytesIO

import MaterialX
import numpy as np
import pytest

from pivrel.materials.images import encode
from pivrel.store import blobs, projects
from tests.conftest import Asking, facts_of
from tests.shapes import cuboid


def png(width=60, height=40, value=0.5):
    return encode(np.full((height, width, 3), value)).data


def upload(client, files, status=201):
    data = {"files": [(BytesIO(content), name) for name, content in files.items()]}
    answer = client.post("/api/library", data=data, content_type="multipart/form-data")
    assert answer.status_code == status, answer.json
    return answer.json


@pytest.fixture
def asking(client, database):
    with database.transaction() as db:
        facts = facts_of("cube.obj", parts=1, triangles=12)
        project = projects.create(db, "Cube", blobs.put_mesh(db, cuboid(1777, 1234, 1500)), facts)
    return Asking(client, project)


def test_what_comes_with_pivrel_stays_as_it_is(client):
    answer = client.patch("/api/library/brick", json={"name": "Mine"})
    assert answer.status_code == 422 and "duplicate it" in answer.json["error"]
    assert client.delete("/api/library/brick").status_code == 422
    copy = client.post("/api/library/brick/duplicate").json
    assert copy["own"] and copy["name"] == "Brick, made up, copy"
    changed = client.patch(
        f"/api/library/{copy['key']}", json={"name": "Mine", "repeat_mm": ["1.8m", None]}
    ).json
    assert changed["name"] == "Mine" and changed["repeat_mm"] == [1800, 1200]
    assert client.get("/api/library").json[0]["name"] == "Brick, made up"


@pytest.mark.parametrize(
    ("files", "words"),
    [
        ({}, "no image was given"),
        ({"a_normal.png": png()}, "no image is the base color"),
        ({"a.png": b"\x89PNG\r\n\x1a\nbroken"}, "'a.png' cannot be read"),
        ({"a.zip": b"PK\x03\x04broken"}, "a.zip: the ZIP is broken"),
        ({"material.json": b"{", "a.png": png()}, "material.json: the JSON is broken"),
        ({"material.json": b'{"material": 2}'}, "this is not a material"),
        ({"material.json": b'{"material": 1, "name": "x"}'}, "repeat_mm: this key is missing"),
        (
            {
                "material.json": b'{"material": 1, "name": "x", "repeat_mm": [1, 1], "images": {"base_color": "../a"}}'
            },
            "'../a' of x is missing",
        ),
    ],
)
def test_bad_files_are_one_sentence_and_nothing_is_kept(client, files, words):
    before = len(client.get("/api/library").json)
    answer = upload(client, files, 422)
    assert words in answer["error"] and "\n" not in answer["error"]
    assert len(client.get("/api/library").json) == before


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"repeat_mm": ["0", None]}, "greater than 0"),
        ({"repeat_mm": ["banana", None]}, "banana"),
        ({"channels": {"height": "normal"}}, "no image for height"),
        ({"channels": {"base_color": None}}, "needs a base color"),
        ({"colour": "red"}, "colour: this key is not known"),
        ({"joints": {"unit_mm": [-1, None]}}, "greater than 0"),
        ({"grain_deg": "sideways"}, "sideways"),
    ],
)
def test_bad_changes_are_one_sentence(client, change, words):
    made = upload(client, {"wall_color.png": png()})
    answer = client.patch(f"/api/library/{made['key']}", json=change)
    assert answer.status_code in (400, 422) and words in answer.json["error"]


def test_a_file_goes_out_and_comes_in_the_same(client):
    made = upload(
        client, {"wall_color.png": png(), "wall_nor_dx.png": png(value=0.4), "wall_ao.png": png(value=0.9)}
    )
    joints = {"unit_mm": [225, 75], "width_mm": 10, "at_mm": [1, 2], "bond": 0.5}
    client.patch(
        f"/api/library/{made['key']}",
        json={"joints": joints, "half_turns": True, "metallic": 0.25, "grain_deg": 30},
    )
    data = client.get(f"/api/library/{made['key']}/file").data
    again = upload(client, {"wall.zip": data})
    first = next(m for m in client.get("/api/library").json if m["key"] == made["key"])
    for key in ("repeat_mm", "joints", "half_turns", "metallic", "grain_deg", "normal_y", "images"):
        assert again[key] == first[key], key
    manifest = json.loads(zipfile.ZipFile(BytesIO(data)).read("material.json"))
    assert manifest["normal_y"] == "-" and set(manifest["images"]) == {"base_color", "normal", "occlusion"}


def test_the_materialx_document_is_valid_and_true_to_size(client, tmp_path):
    """Held to the reference implementation's own library of nodes (MaterialX 1.39)."""
    made = upload(
        client,
        {"w_color.png": png(), "w_normal.png": png(), "w_rough.png": png(), "w_metal.png": png(value=1)},
    )
    client.patch(f"/api/library/{made['key']}", json={"repeat_mm": ["450", "300"]})
    archive = zipfile.ZipFile(BytesIO(client.get(f"/api/library/{made['key']}/materialx").data))
    archive.extractall(tmp_path)
    (path,) = tmp_path.glob("*.mtlx")
    library = MaterialX.createDocument()
    MaterialX.loadLibraries(
        MaterialX.getDefaultDataLibraryFolders(), MaterialX.getDefaultDataSearchPath(), library
    )
    document = MaterialX.createDocument()
    MaterialX.readFromXmlFile(document, str(path))
    document.setDataLibrary(library)
    valid, message = document.validate()
    assert valid, message
    images = [node for graph in document.getNodeGraphs() for node in graph.getNodes("tiledimage")]
    assert len(images) == 4
    for node in images:
        assert (tmp_path / node.getInputValue("file")).is_file()
        size, tile = node.getInputValue("realworldimagesize"), node.getInputValue("realworldtilesize")
        # One unit of texture coordinate is a metre, so the image repeats by its real size in it.
        assert [tile[k] / size[k] for k in (0, 1)] == pytest.approx([1 / 0.45, 1 / 0.3])
    assert {i.getName() for n in document.getNodes() for i in n.getInputs()} >= {
        "base_color", "specular_roughness", "metalness", "normal", "surfaceshader",
    }  # fmt: skip


def test_marks_size_a_material_of_a_project_and_undo_takes_it_back(asking):
    asking.lay({"all": True})
    marks = {"a": [0.1, 0.0], "b": [0.1, 0.5], "distance": "600", "way": "up"}
    state = asking.edit(kind="change_material", material="brick", marks=marks)
    assert state["materials"]["brick"]["repeat_mm"] == pytest.approx([1800, 1200])
    assert asking.step("undo")["materials"]["brick"]["repeat_mm"] == [900, 600]


def test_a_swap_on_all_uses_holds_grain_and_millimetres(asking):
    asking.lay({"faces": [0]}, "walnut")
    asking.lay({"faces": [1]}, "walnut")
    asking.change(["F2"], turn_deg=25)
    asking.lay({"faces": [2]}, "walnut", "triplanar")
    asking.change(
        ["F3"], options={"kind": "triplanar", "materials": {"x": "walnut", "y": None, "z": "brick"}}
    )
    before = {f["key"]: f["turn_deg"] + 90 for f in asking.state["finishes"]}
    state = asking.edit(kind="swap_material", material="walnut", to="oak")
    assert {f["material"] for f in state["finishes"]} == {"oak"}
    assert state["finishes"][2]["projection"]["materials"] == {"x": "oak", "y": None, "z": "brick"}
    for finish in state["finishes"]:
        assert (finish["turn_deg"] - before[finish["key"]]) % 180 == 0, "oak's grain runs along, walnut's up"
        assert finish["scale"] == [1, 1]
    there_and_back = asking.edit(kind="swap_material", material="oak", to="walnut")
    assert [f["turn_deg"] % 180 for f in there_and_back["finishes"]] == [0, 25, 0]


def test_one_adjustment_is_dropped_and_the_others_stay(asking):
    asking.lay({"all": True})
    adjusted = asking.edit(kind="balance", finish="F1")["finishes"][0]["adjust"]
    assert len(adjusted) > 2
    left = asking.edit(kind="drop_adjustment", finish="F1", row=1)["finishes"][0]["adjust"]
    assert left == adjusted[:1] + adjusted[2:]


def test_what_a_step_gives_up_of_a_setting_out_is_said_and_a_step_beside_it_says_nothing(asking):
    asking.lay({"all": True})
    asking.lay({"faces": [1]}, "oak")
    asking.edit(kind="balance", finish="F1")
    said = asking.edit(kind="turn_by", finishes=["F1"], turn_by=30)["said"]
    assert "Given up: " in said and "cuts of" in said and "no longer equal" in said
    asking.step("undo")
    assert asking.edit(kind="turn_by", finishes=["F2"], turn_by=30)["said"] is None


def test_edits_by_face_are_refused_in_one_sentence(asking):
    asking.lay({"faces": [2]})
    asking.lay({"faces": [4]}, projection="triplanar")

    place = [0, 0, 0]
    assert "has no finish" in asking.refused(kind="set_out", face=0, place=place, at="corner")
    assert "face 99 does not exist" in asking.refused(kind="set_out", face=99, place=place, at="corner")
    assert "has no finish" in asking.refused(kind="run_across", face=2, place=[800, 0, 0])
    assert "no adjustment 1" in asking.refused(kind="drop_adjustment", finish="F1", row=0)
    assert "triplanar blends" in asking.refused(kind="run_on", finishes=["F2"], run_on=True)
    assert "there is no material 'gold'" in asking.refused(kind="swap_material", material="brick", to="gold")
    assert "belongs to this finish" in asking.refused(kind="balance", finish="F1", pick={"faces": [0]})


def test_cuts_are_told_in_millimetres_of_face(asking):
    asking.client.post("/api/library/brick/duplicate")
    asking.client.patch(
        "/api/library/brick-made-up-copy", json={"joints": {"unit_mm": [150, 150], "width_mm": 3}}
    )
    asking.lay({"faces": [2]}, "brick-made-up-copy")
    assert asking.edit(kind="balance", finish="F1")["said"] == (
        "balanced by units of 150 × 150 mm: cuts of 137.0 mm at both ends, 10 whole between along, 10 whole up"
    )
    asking.change(["F1"], scale=[2, 2])
    # 1777 mm are five of 300 and two of 138.5 or, wider, four and two of 288.5, less half a joint of 6.
    assert asking.edit(kind="balance", finish="F1")["said"] == (
        "balanced by units of 300 × 300 mm: cuts of 285.5 mm at both ends, 4 whole between along, 5 whole up"
    )
    asking.change(["F1"], scale=[20, 20])
    assert (
        "one piece of 1777.0 mm along, one piece of 1500.0 mm up"
        in asking.edit(kind="balance", finish="F1")["said"]
    )


def test_the_tape_over_http(asking):
    asking.lay({"all": True}, "brick")
    ask = {"a": {"face": 2, "place": [100, 0, 100]}, "b": {"face": 2, "place": [1000, 0, 100]}}
    told = asking.client.post(f"{asking.path}/tape", json=ask).json
    assert told["length_mm"] == pytest.approx(900) and told["over_surface"]
    assert told["repeats"] == pytest.approx([1, 0]) and told["units"] == [None, None]
    ask["b"] = {"face": 77, "place": [0, 0, 0]}
    assert asking.client.post(f"{asking.path}/tape", json=ask).status_code == 404
