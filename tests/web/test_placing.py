"""Placing over HTTP: fits, seams, flips, copies, previews, looks and trials."""

import numpy as np
import pytest

from pivrel.core import projection
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import lay, settle
from pivrel.core.laying.finish import Finish
from pivrel.core.picks import All
from pivrel.core.projection import Cylindrical
from pivrel.core.sheet import Material
from pivrel.recipe.datums import DatumModel
from pivrel.store import blobs, projects
from tests.conftest import Asking, facts_of
from tests.edits import one_edit
from tests.shapes import column, mesh_of

ALL = {"all": True}


@pytest.fixture
def post(database, client):
    """Two columns as parts of one model."""
    a, b = column(24, 200, 900), column(24, 90, 500)
    faces = [m.corners[i:j] + (0 if m is a else 48) for m in (a, b)
             for i, j in zip(m.face_start[:-1], m.face_start[1:], strict=True)]  # fmt: skip
    mesh = mesh_of(
        np.concatenate([a.points, b.points + (1000, 0, 0)]), faces, ("A", "B"), [0] * 26 + [1] * 26
    )
    with database.transaction() as db:
        facts = facts_of("posts.obj", parts=2, triangles=1)
        project = projects.create(db, "posts", blobs.put_mesh(db, mesh), facts)
    return Asking(client, project)


def change(asking, **what):
    return asking.change(["F1"], **what)["finishes"][0]


def test_a_preview_is_the_laying_that_an_edit_would_keep(post):
    post.edit(kind="lay", material="brick", pick={"parts": ["A"]}, projection={"kind": "cylindrical"})
    datum = {"origin_mm": [5, -7, 30], "x_axis": [0.5, 1, 0], "z_axis": [0.02, 0, 1]}
    projection = {
        "kind": "cylindrical",
        "radius_mm": 210,
        "caps": True,
        "cap_angle_deg": 45,
        "whole_repeats": True,
    }
    before = post.st("F1").copy()
    answer = post.client.post(f"{post.path}/preview/F1", json={"datum": datum, "projection": projection})
    preview = np.frombuffer(answer.data, "<f4").reshape(-1, 2)
    assert (post.st("F1") == before).all(), "nothing is kept"
    change(post, datum=datum, projection=projection)
    assert post.st("F1").tobytes() == preview.tobytes()
    mesh = column(24, 200, 900)
    finish = Finish("f", Material("brick", (900, 600)), All(), Cylindrical(210, whole_repeats=True),
                    DatumModel.model_validate(datum).to_core())  # fmt: skip
    surface = Surface(mesh)
    core = lay(surface, finish, np.arange(26, dtype=np.int32), settle(surface, finish), np.float32)
    assert core.tobytes() == preview.tobytes(), "the core's own, bit for bit"
    assert post.client.post(f"{post.path}/preview/F9", json={}).status_code == 404
    bad = post.client.post(f"{post.path}/preview/F1", json={"datum": {**datum, "z_axis": [0, 0, 0]}})
    assert bad.status_code in (400, 422) and "zero" in bad.json["error"]


def test_datums_are_fitted_for_the_pick_or_for_each_part(post):
    finish = post.edit(kind="lay", material="brick", pick=ALL, projection={"kind": "cylindrical"})[
        "finishes"
    ][0]
    assert finish["datum_for"] == "pick" and finish["datum"] is not None
    each = change(post, datum_for="part")
    assert each["datum"] is None
    figures = post.client.get(f"{post.path}/figures").json["F1"]
    assert figures["true_share"] == pytest.approx(1.0), "each column on its own axis"
    assert post.client.get(f"{post.path}/datum/F1").json["parts"] == 2
    assert "each part has a datum of its own" in post.refused(
        **one_edit(["F1"], seam={"away_from": [1, 0, 0]})
    )
    moved = change(post, datum={"origin_mm": [0, 0, "1m"], "x_axis": [1, 0, 0], "z_axis": [0, 0, 1]})
    assert (moved["datum_for"], moved["datum"]["origin_mm"]) == ("pick", [0, 0, 1000])
    assert change(post, fit={"to": "axis", "axis": "+x"})["datum"]["z_axis"] == [1, 0, 0]
    assert "cylinder has no tightest box" in post.refused(**one_edit(["F1"], fit={"to": "box"}))
    assert "does not exist" in post.refused(**one_edit(["F1"], fit={"to": "face", "face": 999}))


