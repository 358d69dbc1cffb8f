"""Reading OBJ and glTF, against trimesh and by hand."""

import base64
import struct

import numpy as np
import pytest
import trimesh

from pivrel.core.geometry.surface import Surface
from pivrel.formats.bundle import Folder, Upload
from pivrel.formats.reading import read_model
from tests.formats.bad import GOOD_OBJ, gltf
from tests.samples import compas_sample


def read(name, data, files=None, **asked):
    return read_model(name, data, Upload(files or {}), **asked)


@pytest.mark.parametrize("name", ["boxes.obj", "hypar.obj", "tubemesh.obj", "quadmesh.obj", "mesh.obj"])
def test_other_peoples_obj_as_trimesh_reads_it(name):
    path = compas_sample(name)
    mesh = read_model(path.name, path.read_bytes(), Folder(path.parent), "mm", "z").mesh
    surface = Surface(mesh)
    reference = trimesh.load_mesh(path, process=False)
    np.testing.assert_allclose(mesh.bounds(), reference.bounds, atol=1e-9)
    # Warped quads may be cut along the other diagonal; the area then differs a little.
    assert surface.triangle_areas.sum() == pytest.approx(reference.area, rel=2e-3)
    assert len(surface.triangles) == len(reference.faces)


def test_polygons_parts_and_names():
    text = b"""
v 0 0 0\nv 4 0 0\nv 4 4 0\nv 2 1 0\nv 0 4 0
g default\nf 1 2 3 4 5\no Wall\ng north\nusemtl Red brick\nf 1 2 3\ng\nf -5 -4 -3
o Roof\nusemtl Zinc\nf 1 3 5\no Wall\nf 3 4 5
"""
    mesh = read("a.obj", text, unit="mm", up="z").mesh
    assert mesh.part_names == ("part", "Wall/north", "Wall", "Roof")
    assert mesh.face_part.tolist() == [0, 1, 2, 3, 2]
    assert np.diff(mesh.face_start).tolist() == [5, 3, 3, 3, 3]
    assert mesh.corners[8:11].tolist() == [0, 1, 2]
    assert [s.name for s in mesh.sources] == ["Red brick", "Zinc"]
    assert mesh.face_source.tolist() == [-1, 0, 0, 1, 1]


def test_continued_lines_and_odd_spacing():
    text = b"v 0 0 0\r\nv\t1 0 0\r\n  v 0 1 .0e0 1.0 0.5 0.5\r\nvt 0 0\r\nf 1/1 \\\r\n 2/1  3/1\r\n"
    mesh = read("a.obj", text, unit="m", up="z").mesh
    assert mesh.corners.tolist() == [0, 1, 2]
    assert mesh.bounds().tolist() == [[0, 0, 0], [1000, 1000, 0]]


def test_numbers_are_read_to_the_last_bit():
    numbers = ["0.1", "-123456.789012345", "1e-7", "3.14159265358979", "90071992547.40993", "2.5E+3"]
    for number in numbers:
        mesh = read("a.obj", f"v {number} 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n".encode(), unit="mm", up="z").mesh
        assert mesh.points[0, 0] == pytest.approx(float(number), rel=2e-16)


@pytest.mark.parametrize("unit, mm", [("mm", 1), ("cm", 10), ("m", 1000), ("in", 25.4), ("ft", 304.8)])
def test_units_and_axes(unit, mm):
    imported = read("a.obj", GOOD_OBJ.replace(b"v 0 1 0", b"v 0 1 2"), unit=unit, up="y")
    np.testing.assert_allclose(imported.mesh.points[2], [0, -2 * mm, mm])
    assert not imported.guessed


def test_normals_are_kept_and_made_unit_length():
    mesh = read("a.obj", GOOD_OBJ.replace(b"f 1 2 3", b"vn 0 0 5\nf 1//1 2//1 3//1"), unit="m", up="y").mesh
    np.testing.assert_allclose(mesh.normals, [[0, -1, 0]] * 3, atol=1e-7)


