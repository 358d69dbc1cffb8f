"""Importing over the web: reading aside, the check with each unit, mending, stopping, and what is kept."""

import io
import time

import numpy as np
import PIL.Image
import pytest

from pivrel.core.geometry.surface import Surface
from pivrel.jobs import memory, spare
from pivrel.jobs.model_import import ModelImport
from pivrel.jobs.spare import started as begun
from pivrel.store import blobs
from tests.formats import cad
from tests.formats.bad import BAD, GOOD_OBJ, gltf, triangle
from tests.shapes import cuboid

MM = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8}


def obj_of(mesh, scale=1.0, skip=()):
    lines = ["o Cube"] + [f"v {x!r} {y!r} {z!r}" for x, y, z in (mesh.points / scale).tolist()]
    for f in range(mesh.face_count):
        if f not in skip:
            corners = mesh.corners[mesh.face_start[f] : mesh.face_start[f + 1]] + 1
            lines.append("f " + " ".join(map(str, corners.tolist())))
    return "\n".join(lines).encode() + b"\n"


class Importing:
    """One import, followed to its end."""

    def __init__(self, client, upload, files, **form):
        answer = upload("/api/imports", files, **form)
        assert answer.status_code == 202, answer.json
        self.client, self.path = client, f"/api/imports/{answer.json['id']}"

    def state(self, **reading):
        while True:
            answer = self.client.get(self.path, query_string=reading)
            assert answer.status_code == 200, answer.json
            if answer.json["state"] != "working":
                return answer.json
            time.sleep(0.05)

    def open(self, **opening):
        self.state()
        answer = self.client.post(f"{self.path}/project", json=opening)
        assert answer.status_code == 201, answer.json
        return self.client.get(f"/api/projects/{answer.json['id']}").json


@pytest.fixture
def importing(client, upload):
    return lambda files, **form: Importing(client, upload, files, **form)


def test_the_same_cube_in_every_unit_ends_at_the_same_size(importing):
    sizes = []
    for unit, mm in MM.items():
        job = importing({"cube.obj": obj_of(cuboid(1200, 800, 500), mm)})
        checked = job.state(unit=unit, up="z")
        assert (checked["asks_unit"], checked["guessed"], checked["unit"]) == (True, False, unit)
        np.testing.assert_allclose(checked["size_mm"], [1200, 800, 500], rtol=1e-12)
        sizes.append(job.open(unit=unit, up="z")["model"]["bounds_mm"])
    np.testing.assert_allclose(sizes, [sizes[0]] * 5, atol=1e-9)


def test_what_is_guessed_is_said_and_an_axis_turns_the_model(importing):
    job = importing({"cube.obj": obj_of(cuboid(1.2, 0.8, 0.5))})
    guessed = job.state()
    assert (guessed["guessed"], guessed["unit"], guessed["up"]) == (True, "m", "y")
    assert guessed["beside"] == "a hand of 19 cm" and "like a chair or a table" in guessed["why"]
    np.testing.assert_allclose(guessed["size_mm"], [1200, 500, 800])
    np.testing.assert_allclose(job.state(up="z")["size_mm"], [1200, 800, 500])
    assert importing({"cube.obj": obj_of(cuboid(12, 8, 5))}).state()["beside"] == "a person of 1.75 m"


def test_an_uneven_node_scale_is_applied_said_and_lays_without_stretch(importing, client, database):
    root = triangle(nodes=[{"name": "leaf", "mesh": 0, "scale": [1, 3, 1]}])
    job = importing({"a.gltf": gltf(**root)})
    assert any("uneven" in line for line in job.state()["found"])
    state = job.open()
    assert state["model"]["bounds_mm"] == [[0, 0, 0], [1000, 0, 3000]]
    edit = {"kind": "lay", "material": "brick", "pick": {"all": True}, "projection": {"kind": "box"}}
    path = f"/api/projects/{state['id']}"
    assert client.post(f"{path}/edits", json={"revision": 0, "edit": edit}).status_code == 200
    figures = client.get(f"{path}/figures").json["F1"]
    assert (figures["true_share"], figures["least_stretch"], figures["greatest_stretch"]) == pytest.approx(
        (1, 1, 1)
    )


