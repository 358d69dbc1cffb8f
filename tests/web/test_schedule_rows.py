"""Rows that are switched off and duplicated, what lies on a pick, the list of parts, and the sums of the schedule."""

import numpy as np
import pytest

from pivrel.core.geometry.mesh import merged
from pivrel.core.geometry.surface import Surface
from pivrel.core.picks import largest_patches
from pivrel.formats.bundle import Upload
from pivrel.formats.reading import read_model
from pivrel.store import blobs, projects
from tests.conftest import Asking, facts_of
from tests.formats import cad
from tests.shapes import cuboid
from tests.test_revision import box

ALL = {"all": True}


def test_a_row_that_is_off_shows_what_lies_beneath_and_comes_back(cube):
    cube.lay(ALL)
    cube.lay({"faces": [0, 1]}, material="oak")
    before = cube.packet("cover")[1]["base"].tolist()
    assert before == [1, 1, 0, 0, 0, 0]
    state = cube.edit(kind="switch", finishes=["F2"], on=False)
    assert cube.packet("cover")[1]["base"].tolist() == [0] * 6
    row = state["finishes"][1]
    assert (row["on"], row["faces"], row["held"], row["area_m2"]) == (False, 0, False, 0)
    assert state["undo"] == "switching of Oak"
    told = cube.client.get(f"{cube.path}/handover").json["problems"]
    assert [p["what"] for p in told if p["finish"] == "F2"] == ["off"]
    # Its own settings can be changed meanwhile, and are there when it comes back.
    cube.change(["F2"], turn_deg=30)
    cube.edit(kind="switch", finishes=["F2"], on=True)
    assert cube.packet("cover")[1]["base"].tolist() == before
    assert cube.state["finishes"][1]["turn_deg"] == 30


def test_a_duplicate_lies_in_the_row_below_on_the_same_faces(cube):
    cube.lay(ALL)
    cube.lay({"faces": [0]}, material="oak")
    cube.change(["F1"], turn_deg=45, offset_mm=[100, 20])
    state = cube.edit(kind="duplicate", finishes=["F1"])
    assert [f["key"] for f in state["finishes"]] == ["F1", "F3", "F2"]
    one, other = state["finishes"][:2]
    same = ("material", "pick_words", "turn_deg", "offset_mm", "scale", "datum", "projection")
    assert all(one[field] == other[field] for field in same) and one["name"] != other["name"]
    cube.step("undo")
    assert [f["key"] for f in cube.state["finishes"]] == ["F1", "F2"]


def test_a_pick_says_what_lies_on_it_the_largest_first(cube):
    cube.lay({"faces": [0, 1, 2]})
    cube.lay({"faces": [2]}, material="oak")
    picked = cube.pick(how="replace", pick={"faces": [0, 1, 2, 3]})
    assert next(one["finish"] for one in picked["lies"]) == "F1"
    assert {one["finish"]: one["faces"] for one in picked["lies"]} == {"F1": 2, "F2": 1, None: 1}
    assert sum(one["area_m2"] for one in picked["lies"]) == pytest.approx(picked["area_m2"])


def test_the_sums_of_the_schedule_are_those_of_its_rows_and_each_picks_its_faces(cube):
    cube.lay({"faces": [0, 1, 2]}, projection="planar")
    sums = cube.client.get(f"{cube.path}/totals").json
    figures = cube.client.get(f"{cube.path}/figures").json["F1"]
    assert (sums["finishes"], sums["bare_faces"]) == (1, 3)
    assert sums["area_m2"] + sums["bare_m2"] == pytest.approx(cube.state["model"]["area_m2"])
    for name in ("smeared_m2", "mirrored_m2", "seams_m"):
        assert sums[name] == pytest.approx(figures[name])
    for figure in ("covered", "smeared", "mirrored", "seams", "untrue"):
        of_all = cube.pick(how="replace", figure={"figure": figure})
        of_row = cube.pick(how="replace", figure={"figure": figure, "finish": "F1"})
        assert of_all["mask"] == of_row["mask"]


@pytest.fixture
def house(database, client):
    mesh = read_model("house.ifc", cad.ifc(), Upload({})).mesh
    with database.transaction() as db:
        project = projects.create(db, "House", blobs.put_mesh(db, mesh), facts_of("house.ifc"))
    return Asking(client, project)


def test_parts_are_listed_with_what_the_file_states_and_what_lies_on_them(house):
    parts = house.client.get(f"{house.path}/parts/part").json
    assert sum(p["faces"] for p in parts) == house.state["model"]["faces"]
    assert sum(p["area_m2"] for p in parts) == pytest.approx(house.state["model"]["area_m2"])
    for by in ("part", "element", "storey", "source"):
        for group in house.client.get(f"{house.path}/parts/{by}").json:
            picked = house.pick(how="replace", pick=group["pick"])
            assert (picked["faces"], picked["parts"]) == (group["faces"], group["parts"]), group["name"]
    first = parts[0]
    house.lay(first["pick"])
    again = house.client.get(f"{house.path}/parts/part").json
    assert [one["finish"] for one in again[0]["lies"]] == ["F1"] and again[1]["lies"][0]["finish"] is None
    assert house.client.get(f"{house.path}/parts/colour").status_code == 404


def standing(*walls):
    """Walls on a wide ground."""
    return merged([box("Ground", (20_000, 20_000, 100), (-10_000, -10_000, -100)), *walls])


def test_the_largest_patches_leave_the_ground_out(cube):
    wall = box("Wall", (6000, 300, 3000), (0, 0, 0))
    surface = Surface(standing(wall))
    faces = np.flatnonzero(np.isin(surface.patches(), largest_patches(surface)))
    up = surface.normals[faces, 2] > 0.9 * np.linalg.norm(surface.normals[faces], axis=1)
    on_ground = surface.mesh.face_part[faces] == 0
    assert not (up & on_ground).any()
    # A slab is no ground to anything: its own largest faces are what is meant.
    slab = Surface(cuboid(1000, 1000, 100))
    assert np.isin(slab.patches(), largest_patches(slab)).sum() >= 1
    assert cube.pick(how="largest")["faces"] >= 1


def test_the_opening_view_frames_what_carries_finishes_or_all_but_the_ground(database, client):
    mesh = standing(box("Wall", (6000, 300, 3000), (0, 0, 0)), box("Peg", (50, 50, 50), (3000, -500, 0)))
    with database.transaction() as db:
        number = projects.create(db, "Walls", blobs.put_mesh(db, mesh), facts_of("walls.obj"))
    project = Asking(client, number)
    framed = lambda: project.client.get(f"{project.path}/framed").json["parts"]  # noqa: E731
    assert framed() == [1, 2]
    project.lay({"parts": ["Peg"]})
    assert framed() == [1, 2], "a peg alone is not what matters"
    project.lay({"parts": ["Wall"]})
    assert framed() == [1, 2]


def test_a_kept_view_keeps_its_light(cube):
    light = {"sun_deg": 120.0, "up_deg": 30.0, "overcast": False}
    view = {"position_mm": [1, 2, 3], "target_mm": [0, 0, 0], "up": [0, 0, 1], "height_mm": None}
    state = cube.edit(kind="keep_view", name="Noon", light=light, **view)
    assert state["views"][0]["light"] == light
    low = {"kind": "keep_view", "name": "Low", "light": {**light, "up_deg": 0}, **view}
    answer = cube.client.post(f"{cube.path}/edits", json={"revision": state["revision"], "edit": low})
    assert answer.status_code in (400, 422)