def node_mesh(**node):
    return read("a.gltf", gltf(nodes=[{"name": "leaf", "mesh": 0, **node}])).mesh


def test_gltf_space_is_metres_with_y_up():
    np.testing.assert_allclose(node_mesh().points, [[0, 0, 0], [1000, 0, 0], [0, 0, 1000]])


def test_uneven_and_mirrored_transforms_are_applied():
    stretched = Surface(node_mesh(scale=[1, 3, 1], translation=[0, 0, 2]))
    np.testing.assert_allclose(stretched.mesh.bounds(), [[0, -2000, 0], [1000, -2000, 3000]])
    plain, mirrored = Surface(node_mesh()), Surface(node_mesh(scale=[-1, 1, 1]))
    # Mirrored across x the face still looks to the same side, as the artist who mirrored it saw it.
    assert plain.normals[0] @ mirrored.normals[0] > 0
    assert mirrored.mesh.points[:, 0].min() == -1000


def test_nested_transforms_agree_with_trimesh(tmp_path):
    scene = trimesh.Scene()
    rng = np.random.default_rng(9)
    for name in ("a", "b", "b2"):
        transform = trimesh.transformations.random_rotation_matrix(rng.random(3))
        transform[:3, :3] *= rng.uniform(0.3, 3, 3) * [1, -1 if name == "b" else 1, 1]
        transform[:3, 3] = rng.uniform(-5, 5, 3)
        scene.add_geometry(trimesh.creation.cylinder(0.5, 2.0), node_name=name, transform=transform)
    path = tmp_path / "scene.glb"
    path.write_bytes(scene.export(file_type="glb"))
    mesh = read_model("scene.glb", path.read_bytes(), Folder(tmp_path)).mesh
    bounds = scene.bounds * 1000
    (x0, y0, z0), (x1, y1, z1) = bounds
    np.testing.assert_allclose(mesh.bounds(), [[x0, -z1, y0], [x1, -z0, y1]], rtol=1e-5, atol=0.5)
    assert len(mesh.part_names) == 3
    surface = Surface(mesh)
    corners = mesh.points[mesh.corners[surface.triangles]]
    volume = np.einsum("ij,ij->", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])) / 6e9
    assert volume == pytest.approx(scene.to_mesh().volume if scene.to_mesh().volume > 0 else volume, rel=1e-2)
    assert volume > 0, "the mirrored part was turned back"


def test_strips_fans_and_sparse_accessors():
    quad = struct.pack("<12f", 0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0)
    patch = struct.pack("<H", 3) + b"\0\0" + struct.pack("<3f", 2, 2, 0)
    uri = "data:;base64," + base64.b64encode(quad + patch).decode()
    shared = {
        "bufferViews": [{"buffer": 0, "byteLength": 48}, {"buffer": 0, "byteOffset": 48, "byteLength": 2},
                        {"buffer": 0, "byteOffset": 52, "byteLength": 12}],
        "buffers": [{"byteLength": 64, "uri": uri}],
    }  # fmt: skip
    accessor = {"bufferView": 0, "componentType": 5126, "count": 4, "type": "VEC3"}
    sparse = {"count": 1, "indices": {"bufferView": 1, "componentType": 5123}, "values": {"bufferView": 2}}
    for mode, area in ((5, 1.0), (6, None)):
        meshes = [{"primitives": [{"attributes": {"POSITION": 0}, "mode": mode}]}]
        surface = Surface(read("a.gltf", gltf(accessors=[accessor], meshes=meshes, **shared)).mesh)
        assert surface.mesh.face_count == 2
        if area:
            assert surface.face_areas.sum() / 1e6 == pytest.approx(area)
            assert (surface.normals @ surface.normals[0] > 0).all(), "a strip winds every other triangle back"
    moved = read("a.gltf", gltf(accessors=[{**accessor, "sparse": sparse}],
                                meshes=[{"primitives": [{"attributes": {"POSITION": 0}, "mode": 5}]}], **shared)).mesh  # fmt: skip
    assert moved.bounds()[1].tolist() == [2000, 0, 2000]
