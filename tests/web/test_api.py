"""The web API: edits, picks, arrays, hand-over, and how errors are told."""

import base64
import json
import struct
import zipfile
from io import BytesIO

import numpy as np
import pytest

from pivrel.formats.bundle import Upload
from pivrel.formats.reading import read_model
from pivrel.recipe import read_recipe
from tests.edits import one_edit

ALL = {"all": True}


def test_lay_turn_undo_redo(cube):
    cube.lay(ALL)
    before = cube.st("F1").copy()
    cube.change(["F1"], turn_by=90)
    turned = cube.st("F1")
    np.testing.assert_array_equal(turned[:, 0], before[:, 1])
    np.testing.assert_array_equal(turned[:, 1], -before[:, 0])
    assert cube.state["undo"] == "turn of Brick"
    cube.step("undo")
    np.testing.assert_array_equal(cube.st("F1"), before)
    cube.step("redo")
    assert cube.state["finishes"][0]["turn_deg"] == 90
    for _ in range(3):
        cube.change(["F1"], turn_by=90)
    np.testing.assert_array_equal(cube.st("F1"), before)


def test_numbers_are_read_as_typed(cube):
    cube.lay(ALL)
    finish = cube.change(["F1"], offset_mm=["450/2", None], repeat_mm=["1.8m", None])["finishes"][0]
    assert (finish["offset_mm"], finish["scale"], finish["repeat_mm"]) == ([225, 0], [2, 2], [1800, 1200])
    finish = cube.change(["F1"], repeat_mm=["900", None], linked=False, turn_deg="1/4turn")["finishes"][0]
    assert (finish["repeat_mm"], finish["turn_deg"]) == ([900, 1200], 90)
    for wrong, word in (
        ({"offset_mm": ["2q", None]}, "2q"),
        ({"scale": ["0", None]}, "must not be zero"),
        ({"repeat_mm": ["0", None]}, "greater"),
    ):
        answer = cube.client.post(
            f"{cube.path}/edits",
            json={
                "revision": cube.state["revision"],
                "edit": one_edit(["F1"], **wrong),
            },
        )
        assert answer.status_code == 400 and word in answer.json["error"], answer.json
    assert cube.client.get(cube.path).json["revision"] == cube.state["revision"]


def test_several_rows_are_edited_together(cube):
    cube.lay({"faces": [0]})
    cube.lay({"faces": [1]})
    state = cube.change(["F1", "F2"], turn_by=45, offset_mm=[10, None])
    assert [f["turn_deg"] for f in state["finishes"]] == [45, 45]
    assert [f["offset_mm"] for f in state["finishes"]] == [[10, 0], [10, 0]]
    for _ in range(2):
        cube.step("undo")
    assert [f["name"] for f in cube.state["finishes"]] == ["Brick", "Brick 2"]
    assert [f["turn_deg"] for f in cube.state["finishes"]] == [0, 0]


def test_the_material_carries_its_repeat_and_grain(cube):
    cube.lay(ALL)
    key = cube.state["finishes"][0]["laying_key"]
    state = cube.edit(kind="change_material", material="brick", repeat_mm=["450", None])
    assert state["finishes"][0]["repeat_mm"] == [450, 300]
    assert state["finishes"][0]["laying_key"] == key, "millimetres do not move when the repeat changes"
    cube.change(["F1"], grain_deg=30)
    assert cube.change(["F1"], material="walnut")["finishes"][0]["turn_deg"] == -60


def test_order_cover_and_removal(cube):
    cube.lay(ALL)
    cube.lay({"facing": [0, 0, 1], "within_deg": 10}, "oak")
    cover = lambda: cube.packet("cover")[1]["base"].tolist()  # noqa: E731
    assert cover() == [0, 1, 0, 0, 0, 0]
    assert cube.edit(kind="move", finish="F1", to=1)["finishes"][0]["faces"] == 0
    assert cover() == [1, 1, 1, 1, 1, 1]
    cube.edit(kind="remove", finishes=["F1"])
    assert cover() == [-1, 0, -1, -1, -1, -1]
    assert cube.state["bare"] == {"faces": 5, "area_m2": pytest.approx(5)}


def test_rows_of_one_pick_that_change_places_are_laid_and_measured_anew(cube):
    cube.lay(ALL, "brick", "planar")
    cube.lay(ALL, "brick", "planar")

    def told():
        figures = cube.client.get(f"{cube.path}/figures").json
        true = cube.packet("looks/stretch")[1]["kind"].tolist()
        return [
            (len(cube.st(f["key"])), figures[f["key"]]["true_share"]) for f in cube.state["finishes"]
        ], true

    before = told()
    cube.edit(kind="move", finish="F1", to=1)
    assert [f["key"] for f in cube.state["finishes"]] == ["F2", "F1"]
    assert told() == before


