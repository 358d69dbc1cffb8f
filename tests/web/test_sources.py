"""Source materials, the model's unit and place, views aside, and what a revision asks, over HTTP."""

import io
import threading
import zipfile
from dataclasses import replace

import numpy as np
import pytest

from pivrel.core.geometry.mesh import merged
from pivrel.formats.bundle import Upload
from pivrel.formats.reading import read_model
from pivrel.materials.images import decode
from pivrel.project import laid as project_laid
from pivrel.project.edits import base as edits_base
from pivrel.store import projects
from pivrel.store.documents import LibraryBody
from tests.conftest import Asking
from tests.formats.test_sources import obj_files, picture, png, written
from tests.shapes import cuboid
from tests.test_revision_pairs import WALLS, boxes
from tests.test_revision_pairs import obj_of as parts_of
from tests.web.test_imports import Importing, obj_of


@pytest.fixture
def textured(client, upload):
    """The boxes that trimesh wrote, opened as a project."""
    name, files = written("glb")
    state = Importing(client, upload, {name: files[name]}).open()
    return Asking(client, state["id"])


def test_the_check_and_the_state_tell_what_came(client, upload, textured):
    name, files = written("glb")
    checked = Importing(client, upload, {name: files[name]}).state()
    assert (checked["materials"], checked["images"], checked["uv_sets"]) == (3, 6, 1)
    sources = textured.state["model"]["sources"]
    assert [s["name"] for s in sources] == ["walnut", "glass", "leaf"]
    assert set(sources[0]["textures"]) == {
        "base_color",
        "normal",
        "metallic_roughness",
        "occlusion",
        "emissive",
    }
    listed = textured.client.get(f"{textured.path}/sources").json
    assert [s["faces"] for s in listed] == [12, 12, 12]
    assert listed[0]["repeat_mm"] == pytest.approx([500, 500], abs=0.01) and listed[1]["repeat_mm"] is None
    assert sum(s["area_m2"] for s in listed) == pytest.approx(textured.state["model"]["area_m2"])
    header, arrays = textured.packet("geometry")
    assert header["uv_sets"] == 1 and arrays["uv_0"].shape == (36 * 3 * 2,)
    assert sorted(np.bincount(arrays["face_source"]).tolist()) == [12, 12, 12]
    shown = textured.client.get(f"/api/images/{sources[0]['textures']['base_color']['image']}?size=64")
    assert shown.status_code == 200 and shown.mimetype == "image/jpeg"


def test_a_source_is_taken_with_an_estimated_size_and_undo_takes_it_back(textured):
    state = textured.edit(kind="take_source", source=0)
    assert "500 × 500 mm is an estimate" in state["said"]
    (key,) = state["materials"]
    material = state["materials"][key]
    assert material["repeat_mm"] == pytest.approx([500, 500], abs=0.01) and material["estimated"]
    assert set(material["images"]) == {"base_color", "normal", "roughness", "metallic", "occlusion"}
    with_factor = textured.client.get(f"/api/images/{material['images']['roughness']}").data
    green = np.asarray(picture(3))[..., 1]
    from pivrel.materials.images import Image

    assert np.abs(decode(Image(with_factor))[..., 0] * 255 - green * 0.65).max() <= 0.51
    state = textured.edit(kind="lay", material=key, pick={"sources": ["walnut"]}, projection={"kind": "box"})
    assert state["finishes"][0]["faces"] == 12
    state = textured.edit(kind="change_material", material=key, repeat_mm=["480", None])
    assert not state["materials"][key]["estimated"], "a size that somebody typed is no estimate"
    for _ in range(3):
        state = textured.step("undo")
    assert state["materials"] == {} and state["finishes"] == []
    plain = textured.edit(kind="take_source", source=1)
    assert "no image" in plain["said"] and next(iter(plain["materials"].values()))["repeat_mm"] == [
        1000,
        1000,
    ]
    refused = textured.client.post(
        f"{textured.path}/edits",
        json={"revision": plain["revision"], "edit": {"kind": "take_source", "source": 9}},
    )
    assert refused.status_code == 422 and "brought 3" in refused.json["error"]


def test_what_is_bare_is_handed_over_as_it_came_beside_what_is_laid(textured):
    textured.edit(kind="lay", material="brick", pick={"sources": ["glass"]}, projection={"kind": "box"})
    data = textured.client.get(f"{textured.path}/handover/glb").data
    back = read_model("a.glb", data, Upload({}))
    name, files = written("glb")
    came = read_model(name, files[name], Upload(files))
    assert {s.name for s in back.mesh.sources} == {"walnut", "leaf", "Brick"}
    kept = {i.data for i in back.images.values()}
    assert {i.data for i in came.images.values()} <= kept
    archive = textured.client.get(f"{textured.path}/handover/project").data
    assert {i.sha256 for i in came.images.values()} <= {
        n.removeprefix("blobs/") for n in zipfile.ZipFile(io.BytesIO(archive)).namelist()
    }