def test_faults_are_found_shown_and_mended(importing, client, database):
    good = cuboid(1000, 1000, 1000)
    lines = obj_of(good).decode().splitlines()
    first = next(i for i, line in enumerate(lines) if line.startswith("f"))
    corners = lines[first].split()[1:]
    lines[first] = "f " + " ".join(reversed(corners))
    text = "\n".join([*lines, lines[first + 1], f"f {corners[0]} {corners[1]} {corners[1]}"]).encode()
    job = importing({"cube.obj": text})
    findings = {f["key"]: f for f in job.state()["findings"]}
    assert {k: findings[k]["count"] for k in ("degenerate", "duplicate", "mixed")} == {
        "degenerate": 1, "duplicate": 1, "mixed": 1
    }  # fmt: skip
    assert (
        findings["mixed"]["words"] == "1 face is turned against its neighbours" and findings["mixed"]["mend"]
    )
    plain = client.get(f"{job.path}/picture.jpg?unit=mm&up=z").data
    marked = client.get(f"{job.path}/picture.jpg?unit=mm&up=z&fault=mixed").data
    a, b = (np.asarray(PIL.Image.open(io.BytesIO(d))).astype(int) for d in (plain, marked))
    assert a.shape == (360, 560, 3) and (np.abs(a - b).max(axis=2) > 60).sum() > 500, "the fault is marked"
    state = job.open(unit="mm", up="z", mend=["degenerate", "duplicate", "mixed"])
    assert (state["model"]["faces"], state["model"]["triangles"]) == (6, 12)
    assert any("mended" in line for line in state["model"]["found"])
    with database.reading() as db:
        surface = Surface(blobs.get_mesh(db, state["model"]["mesh"]))
    outward = surface.centroids - surface.centroids.mean(axis=0)
    assert (np.einsum("ij,ij->i", outward, surface.normals) > 0).all()


def test_the_original_files_are_kept_as_they_came(importing, client):
    files = {"wall.obj": b"mtllib wall.mtl\n" + GOOD_OBJ, "wall.mtl": b"newmtl a\nKd 1 0 0\n"}
    job = importing(files)
    triangles = job.state()["triangles"]
    state = job.open(name="My wall")
    assert triangles == state["model"]["triangles"] == 1
    assert state["name"] == "My wall" and [f["name"] for f in state["model"]["files"]] == list(files)
    for number, data in enumerate(files.values()):
        assert client.get(f"/api/projects/{state['id']}/original/{number}").data == data
    assert client.get(f"/api/projects/{state['id']}/original/2").status_code == 404
    assert client.get(job.path).status_code == 404, "an import ends with its project"


def test_a_step_file_tells_surfaces_and_takes_a_tolerance(importing):
    usual = importing({"a.step": cad.step()}).state()
    assert usual["exact"] == {"plane": 8, "cylinder": 1, "cone": 1, "sphere": 1, "torus": 1}
    assert not usual["asks_unit"] and 0.05 < usual["tolerance_mm"] < 0.2
    finer = importing({"a.step": cad.step()}, tolerance_mm="0.004").state()
    assert finer["triangles"] > usual["triangles"] and finer["tolerance_mm"] == 0.004


@pytest.mark.parametrize("case", ["gltf nan", "gltf json broken", "glb chunk too long"])
def test_a_bad_upload_is_one_sentence_and_leaves_nothing(case, importing, client, database):
    files, word = BAD[case]
    with database.reading() as db:
        before = db.execute("SELECT count(*) FROM blob").fetchone()[0]
    job = importing(files)
    told = job.state()
    assert told["state"] == "failed" and word in told["error"] and "\n" not in told["error"]
    assert client.post(f"{job.path}/project", json={}).status_code == 422
    assert client.get("/api/projects").json == []
    with database.reading() as db:
        assert db.execute("SELECT count(*) FROM blob").fetchone()[0] == before