def test_seams_turns_and_flips(post):
    post.edit(kind="lay", material="brick", pick={"parts": ["A"]}, projection={"kind": "cylindrical"},
              aim={"towards": [0, 1, 0]})  # fmt: skip
    assert post.state["finishes"][0]["datum"]["x_axis"] == pytest.approx([0, 1, 0])
    turned = change(post, seam={"to_point": [200, 0, 400]})
    assert turned["datum"]["x_axis"] == pytest.approx([-1, 0, 0])
    assert change(post, datum_turn=["z", "1/4turn"])["datum"]["x_axis"] == pytest.approx([0, -1, 0])
    assert change(post, datum_turn=["x", 90])["datum"]["z_axis"] == pytest.approx([-1, 0, 0])
    assert change(post, flip="along")["scale"] == [-1, 1]
    wide = change(post, repeat_mm=["1.8m", None])
    assert (wide["scale"], wide["repeat_mm"]) == ([-2, 2], [1800, 1200]), "a flip stays when it is sized"
    assert change(post, flip="up")["scale"] == [-2, -2]
    assert "give one of them" in post.refused(**one_edit(["F1"], seam={}))
    roundness = post.client.get(f"{post.path}/roundness/F1").json
    assert roundness["radius_mm"] == pytest.approx(200) and roundness["residual_mm"] < 1e-6
    change(post, projection={"kind": "box"})
    assert post.client.get(f"{post.path}/roundness/F1").status_code == 422


def test_placement_is_copied_and_split(cube):
    cube.lay({"faces": [2, 3]})
    cube.change(["F1"], turn_deg=33, scale=[2, 2], tile=False)
    cube.edit(kind="lay", material="oak", pick={"faces": [4]}, projection={"kind": "planar"}, like="F1")
    first, second = cube.state["finishes"]
    assert all(first[k] == second[k] for k in ("projection", "datum", "turn_deg", "scale", "tile"))
    assert second["material"] == "oak"
    state = cube.edit(kind="split", finish="F1", pick={"faces": [3, 4]}, projection={"kind": "planar"})
    assert [f["key"] for f in state["finishes"]] == ["F1", "F3", "F2"]
    # A single sheet lies over another; around it the lower one shows.
    assert [f["faces"] for f in state["finishes"]] == [2, 1, 1]
    assert state["finishes"][1]["turn_deg"] == 33 and state["finishes"][1]["material"] == "brick"
    assert "none of the picked faces" in cube.refused(
        kind="split", finish="F1", pick={"faces": [0]}, projection={"kind": "box"}
    )
    assert "no finish F9" in cube.refused(kind="split", finish="F9", pick=ALL, projection={"kind": "box"})
    assert "no finish F9" in cube.refused(**one_edit(["F1"], like="F9"))
    for _ in range(2 + 3):
        cube.step("undo")
    assert [f["key"] for f in cube.state["finishes"]] == ["F1"] and cube.state["finishes"][0]["turn_deg"] == 0


def test_materials_of_a_triplanars_axes_come_into_the_project(cube):
    cube.edit(kind="lay", material="brick", pick=ALL,
              projection={"kind": "triplanar", "materials": {"z": "oak"}})  # fmt: skip
    assert set(cube.state["materials"]) == {"brick", "oak"}
    assert "no material 'gold'" in cube.refused(
        **one_edit(["F1"], projection={"kind": "triplanar", "materials": {"x": "gold"}})
    )


def test_wrapping_refits_the_datum_to_the_middle(cube):
    cube.lay(ALL)
    wrapping = {"kind": "box", "corners": "wrapped"}
    (wrapped,) = cube.change(["F1"], projection=wrapping)["finishes"]
    assert wrapped["datum"]["origin_mm"] == [500, 500, 0]
    told = cube.client.get(f"{cube.path}/datum/F1").json
    assert told["projection"]["size_mm"][:2] == [1000, 1000]
    assert [len(told["charts"]), told["reach_mm"]] == [6, [[-500, -500, 0], [500, 500, 1000]]]


def test_looks_say_what_is_measured(cube):
    cube.lay({"faces": [2]}, projection="planar")
    cube.lay({"faces": [3, 4]})
    cube.change(
        ["F1"],
        datum={"origin_mm": [0, 0, 0], "x_axis": [1, 0, 0], "z_axis": [0, 1, 0]},
    )
    _, arrays = cube.packet("looks/stretch")
    assert arrays["kind"].tolist() == [1, 1, 3, 0, 0, 1], "bare, and a back that is laid through"
    assert arrays["low"].tolist() == [1] * 6
    header, arrays = cube.packet("looks/seams")
    assert header["length_m"] == pytest.approx(1.0) and len(arrays["lines"]) == 6
    assert header["worst_gap_mm"] == pytest.approx(float(arrays["gap"].max()))
    header, arrays = cube.packet("looks/grain?spacing=50")
    assert header["spacing_mm"] == 50
    strokes = arrays["lines"].reshape(-1, 2, 3)
    assert len(strokes) == pytest.approx(3 * 400, rel=0.1)
    assert cube.client.get(f"{cube.path}/looks/grain?spacing=-1").status_code == 422
    assert cube.packet("looks/grain?spacing=0.01")[0]["spacing_mm"] >= 5, (
        "not more strokes than a view can draw"
    )
    face = cube.client.get(f"{cube.path}/faces/2").json
    assert (face["finish"], face["kind"], face["area_m2"]) == ("F1", "mirrored", 1.0)
    assert cube.client.get(f"{cube.path}/faces/0").json["finish"] is None
    assert cube.client.get(f"{cube.path}/faces/99").status_code == 404