def test_changing_the_projection_fits_it_anew(cube):
    cube.lay({"faces": [4]})
    planar = cube.change(["F1"], projection={"kind": "planar"})["finishes"][0]
    assert planar["datum"]["z_axis"] == [1, 0, 0]
    moved = {**planar["datum"], "origin_mm": ["1m", "2'", 0]}
    assert cube.change(["F1"], datum=moved)["finishes"][0]["datum"]["origin_mm"] == [
        1000,
        609.6,
        0,
    ]
    assert cube.change(["F1"], fit={})["finishes"][0]["datum"] == planar["datum"]


def test_an_outdated_edit_is_refused(cube):
    cube.lay(ALL)
    late = {"revision": 0, "edit": {"kind": "remove", "finishes": ["F1"]}}
    answer = cube.client.post(f"{cube.path}/edits", json=late)
    assert answer.status_code == 409
    assert "lay Brick" in answer.json["error"] and answer.json["since"] == ["lay Brick"]
    stale = cube.client.get(f"{cube.path}/laying/F1?key=older")
    assert (stale.status_code, stale.data) == (204, b"")


@pytest.mark.parametrize(
    "edit, word",
    [
        (
            {"kind": "lay", "material": "brick", "pick": {"faces": []}, "projection": {"kind": "box"}},
            "pick is empty",
        ),
        ({"kind": "lay", "material": "jelly", "pick": ALL, "projection": {"kind": "box"}}, "jelly"),
        (
            {"kind": "lay", "material": "brick", "pick": {"faces": [77]}, "projection": {"kind": "box"}},
            "face 77",
        ),
        (
            {"kind": "lay", "material": "brick", "pick": {"some": 1}, "projection": {"kind": "box"}},
            "a pick needs one",
        ),
        ({"kind": "lay", "material": "brick", "pick": ALL, "projection": {"kind": "cone"}}, "projection"),
        ({"kind": "remove", "finishes": ["F9"]}, "F9"),
        ({"kind": "turn_by", "finishes": ["F9"], "turn_by": 1}, "F9"),
        ({"kind": "turn_by", "finishes": ["F9"], "turn_by": 1, "colour": 1}, "not known"),
        ({"kind": "dance"}, "kind"),
    ],
)
def test_edits_that_cannot_be(cube, edit, word):
    answer = cube.client.post(f"{cube.path}/edits", json={"revision": 0, "edit": edit})
    assert answer.status_code in (400, 422)
    assert word in answer.json["error"], answer.json
    assert cube.client.get(cube.path).json["revision"] == 0


def test_picking_by_click_and_by_word(cube):
    clicked = lambda face, level="patch", crease=30: {"face": face, "level": level, "crease_deg": crease}  # noqa: E731
    one = cube.pick(how="replace", clicked=clicked(3))
    assert (one["pick"], one["faces"], one["words"]) == ({"patches": [3]}, 1, "1 patch")
    two = cube.pick(base=one["pick"], how="add", clicked=clicked(1))
    assert two["pick"] == {"patches": [1, 3]}
    assert two["area_m2"] == pytest.approx(2)
    bits = np.unpackbits(np.frombuffer(base64.b64decode(two["mask"]), np.uint8), bitorder="little")
    assert np.flatnonzero(bits).tolist() == [1, 3]
    assert cube.pick(base=two["pick"], how="remove", clicked=clicked(3))["pick"] == {"patches": [1]}
    assert cube.pick(base=two["pick"], how="invert")["faces"] == 4
    assert cube.pick(base=one["pick"], how="grow")["faces"] == 5
    assert cube.pick(how="all")["words"] == "everything"
    assert cube.pick(base=two["pick"], how="none")["faces"] == 0
    assert cube.pick(how="replace", clicked=clicked(0, "part"))["pick"] == {"parts": ["part"]}
    # At another crease the ids of a rule would mean other patches, so the faces are named.
    assert cube.pick(how="replace", clicked=clicked(0, "patch", 91))["pick"] == {"faces": [0, 1, 2, 3, 4, 5]}