def test_an_obj_with_its_images_beside_it_shows_them(client, upload):
    """The same bytes come as a file and as an image: neither takes the other's kind."""
    state = Importing(client, upload, obj_files()).open(unit="m", up="z")
    (source,) = state["model"]["sources"]
    for texture in source["textures"].values():
        answer = client.get(f"/api/images/{texture['image']}")
        assert (answer.status_code, answer.mimetype) == (200, "image/png")
    assert client.get(f"/api/projects/{state['id']}/original/2").status_code == 200


def test_images_outlive_the_project_that_brought_them_where_others_use_them(client, upload, database):
    state = Importing(client, upload, obj_files()).open(unit="m", up="z")
    sha = state["model"]["sources"][0]["textures"]["base_color"]["image"]
    with database.transaction() as db:
        body = {
            "name": "Own",
            "repeat_mm": [100, 100],
            "grain_deg": None,
            "metallic": 0,
            "use": "x",
            "images": {"base_color": sha},
        }
        projects.put_library(db, "own", 9, LibraryBody.model_validate(body))
    assert client.delete(f"/api/projects/{state['id']}").status_code == 204
    assert client.get(f"/api/images/{sha}").data == png(picture(0))
    other = state["model"]["sources"][0]["textures"]["normal"]["image"]
    assert client.get(f"/api/images/{other}").status_code == 404, "what nobody uses goes"


def test_unit_axes_and_place_are_one_edit_that_moves_what_is_laid(client, upload, database):
    state = Importing(client, upload, {"cube.obj": obj_of(cuboid(1200, 800, 500), 1.0)}).open(
        unit="m", up="z"
    )
    asking = Asking(client, state["id"])
    assert asking.state["model"]["bounds_mm"][1] == [1200000, 800000, 500000]
    asking.edit(
        kind="lay",
        material="brick",
        pick={"facing": [0, 0, 1], "within_deg": 5},
        projection={"kind": "planar"},
    )
    asking.edit(
        kind="keep_view", name="v", position_mm=[0, -3e6, 0], target_mm=[0, 0, 0], up=[0, 0, 1], height_mm=2e6
    )
    before = asking.state
    after = asking.edit(kind="place_model", unit="mm", up="z", shift_mm=["1m", 0, "-0.25m"])
    assert after["model"]["bounds_mm"] == [[1000, 0, -250], [2200, 800, 250]]
    assert "read in mm now" in after["said"] and after["undo"] == "unit, axes and place of the model"
    (finish,) = after["finishes"]
    assert finish["faces"] == 1 and finish["datum"]["origin_mm"] == pytest.approx([1000, 0, 250])
    assert finish["repeat_mm"] == [900, 600], "materials keep their true size"
    (view,) = after["views"]
    assert view["position_mm"] == pytest.approx([1000, -3000, -250]) and view["height_mm"] == pytest.approx(
        2000
    )
    turned = asking.edit(kind="place_model", unit="mm", up="y", shift_mm=[0, 0, 0])
    assert turned["model"]["bounds_mm"] == [[0, -500, 0], [1200, 0, 800]]
    assert turned["finishes"][0]["faces"] == 1 and "to the front" in turned["finishes"][0]["pick_words"]
    asking.step("undo")
    back = asking.step("undo")
    assert back["model"]["bounds_mm"] == before["model"]["bounds_mm"]
    assert back["finishes"][0]["datum"] == before["finishes"][0]["datum"]
    far = {"kind": "place_model", "unit": "ft", "up": "z", "shift_mm": [1e11, 1e11, 1e11]}
    refused = asking.client.post(f"{asking.path}/edits", json={"revision": back["revision"], "edit": far})
    assert refused.status_code == 422 and "100,000 km" in refused.json["error"]


def test_a_newer_model_is_read_as_the_one_before_was_placed(client, upload):
    state = Importing(client, upload, written("glb")[1]).open()
    asking = Asking(client, state["id"])
    asking.edit(kind="place_model", unit="mm", up="y", shift_mm=[0, 0, 0])
    size = np.ptp(asking.state["model"]["bounds_mm"], axis=0)
    job = Importing(client, upload, written("glb")[1])
    job.state()
    answer = client.post(
        f"{asking.path}/model",
        json={"import_id": int(job.path.rsplit("/", 1)[1]), "revision": asking.state["revision"]},
    )
    assert answer.status_code == 200, answer.json
    np.testing.assert_allclose(np.ptp(answer.json["model"]["bounds_mm"], axis=0), size, rtol=1e-6)


