"""What is written: valid, true to the millimetre, and the same model when it is opened again."""

import json
import subprocess
from dataclasses import replace
from pathlib import Path

import numpy as np
import pygltflib
import pytest

from pivrel.core.geometry.surface import Surface
from pivrel.core.laying.finish import Finish
from pivrel.core.picks import Faces, Facing
from pivrel.core.projection import Box, Planar
from pivrel.core.sheet import Material
from pivrel.formats.bundle import Upload
from pivrel.formats.convention import Convention
from pivrel.formats.laid import Look, UniqueNames, safe_file_name
from pivrel.formats.reading import read_model
from pivrel.materials.checker import checker_for
from tests.laying import handed_over, laid_model
from tests.samples import compas_sample
from tests.shapes import cuboid, strips

FRONTEND = Path(__file__).parents[2] / "frontend"
BRICK = Material("brick", (900.0, 600.0))
VALIDATE = """
const {validateBytes} = require('gltf-validator'), fs = require('fs');
validateBytes(new Uint8Array(fs.readFileSync(process.argv[1])), {maxIssues: 50}).then(
  (report) => console.log(JSON.stringify(report.issues)));
"""


def validated(path):
    """The Khronos glTF validator's issues (npm gltf-validator 2.0.0-dev.3.10)."""
    done = subprocess.run(
        ["node", "-e", VALIDATE, str(path)], cwd=FRONTEND, capture_output=True, text=True, check=True
    )
    return json.loads(done.stdout)


def laid(mesh):
    surface = Surface(mesh)
    finishes = [
        Finish("Walls", BRICK, Facing((0, 0, 1), 100), Box(), None, 90.0, None, (12.0, 5.0), (2.0, 2.0)),
        Finish("Walls", replace(BRICK, repeat_mm=(450.0, 300.0)), Faces((1, 2)), Planar(), turn_deg=30.0),
    ]
    looks = [(Look({"base_color": checker_for(f.material.repeat_mm)}, 0.5),) * 3 for f in finishes]
    return laid_model(surface, finishes, looks)


def again(files):
    name = next(iter(files))
    return read_model(name, files[name], Upload(files), *(("m", "y") if name.endswith(".obj") else ()))


@pytest.mark.parametrize("mesh", [cuboid(), strips(30), replace(cuboid(), points=cuboid().points + (6.1e8, 2e8, 3e5))],
                         ids=["cube", "barrel", "far away"])  # fmt: skip
@pytest.mark.parametrize("suffix", [".glb", ".gltf", ".obj"])
def test_opened_again_it_is_the_same_model(mesh, suffix):
    model = laid(mesh)
    back = again(handed_over(model, suffix, "model", Convention.of("m", "y"))).mesh
    assert back.part_names == mesh.part_names
    np.testing.assert_allclose(back.bounds(), mesh.bounds(), atol=1e-3)
    surface = Surface(back)
    assert len(surface.triangles) == len(model.surface.triangles)
    assert surface.face_areas.sum() == pytest.approx(model.surface.face_areas.sum(), rel=1e-6)
    if suffix == ".obj":
        assert back.corners.tolist() == mesh.corners.tolist(), "polygons stay polygons, in their order"
    names = {s.name for s in back.sources}
    assert {"Walls", "Walls_2" if suffix == ".obj" else "Walls 2"} <= names


def test_glb_is_valid_and_its_uvs_are_an_independent_calculation(tmp_path):
    path = compas_sample("boxes.obj")
    mesh = read_model(path.name, path.read_bytes(), Upload({}), "m", "y").mesh
    model = laid(mesh)
    target = tmp_path / "out.glb"
    target.write_bytes(handed_over(model, ".glb", "out", Convention())["out.glb"])
    assert validated(target)["numErrors"] == 0

    gltf = pygltflib.GLTF2().load(target)
    names = [m.name for m in gltf.materials]
    checked = 0
    for node in gltf.nodes:
        for primitive in gltf.meshes[node.mesh].primitives:
            if names[primitive.material] != "Walls":
                continue
            points = values(gltf, primitive.attributes.POSITION) + (node.translation or (0, 0, 0))
            normals = values(gltf, primitive.attributes.NORMAL)
            uv = values(gltf, primitive.attributes.TEXCOORD_0)
            checked += len(uv)
            np.testing.assert_allclose(uv, expected_uv(model, points, normals), atol=1e-4)
    assert checked > 50


def values(gltf, index):
    accessor = gltf.accessors[index]
    view = gltf.bufferViews[accessor.bufferView]
    width = {"VEC2": 2, "VEC3": 3}[accessor.type]
    data = gltf.binary_blob()[view.byteOffset : view.byteOffset + accessor.count * width * 4]
    return np.frombuffer(data, "<f4").reshape(-1, width).astype(float)


def expected_uv(model, points, normals):
    """Box by the page: millimetres from the pick's lowest corner, turned, shifted, enlarged, over the repeat."""
    p = points[:, [0, 2, 1]] * (1000, -1000, 1000)
    n = normals[:, [0, 2, 1]] * (1, -1, 1)
    # The fit puts the datum at the lowest corner of all faces that look up within 100 degrees.
    p = p - (0, -20_000, 0)
    out = np.empty((len(p), 2))
    for i, ((x, y, z), d) in enumerate(zip(p, n, strict=True)):
        axis = int(np.argmax(np.abs(d)))
        s, t = [(y if d[0] > 0 else -y, z), (-x if d[1] > 0 else x, z), (x, y if d[2] > 0 else -y)][axis]
        s, t = s - 12, t - 5
        s, t = t / 2, -s / 2  # turned back by 90 degrees, twice as large
        out[i] = s / 900, 1 - t / 600
    return out


def test_bare_faces_keep_their_own_material():
    text = (
        b"mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 1 0 1\nv 0 1 0\nusemtl Old oak\nf 1 2 3\nusemtl Glass\nf 1 2 4\n"
    )
    mtl = b"newmtl Old oak\nKd 0.5 0.25 0.125\nnewmtl Glass\nKd 0.1 0.2 0.3\nd 0.25\n"
    mesh = read_model("a.obj", text, Upload({"a.mtl": mtl}), "m", "z").mesh
    model = laid_model(Surface(mesh), [], [])
    gltf = pygltflib.GLTF2.load_from_bytes(handed_over(model, ".glb", "a", Convention())["a.glb"])
    found = {m.name: m for m in gltf.materials}
    assert found["Old oak"].pbrMetallicRoughness.baseColorFactor == [0.5, 0.25, 0.125, 1.0]
    assert found["Glass"].alphaMode == "BLEND"


def test_names_are_unique_and_safe():
    names = UniqueNames()
    assert [names.take(n) for n in ("Wall", "wall", "Wall", " a\n b ", "")] == [
        "Wall",
        "wall 2",
        "Wall 3",
        "a b",
        "unnamed",
    ]
    assert safe_file_name("../../Größe 1:2 / x") == "Gr_e_1_2_x"
    assert safe_file_name("con") == "con_"
    assert safe_file_name("…") == "file"
    assert len(safe_file_name("x" * 300)) <= 80


def test_the_same_image_is_written_once():
    model = laid(cuboid())
    look = model.looks[0]
    files = handed_over(replace(model, looks=[look, look]), ".gltf", "m", Convention())
    assert len([n for n in files if n.endswith(".png")]) == 1


def bare_obj(surface):
    """A model without finishes as OBJ bytes, Z up, in mm."""
    from pivrel.formats.model.obj_files import write

    return write(laid_model(surface, [], []), "model", Convention(1.0, "z"))["model.obj"]