def test_figures_lead_to_the_faces_behind_them(cube):
    cube.lay({"faces": [1, 2, 3, 4]}, projection="planar")
    cube.change(
        ["F1"],
        datum={"origin_mm": [0, 0, 0], "x_axis": [1, 0, 0], "z_axis": [0, 0, 1]},
    )
    figures = cube.client.get(f"{cube.path}/figures").json["F1"]
    assert figures["smeared_m2"] == pytest.approx(3)
    assert figures["true_share"] == pytest.approx(0.25)
    assert cube.pick(how="replace", figure={"figure": "smeared", "finish": "F1"})["pick"] == {
        "faces": [2, 3, 4]
    }
    assert cube.pick(how="replace", figure={"figure": "bare"})["pick"] == {"faces": [0, 5]}
    assert cube.pick(how="replace", figure={"figure": "covered", "finish": "F1"})["faces"] == 4
    problems = cube.client.get(f"{cube.path}/handover").json["problems"]
    assert [p["what"] for p in problems][:2] == ["bare", "smeared"]


def test_the_geometry_packet(cube):
    data = cube.client.get(f"{cube.path}/geometry").data
    (size,) = struct.unpack_from("<I", data)
    header = json.loads(data[4 : 4 + size])

    def array(name):
        place = header["arrays"][name]
        return np.frombuffer(
            data, np.dtype(place["type"]).newbyteorder("<"), place["length"], 4 + size + place["at"]
        )

    assert array("position").reshape(-1, 3).max() == 1000
    assert (len(array("index")), array("triangle_face")[-1], len(array("lines"))) == (36, 5, 12 * 6)
    assert all(place["at"] % 4 == 0 for place in header["arrays"].values())


def test_handover_files(cube):
    cube.lay(ALL)
    glb = cube.client.get(f"{cube.path}/handover/glb")
    assert read_model("cube.glb", glb.data, Upload({})).mesh.face_count == 12
    assert glb.headers["Content-Disposition"] == "attachment; filename=cube.glb"
    with zipfile.ZipFile(BytesIO(cube.client.get(f"{cube.path}/handover/obj").data)) as archive:
        files = {name: archive.read(name) for name in archive.namelist()}
    assert read_model("cube.obj", files["cube.obj"], Upload(files), "m", "y").mesh.face_count == 6
    with zipfile.ZipFile(BytesIO(cube.client.get(f"{cube.path}/handover/recipe").data)) as archive:
        recipe = read_recipe(archive.read("recipe.json"))
        assert set(archive.namelist()) == {"recipe.json", *recipe.materials["brick"].images.values()}
    assert cube.client.get(f"{cube.path}/handover/doc").status_code == 404


def test_pictures_library_images_and_unknown_addresses(cube, client):
    cube.lay(ALL)
    assert cube.client.get(f"{cube.path}/picture.jpg").data[:2] == b"\xff\xd8"
    brick = client.get("/api/library").json[0]
    assert client.get(f"/api/images/{brick['images']['base_color']}?size=64").mimetype == "image/jpeg"
    assert client.get("/api/checker/200.0.png").data[:4] == b"\x89PNG"
    for path in (
        "/api/projects/99",
        "/api/images/none",
        "/api/nothing",
        "/api/checker/x.png",
        f"{cube.path}/laying/F9",
    ):
        answer = client.get(path)
        assert answer.status_code in (200, 404)
        assert path == "/api/nothing" or "error" in answer.json
    assert client.post("/api/quantity", json={"text": "2*15", "kind": "angle"}).json == {"value": 30}


def test_rename_and_delete(cube, client):
    assert client.patch(cube.path, json={"name": "Kiosk"}).json["name"] == "Kiosk"
    assert client.patch(cube.path, json={"name": ""}).status_code in (400, 422)
    assert client.delete(cube.path).status_code == 204
    assert client.get(cube.path).status_code == 404


def test_a_row_is_renamed_its_grain_follows_the_sheet_again_and_what_does_not_fit_is_refused(cube):
    cube.lay({"all": True})
    assert cube.edit(kind="rename", finishes=["F1"], name="Plinth")["finishes"][0]["name"] == "Plinth"
    cube.edit(kind="follow_grain", finishes=["F1"], grain={"along": "length"})
    assert (
        cube.edit(kind="follow_grain", finishes=["F1"], grain={"along": "sheet"})["finishes"][0]["grain"][
            "along"
        ]
        == "sheet"
    )
    options = {"kind": "flow", "shift": 1}
    assert "laid by box" in cube.refused(kind="set_options", finishes=["F1"], options=options)
    assert "has not taken the place of another" in cube.refused(kind="answer", item=0)
    cube.edit(kind="add_coat", finish="F1", start="all over")
    cube.edit(kind="add_mask", finish="F1", row=0, start="noise")
    assert list(cube.state["finishes"][0]["coats"][0]["where"]) == ["noise"], (
        "alone, where there was none before"
    )