def test_two_models_or_none_at_once(upload):
    assert "2 models" in upload("/api/imports", {"a.obj": GOOD_OBJ, "b.obj": GOOD_OBJ}).json["error"]
    assert "no model" in upload("/api/imports", {"wood.png": b"x"}).json["error"]
    assert "tolerance" in upload("/api/imports", {"a.step": b"x"}, tolerance_mm="0").json["error"]


def test_a_long_import_is_stopped_with_its_process(importing, client):
    job = importing({"large.obj": b"v 0 0 0\nv 1 0 0\nv 0 1 0\n" + b"f 1 2 3\n" * 3_000_000})
    assert client.get(job.path).json["state"] == "working"
    held = client.application.extensions["pivrel"].imports.get(int(job.path.rsplit("/", 1)[1])).job
    while held._process is None:
        time.sleep(0.01)
    assert client.delete(job.path).status_code == 204
    assert held._process.poll() is not None and not held.folder.exists()
    assert client.get(job.path).status_code == 404


def test_a_model_too_large_for_the_machine_is_refused_with_figures(importing, monkeypatch):
    monkeypatch.setenv("PIVREL_MEMORY_MB", "300")
    told = importing({"cube.obj": obj_of(cuboid())}).state()
    assert told["state"] == "failed"
    assert "this machine has 315 MB free" in told["error"] and "of memory" in told["error"]
    # An estimate that was too low is caught on the way.
    monkeypatch.setattr(memory, "needed", lambda name, size: 0)
    monkeypatch.setenv("PIVREL_MEMORY_MB", "129")
    told = importing({"large.obj": b"v 0 0 0\nv 1 0 0\nv 0 1 0\n" + b"f 1 2 3\n" * 2_000_000}).state()
    assert told["state"] == "failed" and "this machine has no more" in told["error"]


def test_a_model_is_shown_while_it_is_still_checked(importing, client, monkeypatch):
    job = importing({"cube.obj": obj_of(cuboid(), skip=(0,))})
    ready = job.state(unit="mm", up="z")
    assert [f["key"] for f in ready["findings"]] == ["open"]
    # As it is between the two: read, and not yet checked.
    monkeypatch.setattr(ModelImport, "state", property(lambda _: "working", lambda *_: None), raising=False)
    shown = client.get(job.path, query_string={"unit": "mm", "up": "z"}).json
    assert (shown["state"], shown["doing"], shown["findings"]) == ("working", "checking the model", [])
    assert shown["size_mm"] == ready["size_mm"] and shown["faces"] == 5
    assert client.get(f"{job.path}/picture.jpg?unit=mm&up=z").status_code == 200
    refused = client.post(f"{job.path}/project", json={})
    assert refused.status_code == 422 and "still being checked" in refused.json["error"]


def test_a_system_that_gives_no_process_is_told(importing, monkeypatch):
    def refused(*_):
        raise OSError(12, "Cannot allocate memory")

    monkeypatch.setattr(spare, "started", refused)
    state = importing({"cube.obj": obj_of(cuboid())}).state(unit="mm", up="z")
    assert state["state"] == "failed"
    assert state["error"] == "cube.obj: no process could be begun for it: Cannot allocate memory"


def test_a_spare_that_could_not_be_begun_is_begun_when_it_is_needed(tmp_path, monkeypatch):
    """The second time the system gives one."""
    given = iter([False])

    def second_time(*folder):
        if len(folder) > 0 or next(given, True):
            return begun(*folder)
        raise OSError(12, "Cannot allocate memory")

    monkeypatch.setattr(spare, "started", second_time)
    kept = spare.Spare()
    kept.keep()
    for _ in range(2):
        process = kept.take(str(tmp_path / "nowhere"))
        assert process.stdin is not None and process.stdout is not None
        with process.stdin, process.stdout:
            assert "No such file" in process.stdout.read(), "it looked into the folder that it was told"
        process.wait()