def test_a_newer_file_in_another_unit_is_read_in_it(client, upload):
    state = Importing(client, upload, {"a.obj": obj_of(cuboid(1200, 800, 500), 1.0)}).open(unit="mm", up="z")
    asking = Asking(client, state["id"])
    asking.lay({"all": True})
    job = Importing(client, upload, {"a.obj": obj_of(cuboid(1200, 800, 500), 1000.0)})
    assert job.state(size_mm=1200, up="z")["unit"] == "m"
    number = int(job.path.rsplit("/", 1)[1])
    answer = client.post(
        f"{asking.path}/model", json={"import_id": number, "revision": 1, "unit": "mm", "up": "z"}
    )
    assert answer.json["model"]["unit"] == "m" and "in m" in answer.json["said"]
    assert answer.json["model"]["bounds_mm"][1] == pytest.approx([1200, 800, 500])
    assert answer.json["finishes"][0]["faces"] == 6


def test_what_a_finish_lost_is_asked_until_it_is_answered(client, upload):
    state = Importing(client, upload, {"a.obj": parts_of(boxes(WALLS))}).open(unit="mm", up="z")
    asking = Asking(client, state["id"])
    asking.lay({"parts": ["Wall *"]})
    job = Importing(client, upload, {"b.obj": parts_of(boxes([w for w in WALLS if w[0] != "Wall west"]))})
    job.state()
    number = int(job.path.rsplit("/", 1)[1])
    answer = client.post(
        f"{asking.path}/model", json={"import_id": number, "revision": 1, "unit": "mm", "up": "z"}
    )
    asking.state = answer.json
    items = client.get(f"{asking.path}/revision").json
    (gone,) = [i for i in items if i["what"] == "gone"]
    assert (gone["part"], gone["was"], gone["asks"], gone["open"]) == ("Wall west", "F1", True, True)
    asking.edit(kind="answer", item=items.index(gone))
    assert not any(i["open"] for i in client.get(f"{asking.path}/revision").json)
    asking.step("undo")
    assert sum(i["open"] for i in client.get(f"{asking.path}/revision").json) == 1, "undo asks it again"


VIEW = {"position_mm": [1, 2, 3], "target_mm": [0, 0, 0], "up": [0, 0, 1], "height_mm": None}


def test_undo_is_for_the_result_and_views_have_their_own_way_back(cube):
    cube.lay({"all": True})
    aside = cube.state["aside"]
    state = cube.edit(kind="keep_view", name="Front", **VIEW)
    cube.edit(kind="keep_pick", name="Top", pick={"faces": [1]})
    assert (state["revision"], state["undo"]) == (1, "lay Brick")
    assert cube.state["aside"] == aside + 2, "other pages hear of it all the same"
    state = cube.step("undo")
    assert state["finishes"] == [] and [v["name"] for v in state["views"]] == ["Front"]
    assert [p["name"] for p in state["pick_sets"]] == ["Top"]
    state = cube.edit(kind="forget", what="view", key=state["views"][0]["key"])
    assert state["views"] == []
    state = cube.edit(kind="take_back", what="view", key="V1")
    assert [v["name"] for v in state["views"]] == ["Front"]
    answer = cube.client.post(
        f"{cube.path}/edits", json={"revision": 0, "edit": {"kind": "take_back", "what": "view", "key": "V1"}}
    )
    assert (answer.status_code, answer.json["error"]) == (409, "there is nothing to take back")
    assert cube.step("redo")["finishes"]
    assert cube.client.get(f"{cube.path}/pulse").json == {
        "revision": cube.state["revision"],
        "aside": cube.state["aside"],
    }


def test_one_datum_for_each_board(cube):
    cube.lay({"all": True})
    state = cube.change(["F1"], datum_for="board")
    assert state["finishes"][0]["datum_for"] == "board"


def test_nothing_is_computed_while_the_write_lock_is_held(cube, database, monkeypatch):
    """A fit that takes its time, and another writer who does not wait for it."""
    fitting, written_meanwhile = threading.Event(), threading.Event()
    own = project_laid.fit_of

    def slow(*given):
        fitting.set()
        assert written_meanwhile.wait(20), "the other writer was kept waiting"
        return own(*given)

    monkeypatch.setattr(edits_base, "fit_of", slow)

    def writes():
        assert fitting.wait(20)
        with database.transaction() as db:
            projects.rename(db, 1, "renamed meanwhile")
        written_meanwhile.set()

    other = threading.Thread(target=writes)
    other.start()
    cube.lay({"all": True}, projection="planar")
    other.join()
    assert cube.state["name"] == "renamed meanwhile"


