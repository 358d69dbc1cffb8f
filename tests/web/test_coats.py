"""Coats over HTTP: how they begin, change and go; what the view is given; what keeps them."""

import json
import zipfile
from io import BytesIO

import numpy as np
import pytest

from pivrel.core.geometry.surface import Surface
from pivrel.core.revision import Motion
from pivrel.project.placing import moved_contents
from pivrel.project.revision import revised
from pivrel.recipe import FinishModel, read_recipe
from pivrel.store import blobs, projects
from pivrel.store.documents import Contents, Document, MaterialBody
from tests.conftest import Asking
from tests.shapes import cuboid

ALL = {"all": True}
FADE = {"fade": {"from_mm": [0, 0, 100], "to_mm": [0, 0, 900], "ease": "linear"}}
LEAK = {"name": "Leak", "material": "oak", "projection": {"kind": "planar"}, "where": FADE, "strength": 0.5,
        "channels": {"base_color": "multiply"}}  # fmt: skip
STARTS = [
    "all over",
    "fade",
    "fade_round",
    "fade_about",
    "band",
    "facing",
    "seams",
    "edges",
    "strokes",
    "image",
    "noise",
]


@pytest.fixture
def wall(cube):
    cube.lay(ALL)
    return cube


def coats(wall):
    return wall.state["finishes"][0]["coats"]


@pytest.mark.parametrize("start", STARTS)
def test_every_coat_begins_on_the_faces_beneath_it_and_is_undone_as_one(wall, start):
    state = wall.edit(kind="add_coat", finish="F1", start=start)
    (coat,) = coats(wall)
    assert state["undo"] == f"coat {coat['name']} of {state['finishes'][0]['name']}"
    if start == "all over":
        assert coat["where"] is None
    else:
        assert list(coat["where"]) == [start]
    wall.edit(kind="add_coat", finish="F1", start=start)
    assert coats(wall)[1]["name"] == f"{coat['name']} 2"
    wall.step("undo")
    wall.step("undo")
    assert coats(wall) == []
    wall.step("redo")
    assert coats(wall) == [coat]


@pytest.mark.parametrize(("start", "at"), [("fade_round", "centre_mm"), ("fade_about", "origin_mm")])
def test_a_coat_round_a_place_begins_at_the_middle_of_what_it_lies_on(cube, start, at):
    cube.lay({"facing": [0, 0, 1], "within_deg": 5})
    cube.edit(kind="add_coat", finish="F1", start=start)
    assert coats(cube)[0]["where"][start][at] == [500, 500, 1000], "of the top"


def test_masks_are_put_together_as_the_coat_has_them(wall):
    wall.edit(kind="add_coat", finish="F1", start="fade")
    wall.edit(kind="add_mask", finish="F1", row=0, start="noise")
    where = coats(wall)[0]["where"]
    assert [list(mask) for mask in where["every"]] == [["fade"], ["noise"]]
    wall.edit(kind="set_coats", finishes=["F1"], coats=[{**coats(wall)[0], "where": {"any": where["every"]}}])
    wall.edit(kind="add_mask", finish="F1", row=0, start="edges")
    assert [list(mask) for mask in coats(wall)[0]["where"]["any"]] == [["fade"], ["noise"], ["edges"]]
    assert "no coat 2" in wall.refused(kind="add_mask", finish="F1", row=1, start="edges")


def test_a_coat_with_a_laying_of_its_own_is_fitted_and_sent_by_corner(wall):
    state = wall.edit(kind="set_coats", finishes=["F1"], coats=[LEAK])
    finish = state["finishes"][0]
    assert state["undo"] == f"coat Leak of {finish['name']}"
    assert "oak" in state["materials"] and coats(wall)[0]["datum"] is not None
    (over,) = finish["over"]
    path = f"{wall.path}/coats/F1/laying/0"
    sent = np.frombuffer(wall.client.get(f"{path}?key={over['laying_key']}").data, "<f4").reshape(-1, 2)
    assert len(sent) == len(wall.st("F1")) and (sent > -1e20).all()
    assert wall.client.get(f"{path}?key=older").status_code == 204
    assert wall.client.get(f"{wall.path}/coats/F1/laying/1").status_code == 404
    # A turn of the coat moves its corners, and no others.
    before = wall.st("F1")
    wall.edit(kind="set_coats", finishes=["F1"], coats=[{**coats(wall)[0], "turn_deg": 90}])
    after = np.frombuffer(wall.client.get(path).data, "<f4").reshape(-1, 2)
    np.testing.assert_allclose(after, np.stack([sent[:, 1], -sent[:, 0]], axis=1), atol=1e-3)
    np.testing.assert_array_equal(before, wall.st("F1"))
    assert wall.state["finishes"][0]["laying_key"] == finish["laying_key"]


