"""STL and PLY written by trimesh, read back with the same counts, bounds, area and volume."""

import io
import re
import struct
from typing import Any

import numpy as np
import pytest
import trimesh
from vtkmodules.util.numpy_support import vtk_to_numpy
from vtkmodules.vtkIOPLY import vtkPLYReader

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


MIXED: list[tuple[str, Any, Any]] = [
    ("vertex", [("x", "float", None), ("y", "float", None), ("z", "double", None)],
     [(0, 0, 0), (2, 0, 0), (2, 2, 0), (0, 2, 0), (1, 3, 0.1)]),
    ("edge", [("a", "short", None)], [(0,), (7,)]),
    ("face", [("quality", "double", None), ("vertex_indices", "int", "uchar"), ("texcoord", "float", "uchar"),
              ("flags", "uint8", None)],
     [(0.5, (0, 1, 2, 3), (0, 0, 1, 0, 1, 1, 0, 1), 7), (1e-3, (3, 2, 4), (), 255)]),
]  # fmt: skip
"""Scalars before, between and after lists, one of them empty; a table that nobody asks for between the two."""

ALIKE = [(name, props, rows[:1] if name == "face" else rows) for name, props, rows in MIXED]
"""The same with lists of one length each."""

CODES = {
    "uchar": "B",
    "uint8": "B",
    "char": "b",
    "short": "h",
    "ushort": "H",
    "int": "i",
    "uint": "I",
    "float": "f",
    "double": "d",
}
ORDERS = {"ascii": "", "binary_little_endian": "<", "binary_big_endian": ">"}


def ply(elements, kind, newline="\n", count="uchar"):
    """Elements as a file of a format, written by Python's own struct. count: the type of each list's count."""
    header, body = ["ply", f"format {kind} 1.0", "comment caf\u00e9", "obj_info made up"], []
    order = ORDERS[kind]
    for name, props, rows in elements:
        header.append(f"element {name} {len(rows)}")
        header += [f"property list {count} {t} {n}" if c else f"property {t} {n}" for n, t, c in props]
        for row in rows:
            words = []
            for (_, code, listed), value in zip(props, row, strict=True):
                values = [(count, len(value)), *((code, v) for v in value)] if listed else [(code, value)]
                words += [struct.pack(order + CODES[c], v) if order else repr(v).encode() for c, v in values]
            body.append(b"".join(words) if order else b" ".join(words) + newline.encode())
    return newline.join([*header, "end_header", ""]).encode() + b"".join(body)


@pytest.mark.parametrize("newline", ["\n", "\r\n", "\r"])
@pytest.mark.parametrize("kind", list(ORDERS))
@pytest.mark.parametrize("elements", [MIXED, ALIKE], ids=["mixed", "alike"])
def test_every_kind_of_ply_is_read_alike(elements, kind, newline):
    mesh = read("a.ply", ply(elements, kind, newline)).mesh
    np.testing.assert_allclose(mesh.points, MIXED[0][2])
    faces = [row[1] for row in elements[2][2]]
    assert mesh.corners.tolist() == [corner for face in faces for corner in face]
    assert np.diff(mesh.face_start).tolist() == [len(face) for face in faces]


@pytest.mark.parametrize("count", ["char", "short", "ushort", "int", "uint", "float", "double"])
@pytest.mark.parametrize("kind", list(ORDERS))
def test_a_list_may_be_counted_by_any_type(kind, count):
    assert read("a.ply", ply(MIXED, kind, count=count)).mesh.corners.tolist() == [0, 1, 2, 3, 3, 2, 4]


@pytest.mark.parametrize("kind", list(ORDERS))
def test_a_ply_is_read_as_vtk_reads_it(kind, tmp_path):
    """Reference: VTK's reader, on a body of triangles and one of mixed polygons."""
    rows = [(*(float(np.float32(v)) for v in p),) for p in body().vertices.tolist()]
    sides = [(*face, face[0])[: 3 + at % 2] for at, face in enumerate(body().faces.tolist())]
    for faces in (body().faces.tolist(), sides):
        path = tmp_path / "a.ply"
        path.write_bytes(
            ply([(*MIXED[0][:2], rows), ("face", [MIXED[2][1][1]], [(f,) for f in faces])], kind)
        )
        theirs = vtkPLYReader()
        theirs.SetFileName(str(path))
        theirs.Update()
        mesh = read("a.ply", path.read_bytes()).mesh
        polys = theirs.GetOutput().GetPolys()
        np.testing.assert_array_equal(mesh.corners, vtk_to_numpy(polys.GetConnectivityArray()))
        np.testing.assert_array_equal(mesh.face_start, vtk_to_numpy(polys.GetOffsetsArray()))
        np.testing.assert_allclose(
            mesh.points, vtk_to_numpy(theirs.GetOutput().GetPoints().GetData()), atol=1e-5
        )


@pytest.mark.parametrize("kind", list(ORDERS))
@pytest.mark.parametrize("elements", [MIXED, ALIKE], ids=["mixed", "alike"])
def test_a_ply_that_is_cut_off_anywhere_is_one_sentence(elements, kind):
    whole = ply(elements, kind)
    # The last newline of a text, and its last digits, can be missing.
    for length in range(3, len(whole) - 4):
        with pytest.raises(FormatError, match=r"PLY is broken|rows of|no vertices") as error:
            read("a.ply", whole[:length])
        assert "\n" not in str(error.value)


@pytest.mark.parametrize(
    ("was", "now", "told"),
    [
        (b"format ascii 1.0", b"format ascii 2.0", "line 2: version '2.0'"),
        (b"format ascii 1.0", b"format letters 1.0", "line 2: expected 'format'"),
        (b"format ascii 1.0", b"comment none", "line 16: the format is not stated"),
        (b"property float y", b"property real y", "line 7: 'real' is no type"),
        (b"property float y", b"property float x", "line 7: there are two properties 'x'"),
        (b"element edge 2", b"element vertex 2", "line 9: there are two elements 'vertex'"),
        (b"element edge 2", b"element edge -2", "line 9: expected 'element'"),
        (b"property short a", b"property list short a", "line 10: expected 'property'"),
        (b"element edge 2", b"elements edge 2", "line 9: 'elements' is not expected"),
        (b"element edge 2", b"element edge 99999999999999", "announces 1,099,511,627,776 rows of 'edge'"),
    ],
)  # fmt: skip
def test_a_header_that_is_wrong_is_told_by_its_line(was, now, told):
    with pytest.raises(FormatError, match=re.escape(told)):
        read("a.ply", ply(MIXED, "ascii").replace(was, now))


@pytest.mark.parametrize("word", ["nan", "-NaN", "inf", "Infinity", "1e999"])
def test_a_coordinate_that_is_no_finite_number_is_told(word):
    text = ply(MIXED, "ascii").replace(b"\n1 3 0.1", f"\n1 {word} 0.1".encode())
    with pytest.raises(FormatError, match="point 4 has a coordinate that is not a finite number"):
        read("a.ply", text)


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