def test_single_sheets_are_told_apart_from_what_they_lie_on(cube):
    cube.lay(ALL)
    cube.lay({"faces": [2, 4]}, material="oak", projection="planar")
    cube.change(["F2"], tile=False)
    header, arrays = cube.packet("cover")
    assert header == {"singles": [1]}
    assert arrays["base"].tolist() == [0] * 6 and arrays["over_1"].tolist() == [2, 4]
    assert len(cube.st("F1")) == 24 and len(cube.st("F2")) == 8, "what lies beneath is laid as well"
    first, second = cube.state["finishes"]
    assert (first["faces"], second["faces"]) == (6, 2)
    sheet = second["repeat_mm"][0] * second["repeat_mm"][1] / 1e6
    assert second["area_m2"] == pytest.approx(min(sheet, 1.0)), (
        "no more than the sheet itself, on the face it looks at"
    )
    assert first["area_m2"] == pytest.approx(6 - second["area_m2"])
    assert any("cut along" in note for note in cube.client.get(f"{cube.path}/handover").json["notes"])


def test_trials_tell_how_far_they_are(post, monkeypatch):
    """Asked while each projection is fitted, as a page asks that waits."""
    path, seen = f"{post.path}/trials/mine", []

    def asked_meanwhile(*args):
        seen.append(post.client.get(path).json)
        return projection.fit(*args)

    monkeypatch.setattr("pivrel.core.trials.fit", asked_meanwhile)
    before = post.client.get(path).json
    post.packet("trials", pick={"parts": ["B"]}, material="brick", called="mine")
    assert before == post.client.get(path).json == {"projection": None, "share": 0.0}
    kinds, shares = [s["projection"]["kind"] for s in seen], [s["share"] for s in seen]
    assert kinds[:2] == ["planar", "box"] and len(set(kinds)) >= 5
    assert shares == sorted(shares) and shares[0] == 0 and 0.7 < shares[-1] < 1


def test_trials_are_measured_best_first_and_can_be_taken(post):
    header, arrays = post.packet("trials", pick={"parts": ["B"]}, material="brick")
    kinds = [t["projection"]["kind"] for t in header["trials"]]
    assert kinds[0] == "cylindrical" and set(kinds) >= {"planar", "box", "spherical", "triplanar"}
    assert arrays["faces"].tolist() == list(range(26, 52))
    best = header["trials"][0]
    state = post.edit(kind="lay", material="brick", pick={"parts": ["B"]}, projection=best["projection"],
                      datum=best["datum"])  # fmt: skip
    assert state["finishes"][0]["datum"] == best["datum"]
    assert post.st("F1").tobytes() == arrays["st_0"].tobytes(), "what was seen is what is laid"
    figures = post.client.get(f"{post.path}/figures").json["F1"]
    assert figures["true_share"] == pytest.approx(best["true_share"])
    again, _ = post.packet("trials", finish="F1")
    assert again["trials"][0]["true_share"] == pytest.approx(best["true_share"])
    for wrong, status in (({"finish": "F9"}, 404), ({"pick": ALL}, 422), ({"pick": ALL, "material": "gold"}, 404),
                          ({"pick": {"faces": []}, "material": "brick"}, 422)):  # fmt: skip
        assert post.client.post(f"{post.path}/trials", json=wrong).status_code == status, wrong


def test_the_picture_and_the_files_know_every_projection(cube):
    for kind in ("cylindrical", "spherical", "triplanar"):
        cube.lay(ALL, projection=kind)
    cube.change(["F3"], tile=False)
    assert cube.client.get(f"{cube.path}/picture.jpg").data[:2] == b"\xff\xd8"
    for kind in ("glb", "gltf", "obj"):
        assert cube.client.get(f"{cube.path}/handover/{kind}").status_code == 200
    assert cube.client.get(f"{cube.path}/handover/recipe").status_code == 200


def test_an_option_is_changed_for_several_rows_and_the_rest_stays(post):
    for part, radius in (("A", 210), ("B", 95)):
        post.edit(kind="lay", material="brick", pick={"parts": [part]},
                  projection={"kind": "cylindrical", "radius_mm": radius})  # fmt: skip
    post.change(["F1", "F2"], options={"kind": "cylindrical", "caps": False, "cap_angle_deg": 30})
    first, second = (f["projection"] for f in post.state["finishes"])
    assert (first["radius_mm"], second["radius_mm"]) == (210, 95)
    assert not first["caps"] and not second["caps"] and second["cap_angle_deg"] == 30
    assert "known" in post.refused(**one_edit(["F1"], options={"kind": "cylindrical", "colour": 1}))
    assert "less than or equal" in post.refused(
        **one_edit(["F1"], options={"kind": "cylindrical", "cap_angle_deg": 300})
    )