def test_options_of_a_coats_projection_are_typed(wall):
    wall.edit(kind="set_coats", finishes=["F1"], coats=[{**LEAK, "projection": {"kind": "triplanar"}}])
    over = wall.state["finishes"][0]["over"][0]
    assert over["laying_key"] is None and over["datum"] == coats(wall)[0]["datum"]
    wall.edit(kind="set_coat_options", finish="F1", row=0, options={"kind": "triplanar", "blend": "40%"})
    assert coats(wall)[0]["projection"]["blend"] == pytest.approx(0.4)
    said = wall.refused(
        kind="set_coat_options", finish="F1", row=0, options={"kind": "planar", "backs": "through"}
    )
    assert "not laid by planar" in said


def test_lines_come_as_texels_that_a_shader_can_look_up(wall):
    seams = {"seams": {"within_mm": 40, "soft_mm": 20}}
    wall.edit(kind="set_coats", finishes=["F1"], coats=[{"name": "c", "tint": "#000000", "where": seams},
                                                        {"name": "d", "tint": "#000000", "where": seams}])  # fmt: skip
    key = wall.state["finishes"][0]["lines_key"]
    header, arrays = wall.packet(f"coats/F1/lines?key={key}")
    (grid,) = header["grids"]
    texels = arrays["texels"].reshape(-1, 4)
    i, j, k = grid["counts"]
    cells = texels[grid["cells"] : grid["cells"] + i * j * k, :2].astype(int)
    rows = texels[grid["rows"] : grid["lines"]].reshape(-1)
    lines = texels[grid["lines"] :].reshape(-1, 3, 4)
    assert cells[:, 1].sum() <= len(rows) and rows.max() == len(lines) - 1
    assert (lines[:, 0, 3] == 40).all() and grid["soft_mm"] == 20
    # Each line is named in the cell of its own middle.
    middle = lines[:, :2, :3].mean(axis=1)
    at = np.floor((middle - grid["origin"]) / grid["cell_mm"]).astype(int)
    for line, (x, y, z) in enumerate(at):
        first, count = cells[(z * j + y) * i + x]
        assert line in rows[first : first + count]
    assert wall.client.get(f"{wall.path}/coats/F1/lines?key=older").status_code == 204
    assert wall.edit(kind="set_coats", finishes=["F1"], coats=[])["finishes"][0]["lines_key"] is None


@pytest.mark.parametrize(
    "coat, said",
    [
        ({"name": "c", "projection": {"kind": "planar"}}, "nothing to lay"),
        ({"name": "c", "material": "oak", "datum": {"origin_mm": [0, 0, 0]}}, "measures from no datum"),
        ({"name": "c", "where": {"fade": {"from_mm": [1, 1, 1], "to_mm": [1, 1, 1]}}}, "two places"),
        ({"name": "c", "where": {"fade_round": {"centre_mm": [1, 1, 1], "radii_mm": [5, 5]}}}, "two distances"),
        ({"name": "c", "where": {"band": {"from_mm": 5, "to_mm": 1}}}, "from the lower place"),
        ({"name": "c", "where": {"facing": {"direction": [0, 0, 0], "within_deg": 9}}}, "must not be zero"),
        ({"name": "c", "where": {"moon": 1}}, "a mask needs one of the keys fade"),
        ({"name": "c", "tint": "red"}, "pattern"),
        ({"name": "c", "material": "oak", "cells": {"size_mm": 10, "width_mm": 9}}, "at most half"),
        ({"name": "c", "material": "granite"}, "no material 'granite'"),
    ],
)  # fmt: skip
def test_what_a_coat_cannot_be_is_told_in_a_sentence(wall, coat, said):
    assert said in wall.refused(kind="set_coats", finishes=["F1"], coats=[coat])
    assert coats(wall) == []


def test_a_finish_that_holds_nothing_or_has_enough_coats_takes_no_more(wall):
    wall.edit(
        kind="set_coats", finishes=["F1"], coats=[{"name": f"c{k}", "tint": "#ffffff"} for k in range(16)]
    )
    assert "16 coats already" in wall.refused(kind="add_coat", finish="F1", start="fade")
    wall.lay({"faces": [0]}, "oak")
    wall.edit(kind="set_pick", finishes=["F2"], pick={"faces": []})
    assert "lies on no face" in wall.refused(kind="add_coat", finish="F2", start="fade")


def test_swapping_a_material_swaps_it_in_coats_and_masks_too(wall):
    image = {"image": {"material": "oak", "channel": "height"}}
    wall.edit(kind="set_coats", finishes=["F1"], coats=[{**LEAK, "where": {"every": [image, {"not": FADE}]}}])
    wall.edit(kind="swap_material", material="oak", to="walnut")
    (coat,) = coats(wall)
    assert coat["material"] == "walnut" and coat["where"]["every"][0]["image"]["material"] == "walnut"


