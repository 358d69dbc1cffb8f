"""STL and PLY written by trimesh, read back with the same counts, bounds, area and volume."""

import io
import struct
from typing import Any

import numpy as np
import pytest
import trimesh
from plyfile import PlyData, PlyElement

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


MIXED: list[tuple[str, dict[str, tuple[str, list[Any]]]]] = [
    ("vertex", {"x": ("f4", [0, 2, 2, 0, 1]), "y": ("f4", [0, 0, 2, 2, 3]), "z": ("f4", [0, 0, 0, 0, 0.1])}),
    ("face", {"quality": ("f8", [0.5, 1e-3]), "vertex_indices": ("i4", [[0, 1, 2, 3], [3, 2, 4]]),
              "texcoord": ("f4", [[0, 0, 1, 0, 1, 1, 0, 1], []]), "flags": ("u1", [7, 255])}),
]  # fmt: skip
"""Scalars before, between and after lists, one of them empty."""


def mixed_ply(text):
    """The same elements as plyfile writes them, as text or as bytes."""
    elements = []
    for name, columns in MIXED:
        table = np.empty(
            len(next(iter(columns.values()))[1]),
            [
                (key, object if isinstance(values[0], list) else kind)
                for key, (kind, values) in columns.items()
            ],
        )
        for key, (kind, values) in columns.items():
            for row, value in enumerate(values):
                table[key][row] = np.array(value, kind) if isinstance(value, list) else value
        kinds = {key: kind for key, (kind, values) in columns.items() if isinstance(values[0], list)}
        elements.append(PlyElement.describe(table, name, val_types=kinds))
    out = io.BytesIO()
    PlyData(elements, text=text).write(out)
    return out.getvalue()


def test_text_and_bytes_of_mixed_lists_are_read_alike():
    of_text, of_bytes = (read("a.ply", mixed_ply(text)).mesh for text in (True, False))
    for name in ("points", "corners", "face_start"):
        np.testing.assert_array_equal(getattr(of_text, name), getattr(of_bytes, name), err_msg=name)
    assert of_text.corners.tolist() == [0, 1, 2, 3, 3, 2, 4]


@pytest.mark.parametrize(
    ("was", "now"),
    [("3 3 2 4", "3 3 2"), ("3 3 2 4", "3 3 2 4 9"), ("3 3 2 4", "2.5 3 2 4"), ("3 3 2 4", "3 3 x 4"), ("3 3 2 4", "3 3 2 1e10")],
)  # fmt: skip
def test_a_line_of_text_that_is_not_as_it_should_be_is_told(was, now):
    text = b"""ply
format ascii 1.0
element vertex 5
property float x
property float y
property float z
element face 2
property list uchar int vertex_indices
end_header
0 0 0
2 0 0
2 2 0
0 2 0
1 3 0
4 0 1 2 3
3 3 2 4
"""
    with pytest.raises(FormatError, match=r"PLY is broken.*element 'face': row 1"):
        read("a.ply", text.replace(was.encode(), now.encode()))


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