def test_what_does_not_exist_is_not_answered_with_a_page(client):
    for path in ("/api/nothing", "/api", "/api/projects/1/nothing", "/assets/nothing.js"):
        answer = client.get(path)
        assert answer.status_code == 404 and answer.is_json, path
    assert client.get("/projects/1").status_code == 200, (
        "a screen, which says itself that the project is not there"
    )
    nowhere = client.get("/nothing")
    assert nowhere.status_code == 404 and nowhere.mimetype == "text/html"


def test_a_browser_finds_the_icon_of_what_is_no_page(client):
    # HTML Standard, "rel=icon": where a document names none, /favicon.ico is asked for.
    icon = client.get("/favicon.ico")
    assert icon.status_code == 200 and icon.mimetype == "image/svg+xml"
    assert icon.data == client.get("/mark.svg").data


@pytest.mark.parametrize(
    "edit",
    [
        {"kind": "paint"},
        {"kind": "lay", "material": "brick", "pick": {"all": True}, "projection": {"kind": "spiral"}},
    ],
)
def test_unknown_edits_and_projections_are_refused(cube, edit):
    answer = cube.client.post(f"{cube.path}/edits", json={"revision": 0, "edit": edit})
    assert answer.status_code in (400, 422) and answer.json["error"]
    assert cube.client.get(cube.path).json["revision"] == 0


def test_what_is_laid_well_is_worth_no_line_but_for_its_seams(cube):
    """A box over all of a cube is true to scale; what it covers is told as covered, and as nothing else."""
    cube.lay({"all": True}, projection="planar")
    cube.lay({"all": True})
    told = cube.client.get(f"{cube.path}/handover").json["problems"]
    assert [(p["what"], p["finish"]) for p in told] == [("seams", "F2"), ("covered", "F1")]
    assert told[0]["amount"] == pytest.approx(10), (
        "all twelve edges but the two along which the courses run on"
    )


def test_hand_over_says_what_is_far_from_true_and_why_a_row_covers_nothing(cube, database):
    cube.lay({"all": True}, projection="planar")
    problems = {p["what"]: p for p in cube.client.get(f"{cube.path}/handover").json["problems"]}
    assert (
        problems["untrue"]["amount"] == pytest.approx(100 / 3)
        and "true to scale" in problems["untrue"]["text"]
    )
    picked = cube.pick(how="replace", figure={"figure": "untrue", "finish": "F1"})
    assert picked["faces"] == 4
    cube.lay({"all": True})
    cube.change(["F2"], pick={"parts": ["no such part"]})
    covered = [p for p in cube.client.get(f"{cube.path}/handover").json["problems"] if p["what"] == "covered"]
    assert ["its pick holds no face of this model" in p["text"] for p in covered] == [True]
    assert cube.state["finishes"][1]["held"] is False


def test_every_format_that_is_read_has_a_memory_factor():
    from pivrel.formats.registry import FORMATS
    from pivrel.jobs.memory import needed

    assert all(kind.bytes_a_byte for kind in FORMATS if kind.reader)
    assert needed("new.format", 1 << 20) > 0


def test_the_pictures_of_the_demo_are_there_from_the_start(filled):
    from pivrel.store.database import Database

    with Database(filled).reading() as db:
        rows = db.execute("SELECT project_id, revision, length(data) FROM project_picture").fetchall()
        assert {row[0] for row in rows} == {p.id for p in projects.get_all(db)}
        assert min(row[2] for row in rows) > 3000


def test_a_bottle_in_an_obj_is_read_as_a_bottle():
    from tests.shapes import revolved

    bottle = revolved([(0, 0), (36, 0), (36, 180), (14, 225), (14, 260), (0, 260)], 48).mesh
    imported = read_model("bottle.obj", obj_of(bottle), Upload({}))
    assert (imported.unit, imported.up) == ("mm", "z")
    assert "like a bottle" in imported.why and "stands along Z" in imported.why
    chair = [replace(cuboid(4, 4, 44), part_names=(f"Leg {k}",)) for k in range(4)]
    chair.append(replace(cuboid(45, 88, 45), part_names=("Back",)))
    assert read_model("chair.obj", parts_of(merged(chair)), Upload({})).unit == "cm"
    house = read_model("house.obj", obj_of(cuboid(12, 6, 9)), Upload({}))
    assert (house.unit, house.up) == ("m", "y") and "like a house" in house.why
    site = read_model("site.obj", obj_of(cuboid(180, 20, 120)), Upload({}))
    assert site.unit == "m", "as wide and low as a site"