def test_a_recipe_and_an_archive_bring_coats_back(wall, client, upload):
    wall.edit(kind="set_coats", finishes=["F1"], coats=[LEAK])
    wall.edit(kind="set_tone", finishes=["F1"], tint="#d0c8b8")
    wall.edit(kind="set_cells", finishes=["F1"], cells={"size_mm": 300, "width_mm": 40})
    with zipfile.ZipFile(BytesIO(client.get(f"{wall.path}/handover/recipe").data)) as file:
        recipe = read_recipe(file.read("recipe.json"))
    (stated,) = recipe.finishes
    assert stated.model_dump(mode="json", by_alias=True)["coats"] == coats(wall)
    assert stated.tint == "#d0c8b8" and stated.cells.size_mm == 300 and "oak" in recipe.materials
    packed = client.get(f"{wall.path}/handover/project").data
    made = upload("/api/projects", {"wall.pivrel": packed})
    assert made.status_code == 201, made.json
    assert Asking(client, made.json["id"]).state["finishes"][0]["coats"] == coats(wall)


def test_files_say_what_they_leave_out_and_hold_the_tint(wall, client):
    wall.edit(
        kind="set_coats", finishes=["F1"], coats=[LEAK, {"name": "Off", "tint": "#000000", "on": False}]
    )
    wall.edit(kind="set_tone", finishes=["F1"], tint="#ff0000")
    wall.edit(kind="set_cells", finishes=["F1"], cells={"size_mm": 300})
    told = json.dumps(client.get(f"{wall.path}/handover").json)
    assert "its coat is not written" in told and "Leak" in told and "Off" not in told
    assert "random cells are written as one sheet" in told
    glb = client.get(f"{wall.path}/handover/glb").data
    document = json.loads(glb[20 : 20 + int.from_bytes(glb[12:16], "little")])
    assert document["materials"][0]["pbrMetallicRoughness"]["baseColorFactor"] == [1.0, 0.0, 0.0, 1.0]


def contents(**coat):
    stated = FinishModel.model_validate(
        {
            "name": "f",
            "material": "m",
            "pick": ALL,
            "projection": {"kind": "box"},
            "coats": [{"name": "c", **coat}],
        }
    )
    body = MaterialBody(name="m", repeat_mm=(100, 100), grain_deg=0, metallic=0, images={})
    return Contents({"F1": Document("F1", 0, stated)}, {"m": Document("m", 0, body)})


MOVED = Motion(2.0, np.array([[0.0, -1, 0], [1, 0, 0], [0, 0, 1]]), np.array([100.0, 0, 50]))


def test_masks_go_with_a_model_that_is_moved_and_larger():
    where = {"every": [
        FADE, {"fade_round": {"centre_mm": [10, 0, 0], "radii_mm": [5, 9]}},
        {"fade_about": {"origin_mm": [10, 0, 0], "axis": [1, 0, 0], "radii_mm": [5, 9]}},
        {"not": {"band": {"direction": [0, 0, 1], "from_mm": 10, "to_mm": 20, "soft_mm": 3}}},
        {"facing": {"direction": [1, 0, 0], "within_deg": 9}},
        {"strokes": {"lines": [{"points_mm": [[1, 2, 3]], "radius_mm": 4}], "soft_mm": 5}},
    ]}  # fmt: skip
    after = moved_contents(contents(where=where), MOVED)
    (coat,) = after.finishes["F1"].body.coats
    fade, ball, about, band, facing, strokes = coat.where.model_dump(mode="json", by_alias=True)["every"]
    assert fade["fade"]["from_mm"] == [100, 0, 250] and fade["fade"]["to_mm"] == [100, 0, 1850]
    assert ball["fade_round"] == {"centre_mm": [100, 20, 50], "radii_mm": [10, 18], "ease": "linear"}
    assert about["fade_about"]["axis"] == [0, 1, 0] and about["fade_about"]["radii_mm"] == [10, 18]
    assert band["not"]["band"] == {"direction": [0, 0, 1], "from_mm": 70, "to_mm": 90, "soft_mm": 6}
    assert facing["facing"]["direction"] == [0, 1, 0]
    assert strokes["strokes"] == {"lines": [{"points_mm": [[96, 2, 56]], "radius_mm": 8}], "soft_mm": 10}


