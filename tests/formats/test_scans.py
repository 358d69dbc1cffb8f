"""STL and PLY written by trimesh, read back with the same counts, bounds, area and volume."""

import io
import struct

import numpy as np
import pytest
import trimesh

from pivrel.core.geometry.surface import Surface
from pivrel.formats.bundle import FormatError, Upload
from pivrel.formats.reading import read_model
from tests.formats.test_cad import volume


def read(name, data, **asked):
    return read_model(name, data, Upload({}), **{"unit": "mm", "up": "z", **asked})


def body():
    """A torus off the origin: no two of its measures alike."""
    mesh = trimesh.creation.torus(40, 12, major_sections=48, minor_sections=20)
    mesh.apply_translation((100, -20, 7))
    return mesh


@pytest.mark.parametrize(("name", "kind"), [("a.stl", "stl"), ("a.stl", "stl_ascii"), ("a.ply", "ply")])
def test_what_trimesh_writes_comes_back(name, kind):
    theirs = body()
    data = theirs.export(file_type=kind)
    mesh = read(name, data.encode() if isinstance(data, str) else data).mesh
    surface = Surface(mesh)
    assert mesh.face_count == len(theirs.faces)
    np.testing.assert_allclose(mesh.bounds(), theirs.bounds, atol=1e-5)
    assert surface.face_areas.sum() == pytest.approx(theirs.area, rel=1e-6)
    assert volume(mesh) == pytest.approx(theirs.volume, rel=1e-6)
    assert len(surface.topology.open_edges) == 0, "coincident vertices count as one"


def test_ascii_ply_with_mixed_polygons_and_normals():
    text = b"""ply
format ascii 1.0
comment a quad and a triangle
element vertex 5
property float x
property float y
property float z
property float nx
property float ny
property float nz
property uchar red
element face 2
property list uchar int vertex_indices
end_header
0 0 0 0 0 2 255
2 0 0 0 0 2 255
2 2 0 0 0 2 255
0 2 0 0 0 2 255
1 3 0 0 0 2 255
4 0 1 2 3
3 3 2 4
"""
    imported = read("a.ply", text, unit="m")
    assert np.diff(imported.mesh.face_start).tolist() == [4, 3]
    np.testing.assert_array_equal(imported.mesh.bounds(), [[0, 0, 0], [2000, 3000, 0]])
    np.testing.assert_array_equal(imported.mesh.normals, [[0, 0, 1]] * 7)
    assert imported.found == ("the colors of the vertices were left out",)


def test_solids_of_a_text_stl_are_parts():
    facet = "facet normal 0 0 1\nouter loop\nvertex 0 0 {z}\nVERTEX 1 0 {z}\n vertex 0 1e0 {z}\nendloop\nendfacet\n"
    text = (
        "solid lid\n"
        + facet.format(z=1)
        + "endsolid lid\nsolid\nendsolid\nsolid lid\n"
        + facet.format(z=2) * 2
        + "endsolid\n"
    )
    mesh = read("a.stl", text.encode()).mesh
    assert mesh.part_names == ("lid", "lid (2)")
    assert mesh.face_part.tolist() == [0, 1, 1]


def test_a_binary_stl_may_begin_like_a_text():
    data = body().export(file_type="stl")
    mesh = read("a.stl", b"solid made by some program".ljust(80) + data[80:]).mesh
    assert mesh.face_count == len(body().faces)


def header(count):
    return b"\0" * 80 + struct.pack("<I", count)


@pytest.mark.parametrize(
    ("name", "data", "word"),
    [
        ("a.stl", header(9) + b"\0" * 60, "announces 9 facets, but the file holds 1"),
        ("a.stl", header(0), "no facets"),
        ("a.stl", b"hello", "neither"),
        ("a.stl", b"solid a\nendsolid\n", "no facets"),
        ("a.stl", b"solid a\nvertex 0 0 zero\n", "line 2"),
        ("a.stl", b"solid a\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nendloop\n", "line 5"),
        ("a.stl", header(1) + struct.pack("<12fH", *[float("nan")] * 12, 0), "finite"),
        ("a.ply", b"plx", "does not begin"),
        ("a.ply", b"ply\nformat ascii 1.0\nelement vertex 99999999\nproperty float x\nend_header\n", "99,999,999"),
        ("a.ply", b"ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nproperty float z\nend_header\n0 0 0\n", "cloud of points"),
        ("a.ply", b"ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nend_header\n", "broken"),
    ],
)  # fmt: skip
def test_broken_files_are_one_sentence(name, data, word):
    with pytest.raises(FormatError) as error:
        read(name, data)
    assert word in str(error.value) and "\n" not in str(error.value)


def test_a_face_that_points_nowhere():
    theirs = trimesh.creation.box()
    buffer = io.BytesIO(theirs.export(file_type="ply", encoding="ascii"))
    text = buffer.read().decode().replace("3 1 3 0", "3 1 3 77")
    with pytest.raises(FormatError, match="refers to a vertex that is not there"):
        read("a.ply", text.encode())
