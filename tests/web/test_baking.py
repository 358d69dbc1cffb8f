"""Baking over the web: which finishes need it, the plan before anything is made, the files, stopping."""

import io
import time
import zipfile

import PIL.Image
import pygltflib
import pytest

COARSE = {"px_per_m": 60, "size": 256}


class Baking:
    """A bake, followed to its end."""

    def __init__(self, client, project, **wanted):
        answer = client.post(f"/api/projects/{project}/bakes", json={**COARSE, **wanted})
        assert answer.status_code == 202, answer.json
        self.client, self.path = client, f"/api/bakes/{answer.json['id']}"

    def state(self):
        while True:
            answer = self.client.get(self.path)
            assert answer.status_code == 200, answer.json
            if answer.json["state"] != "working":
                return answer.json
            time.sleep(0.05)

    def done(self):
        planned = self.state()
        assert (planned["step"], planned["state"], planned["error"]) == ("plan", "ready", None), planned
        assert self.client.post(f"{self.path}/begin").status_code == 202
        baked = self.state()
        assert (baked["step"], baked["state"]) == ("bake", "ready"), baked
        assert baked["plan"] == planned["plan"]
        return baked


@pytest.fixture
def blended(cube):
    """A project whose first finish is plain and whose second blends, with a coat."""
    cube.lay({"all": True})
    cube.lay({"faces": [0, 1]}, material="oak", projection="triplanar")
    cube.edit(kind="add_coat", finish="F2", start="facing")
    return cube


def test_only_what_no_file_holds_needs_a_bake(client, blended):
    found = client.get(f"{blended.path}/bakeable").json
    assert [(one["key"], one["needs"]) for one in found] == [("F1", False), ("F2", True)]
    assert sum(one["area_m2"] for one in found) == pytest.approx(6.0)


def test_the_plan_is_told_first_and_the_file_is_as_planned(client, blended):
    bake = Baking(client, blended.path.rpartition("/")[2])
    baked = bake.done()
    plan = baked["plan"]
    assert plan["finishes"] == ["Oak"] and plan["true_share"] > 0.999
    answer = client.get(f"{bake.path}/file")
    assert answer.headers["Content-Disposition"].endswith("_baked.glb")
    gltf = pygltflib.GLTF2.load_from_bytes(answer.data)
    sizes = {tuple(one) for one in plan["images"]}
    by_name = {made.name: made for made in gltf.materials}
    assert by_name["Oak"].pbrMetallicRoughness.baseColorTexture.texCoord == 1
    # What repeats goes on to repeat, by the first set.
    assert not by_name["Brick"].pbrMetallicRoughness.baseColorTexture.texCoord
    blob = gltf.binary_blob()
    found = set()
    for image in gltf.images:
        view = gltf.bufferViews[image.bufferView]
        found.add(PIL.Image.open(io.BytesIO(blob[view.byteOffset : view.byteOffset + view.byteLength])).size)
    assert sizes <= found
    client.delete(bake.path)
    assert client.get(bake.path).json["error"] == "this bake is over; begin it anew"


@pytest.mark.parametrize("kind", ["gltf", "obj"])
def test_other_formats_come_as_a_zip(client, blended, kind):
    bake = Baking(client, blended.path.rpartition("/")[2], kind=kind, finishes=["F1", "F2"])
    bake.done()
    with zipfile.ZipFile(io.BytesIO(client.get(f"{bake.path}/file").data)) as files:
        names = files.namelist()
    assert any(name.endswith(f".{kind}") for name in names)
    assert any("base_color" in name for name in names)
    client.delete(bake.path)


def test_what_cannot_be_baked_is_said(client, cube):
    number = cube.path.rpartition("/")[2]
    cube.lay({"all": True})
    refused = Baking(client, number).state()
    assert refused["state"] == "failed" and refused["error"].startswith("no finish needs a bake")
    many = Baking(client, number, finishes=["F1"], px_per_m=1e6).state()
    assert "make" in many["error"] and "ask for" in many["error"]
    unknown = client.post(f"/api/projects/{number}/bakes", json={"finishes": ["F9"]})
    assert (unknown.status_code, unknown.json["error"]) == (422, "the schedule has no finish F9")
    for bad in ({"px_per_m": 0}, {"size": 1 << 20}, {"padding_px": -1}, {"kind": "exe"}, {"deep": 1}):
        answer = client.post(f"/api/projects/{number}/bakes", json=bad)
        assert answer.status_code in (400, 422) and answer.json["error"].count("\n") == 0


def test_a_bake_cannot_begin_before_its_plan_and_stops_when_told(client, blended):
    bake = Baking(client, blended.path.rpartition("/")[2])
    early = client.post(f"{bake.path}/begin")
    assert early.status_code in (202, 422)
    if early.status_code == 422:
        assert early.json["error"] == "the bake is not planned yet"
    assert client.delete(bake.path).status_code == 204
    assert client.get(f"{bake.path}/file").status_code == 404
    assert client.delete(bake.path).status_code == 204