def test_a_newer_model_takes_coats_along():
    old = Surface(cuboid(1000, 700, 1100))
    mesh = cuboid(1000, 700, 1100)
    moved = Surface(type(mesh)(**{**vars(mesh), "points": mesh.points + [0, 0, 500.0]}))
    found = revised(contents(where=FADE, tint="#808080"), old, moved)
    (coat,) = found.contents.finishes["F1"].body.coats
    assert coat.where.fade.from_mm == (0, 0, 600) and coat.where.fade.to_mm == (0, 0, 1400)
    assert coat.tint == "#808080"


def test_tones_and_spreads_are_edits_like_others(wall):
    wall.edit(kind="set_tone", finishes=["F1"], lightness=0.8, roughness=1.5)
    finish = wall.edit(kind="set_tone", finishes=["F1"], tint="#ffeedd")["finishes"][0]
    assert (finish["lightness"], finish["roughness"], finish["bump"], finish["tint"]) == (
        0.8,
        1.5,
        1,
        "#ffeedd",
    )
    assert wall.edit(kind="set_tone", finishes=["F1"], tint=None)["finishes"][0]["tint"] is None
    assert wall.state["finishes"][0]["lightness"] == 0.8 and wall.state["finishes"][0]["tones_key"] is None
    wall.edit(
        kind="set_toned", finishes=["F1"], toned=[{"pick": {"faces": [2]}, "lightness": 0.5, "bump": 0}]
    )
    (toned,) = wall.state["finishes"][0]["toned"]
    assert toned["words"] and toned["pick"] == {"faces": [2]}
    key = wall.state["finishes"][0]["tones_key"]
    tones = np.frombuffer(wall.client.get(f"{wall.path}/coats/F1/tones?key={key}").data, "<f4").reshape(-1, 5)
    assert (
        tones.shape == (6, 5)
        and tones[2].tolist() == [0.5, 0.5, 0.5, 1, 0]
        and (tones[[0, 1, 3, 4, 5]] == 1).all()
    )
    assert wall.client.get(f"{wall.path}/coats/F1/tones?key=older").status_code == 204
    finish = wall.edit(kind="set_spread", finishes=["F1"], spread={"by": "board", "lightness": 0.2})[
        "finishes"
    ][0]
    assert finish["spread"] == {"by": "board", "lightness": 0.2, "seed": 1} and finish["tones_key"] != key
    for _ in range(5):
        wall.step("undo")
    plain = wall.state["finishes"][0]
    assert (plain["lightness"], plain["spread"], plain["toned"], plain["tones_key"]) == (1, None, [], None)


def test_kept_coats_lie_over_another_finish_as_far_from_its_corner(cube, client, database):
    cube.lay({"faces": [0]})
    cube.lay({"faces": [1, 2, 3, 4, 5]}, material="oak")
    assert (
        client.post(f"{cube.path}/coats/F1/keep", json={"name": "Stains"}).json["error"]
        == "Brick has no coats to keep"
    )
    cube.edit(kind="add_coat", finish="F1", start="fade")
    cube.edit(kind="add_coat", finish="F1", start="seams")
    kept = client.post(f"{cube.path}/coats/F1/keep", json={"name": "Stains"})
    assert kept.json == [{"name": "Stains", "coats": [c["name"] for c in cube.state["finishes"][0]["coats"]]}]
    assert client.get("/api/coat-sets").json == kept.json
    # Over the finish that they came from they lie as they did.
    own = client.post(f"{cube.path}/coats/F1/kept", json={"name": "Stains"}).json["coats"]
    was = cube.state["finishes"][0]["coats"]
    assert own[0]["where"] == was[0]["where"]
    # Over another as far from the lower corner of its faces; undone in one step.
    low = {key: np.array(corner) for key, corner in lower_corners(database, cube).items()}
    other = client.post(f"{cube.path}/coats/F2/kept", json={"name": "Stains"}).json["coats"]
    for end in ("from_mm", "to_mm"):
        moved = np.subtract(other[0]["where"]["fade"][end], was[0]["where"]["fade"][end])
        np.testing.assert_allclose(moved, low["F2"] - low["F1"], atol=2e-3)
    cube.edit(kind="set_coats", finishes=["F2"], coats=other)
    assert [c["name"] for c in cube.state["finishes"][1]["coats"]] == kept.json[0]["coats"]
    assert client.post("/api/coat-sets/forget", json={"name": "Stains"}).json == []
    gone = client.post(f"{cube.path}/coats/F2/kept", json={"name": "Stains"})
    assert (gone.status_code, gone.json["error"]) == (404, "there are no coats kept as 'Stains'")


def lower_corners(database, cube):
    with database.reading() as db:
        surface = Surface(blobs.get_mesh(db, projects.get_all(db)[0].mesh))
    faces = {"F1": [0], "F2": [1, 2, 3, 4, 5]}
    return {key: surface.points_of(np.array(own, np.int32)).min(axis=0) for key, own in faces.items()}
