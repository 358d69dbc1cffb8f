"""Files made to take for ever, and such as are just large: read within some seconds, or refused in a sentence.

How long is bounded in steps, not by a clock; the limits of the tests' own clock are generous.
"""

import json
import threading
import time

import numpy as np
import pytest

from pivrel.core.geometry import polygons
from pivrel.core.geometry.mesh import MeshError
from pivrel.core.quantity import QuantityError, parse_length
from pivrel.formats.bundle import Folder, FormatError, Upload
from pivrel.formats.model.stl import unique_names
from pivrel.formats.reading import read_model
from pivrel.jobs.model_import import ModelImport
from tests.formats import cad
from tests.formats.bad import gltf, triangle
from tests.lengths import at_length

COUNT = 200_000
AROUND = np.linspace(0, 2 * np.pi, COUNT, endpoint=False)
CIRCLE = np.column_stack([np.cos(AROUND), np.sin(AROUND)]) * 1000
ROUGH = np.random.default_rng(3).uniform(0.5, 1, COUNT)[:, None]
OUTLINES = {
    "circle": CIRCLE,
    "star": CIRCLE * np.where(np.arange(COUNT) % 2, 1.0, 0.5)[:, None],
    "coast": CIRCLE * ROUGH,
    "comb": np.array([(i, 0.0 if (i // 2) % 2 else 10.0) for i in range(COUNT)] + [(COUNT, -1), (0, -1)]),
    "tangle": np.random.default_rng(4).random((COUNT, 2)),
}


@pytest.mark.parametrize("name", OUTLINES)
def test_an_outline_of_two_hundred_thousand_corners(name):
    flat = OUTLINES[name]
    points = np.column_stack([flat, np.zeros(len(flat))])
    corners, starts = np.arange(len(flat), dtype=np.int32), np.array([0, len(flat)], np.int32)
    normals = polygons.face_normals(points, corners, starts)
    try:
        triangles, _ = polygons.triangulate(points, corners, starts, normals)
    except MeshError as error:
        assert name in ("comb", "tangle") and "too intricate" in str(error)
        return
    # A tangle covers some places more than once; the others as much as the shoelace formula says.
    if name != "tangle":
        area = polygons.triangle_areas(points, corners, triangles).sum()
        assert area == pytest.approx(np.linalg.norm(normals[0]), rel=1e-6)


@pytest.mark.parametrize("seed", range(30))
def test_the_grid_finds_the_ears_that_a_look_at_every_corner_finds(seed, monkeypatch):
    random = np.random.default_rng(seed)
    count = int(random.integers(60, 400))
    around = np.sort(random.uniform(0, 2 * np.pi, count))
    flat = np.column_stack([np.cos(around), np.sin(around)]) * random.uniform(0.2, 1, count)[:, None] * 1000
    points = np.column_stack([flat, np.zeros(count)])
    corners, starts = np.arange(count, dtype=np.int32), np.array([0, count], np.int32)
    normals = polygons.face_normals(points, corners, starts)
    triangles, _ = polygons.triangulate(points, corners, starts, normals)
    a, b, c = (flat[triangles[:, k]] for k in range(3))
    twice = (b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0]
    assert (twice > 0).all(), "no triangle is turned over, so none lies outside"
    assert twice.sum() / 2 == pytest.approx(abs(normals[0, 2]), rel=1e-9)


def test_twenty_thousand_solids_of_one_name():
    facet = "facet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\n"
    text = "".join(f"solid a\n{facet}endsolid a\n" for _ in range(20_000))
    mesh = read_model("a.stl", text.encode(), Upload({}), "mm", "z").mesh
    assert len(set(mesh.part_names)) == 20_000 and mesh.part_names[-1] == "a (20000)"
    assert unique_names(["a", "a (2)", "a", "a"]) == ("a", "a (2)", "a (3)", "a (4)")


def test_twenty_thousand_primitives_with_materials_of_their_own():
    root = triangle()
    (primitive,) = root["meshes"][0]["primitives"]
    root["materials"] = [{"name": f"m{k}"} for k in range(20_000)]
    root["meshes"][0]["primitives"] = [{**primitive, "material": k} for k in range(20_000)]
    mesh = read_model("a.gltf", gltf(**root), Upload({})).mesh
    assert mesh.face_count == 20_000 and len(mesh.sources) == 20_000


def test_nodes_that_double_at_every_step_are_refused():
    nodes = [{"children": [k + 1, k + 1]} for k in range(40)] + [{"mesh": 0}]
    with pytest.raises(FormatError, match="can have one parent"):
        read_model("a.gltf", gltf(**triangle(nodes=nodes, scenes=[{"nodes": [0]}])), Upload({}))


@pytest.mark.parametrize("number", ["1.E308", "-9.E+99", "1000000000000000."])
def test_a_step_point_out_of_reach(number):
    data = cad.step(parts=("Plate",)).replace(
        b"CARTESIAN_POINT('',(0.,0.,0.))", f"CARTESIAN_POINT('',(0.,{number},0.))".encode()
    )
    with pytest.raises(FormatError, match=r"line \d+ has a point at"):
        read_model("a.step", data, Upload({}))


def test_a_material_file_of_a_hundred_thousand_lines():
    obj = b"mtllib a.mtl\nusemtl a\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"
    mtl = b"newmtl a\n" + b"".join(b"foo %d\n" % k for k in range(100_000))
    mesh = read_model("a.obj", obj, Upload({"a.mtl": mtl}), "mm", "z").mesh
    assert mesh.sources[0].stated[-1] == "foo 99999"


@pytest.mark.parametrize(
    "line", ["map_Kd -bm", "map_Kd", "map_Kd -o 1 2 3", "map_Kd " + "x" * 300, "map_Kd \ud800"]
)
def test_an_image_line_without_a_name_that_can_be(line, tmp_path):
    obj = b"mtllib a.mtl\nusemtl a\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"
    mtl = f"newmtl a\n{line}\n".encode("utf-8", "surrogatepass")
    (tmp_path / "a.mtl").write_bytes(mtl)
    for bundle in (Upload({"a.mtl": mtl}), Folder(tmp_path)):
        found = read_model("a.obj", obj, bundle, "mm", "z").found
        assert found or line == "map_Kd", "what is left out is told"


def test_an_image_of_a_gltf_with_a_name_that_cannot_be(tmp_path):
    root = triangle(images=[{"uri": "y" * 300 + ".png"}], textures=[{"source": 0}],
                    materials=[{"pbrMetallicRoughness": {"baseColorTexture": {"index": 0}}}])  # fmt: skip
    root["meshes"][0]["primitives"][0]["material"] = 0
    found = read_model("a.gltf", gltf(**root), Folder(tmp_path)).found
    assert any("missing" in line for line in found)


@pytest.mark.parametrize("number", ["1e200", "2.8e20", "-1e12", "1e308"])
@pytest.mark.parametrize("name", ["a.obj", "a.ply", "a.stl", "a.gltf"])
def test_coordinates_out_of_reach(name, number):
    files = {
        "a.obj": f"v 0 0 0\nv {number} 0 0\nv 0 1 0\nf 1 2 3\n",
        "a.ply": "ply\nformat ascii 1.0\nelement vertex 3\nproperty double x\nproperty double y\nproperty double z\n"
                 f"element face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n{number} 0 0\n0 1 0\n3 0 1 2\n",
        "a.stl": f"solid\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex {number} 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid\n",
        "a.gltf": json.dumps({**triangle(), "nodes": [{"mesh": 0, "translation": [float(number), 0, 0]}]}),
    }  # fmt: skip
    stated = () if name == "a.gltf" else ("mm", "z")
    with pytest.raises(FormatError, match=r"from the origin|finite"):
        read_model(name, files[name].encode(), Upload({}), *stated)


@pytest.mark.parametrize("text", ["1+" * 100_000 + "1", "(" * 400 + "1", "-" * 150 + "1", "9" * 250])
def test_numbers_that_nobody_types(text):
    with pytest.raises(QuantityError) as told:
        parse_length(text)
    assert len(str(told.value)) < 120


@pytest.mark.slow
def test_imports_beyond_the_turns_wait_and_none_is_ended(client, upload, monkeypatch):
    turns = threading.BoundedSemaphore(1)
    monkeypatch.setattr(ModelImport, "turns", turns)
    turns.acquire()
    obj = b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"
    paths = [
        f"/api/imports/{upload('/api/imports', {'a.obj': obj}).json['id']}" for _ in range(at_length(4, 9))
    ]
    time.sleep(0.5)
    assert {client.get(path).json["doing"] for path in paths} == {"waiting for other work to end"}
    turns.release()
    for path in paths:
        while (state := client.get(path).json)["state"] == "working":
            time.sleep(0.05)
        assert state["state"] == "ready"
        client.delete(path)


def test_an_import_that_takes_too_long_is_ended_in_a_sentence(client, upload, monkeypatch):
    from pivrel.jobs import model_import as job

    monkeypatch.setattr(job, "LONGEST_S", 0.0)
    path = f"/api/imports/{upload('/api/imports', {'a.obj': b'v 0 0 0'}).json['id']}"
    while (state := client.get(path).json)["state"] == "working":
        time.sleep(0.05)
    assert "minutes" in state["error"]
