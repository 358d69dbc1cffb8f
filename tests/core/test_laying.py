"""Planar and box laying, placement and cover, each against an independent calculation."""

import math

import numpy as np
import pytest
import trimesh
import vtk
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from vtk.util.numpy_support import vtk_to_numpy

from pivrel.core.geometry.frames import Datum, FrameError
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE, cover, lay, lay_raw, settle
from pivrel.core.laying.cover import layers, layers_of
from pivrel.core.laying.finish import Finish
from pivrel.core.picks import All, Faces, Facing, Parts
from pivrel.core.projection import Box, Planar
from pivrel.core.sheet import Material, Placement
from tests.shapes import cuboid, mesh_of

BRICK = Material("brick", (900.0, 600.0))

# What is smaller than any double that computes in full leaves it open on which side a face lies.
directions = st.tuples(*[st.floats(-1, 1, allow_subnormal=False)] * 3).filter(lambda v: math.hypot(*v) > 0.1)
lengths = st.floats(-5000, 5000)


def laid(surface, finish):
    """Everything, laid by the finish."""
    faces = np.arange(surface.mesh.face_count, dtype=np.int32)
    return lay(surface, finish, faces, settle(surface, finish))


def by_the_page(mesh, normals, projection, datum, placement):
    """Sections 3 to 5 of the laying contract, face by face and word by word."""
    x, z = np.array(datum.x_axis, float), np.array(datum.z_axis, float)
    z = z / np.linalg.norm(z)
    x = x - (x @ z) * z
    x = x / np.linalg.norm(x)
    y = np.cross(z, x)
    out = []
    for f in range(mesh.face_count):
        n = np.array([normals[f] @ a for a in (x, y, z)])
        n = n / max(np.linalg.norm(n), 1e-300)
        for corner in mesh.corners[mesh.face_start[f] : mesh.face_start[f + 1]]:
            d = mesh.points[corner] - datum.origin_mm
            p = (d @ x, d @ y, d @ z)
            out.append(raw(projection, n, p))
    angle = math.radians(-placement.turn_deg)
    c, s = math.cos(angle), math.sin(angle)
    shifted = np.array(out) - placement.offset_mm
    return (shifted @ np.array([[c, -s], [s, c]]).T) / placement.scale


def raw(projection, n, p):
    px, py, pz = p
    if isinstance(projection, Planar):
        return (-px, py) if n[2] < 0 and projection.backs == "unmirrored" else (px, py)
    size = np.abs(n)
    axis = next(i for i in range(3) if size[i] >= size.max() - 1e-6)
    return {
        (0, True): (py, pz), (0, False): (-py, pz),
        (1, True): (-px, pz), (1, False): (px, pz),
        (2, True): (px, py), (2, False): (px, -py),
    }[axis, bool(n[axis] >= 0)]  # fmt: skip


@settings(max_examples=60, deadline=None)
@given(
    st.sampled_from([Planar(), Planar("unmirrored"), Box()]),
    directions, directions, st.tuples(lengths, lengths, lengths),
    st.floats(-720, 720), st.tuples(lengths, lengths), st.tuples(st.floats(0.01, 50), st.floats(0.01, 50)),
)  # fmt: skip
def test_laying_is_what_the_contract_says(projection, x, z, origin, turn, offset, scale):
    assume(np.linalg.norm(np.cross(x, z)) >= 0.05)
    shape = trimesh.creation.icosphere(subdivisions=1, radius=800)
    surface = Surface(mesh_of(shape.vertices, shape.faces))
    datum = Datum(origin, x, z)
    finish = Finish("f", BRICK, All(), projection, datum, turn, None, offset, scale)
    got = laid(surface, finish)
    want = by_the_page(surface.mesh, surface.normals, projection, datum, Placement(turn, offset, scale))
    np.testing.assert_allclose(got, want, atol=1e-6)


def test_box_sides_of_a_cube_read_the_right_way_round():
    """Seen from outside, s runs to the right and t up on every upright side."""
    surface = Surface(cuboid())
    finish = Finish("f", BRICK, All(), Box(), Datum())
    st_ = laid(surface, finish)
    for f, (right, up) in enumerate(
        [((1, 0, 0), (0, -1, 0)), ((1, 0, 0), (0, 1, 0)), ((1, 0, 0), (0, 0, 1)),
         ((-1, 0, 0), (0, 0, 1)), ((0, 1, 0), (0, 0, 1)), ((0, -1, 0), (0, 0, 1))]
    ):  # fmt: skip
        corners = surface.mesh.points[surface.mesh.corners[4 * f : 4 * f + 4]]
        np.testing.assert_allclose(st_[4 * f : 4 * f + 4, 0], corners @ right)
        np.testing.assert_allclose(st_[4 * f : 4 * f + 4, 1], corners @ up)
        assert np.dot(np.cross(right, up), surface.normals[f]) > 0


def test_box_ties_go_to_x_before_y_before_z():
    # A face that looks along (1, 1, 1) belongs to x; one a hair outside the tie belongs to z.
    points = [(0, 0, 0), (1000, -1000, 0), (1000, 0, -1000)]
    tie = Surface(mesh_of(points, [(0, 2, 1)] if np.cross(points[1], points[2])[0] < 0 else [(0, 1, 2)]))
    st_ = laid(tie, Finish("f", BRICK, All(), Box(), Datum()))
    np.testing.assert_allclose(st_[:, 0], tie.mesh.points[tie.mesh.corners][:, 1])


def test_planar_agrees_with_vtk_after_the_change_of_units():
    """VTK 9 vtkTextureMapToPlane: origin and two points span 0 to 1 in each direction."""
    shape = trimesh.creation.icosphere(subdivisions=2, radius=500)
    surface = Surface(mesh_of(shape.vertices, shape.faces))
    datum = Datum((100.0, -50.0, 20.0), (1.0, 0.4, 0.0), (0.2, 0.1, 1.0))
    x, y, _ = datum.axes
    data = vtk.vtkPolyData()
    points = vtk.vtkPoints()
    points.SetDataTypeToDouble()
    for p in shape.vertices:
        points.InsertNextPoint(*p)
    data.SetPoints(points)
    plane = vtk.vtkTextureMapToPlane()
    plane.SetInputData(data)
    plane.SetOrigin(*datum.origin_mm)
    plane.SetPoint1(*(np.array(datum.origin_mm) + x * 900))
    plane.SetPoint2(*(np.array(datum.origin_mm) + y * 600))
    plane.Update()
    uv = vtk_to_numpy(plane.GetOutput().GetPointData().GetTCoords())[surface.mesh.corners]
    finish = Finish("f", BRICK, All(), Planar(), datum)
    ours = laid(surface, finish) / (900, 600)
    np.testing.assert_allclose(ours, uv, atol=2e-6)


def test_four_quarter_turns_are_none_exactly():
    raw = np.array([[123.456, -7.1], [0.1, 900.3]])
    for turn in (360, 720, -360):
        m = Placement(turn).matrix
        assert (raw @ m[:, :2].T + m[:, 2] == raw).all()
    m = Placement(90).matrix
    # Turned counter-clockwise, what lay on the right of the sheet's origin now lies above it.
    np.testing.assert_array_equal(np.array([0.0, 5.0]) @ m[:, :2].T + m[:, 2], [5.0, 0.0])


def test_grain_on_the_face_replaces_the_turn():
    walnut = Material("walnut", (600, 1200), grain_deg=90)
    finish = Finish("f", walnut, All(), turn_deg=None, grain_deg=30)
    assert finish.placement.turn_deg == -60


def test_the_last_pick_wins_and_the_rest_is_bare():
    surface = Surface(cuboid())
    rows = cover(surface, [Facing((0, 0, 1), 100), Faces((4,)), Parts(("nothing*",))])
    assert rows.tolist() == [BARE, 0, 0, 0, 1, 0]


@pytest.mark.parametrize("x, z", [((0, 0, 0), (0, 0, 1)), ((0, 0, 2), (0, 0, -1)), ((1, 0, 0), (0, 0, 0)),
                                  ((float("nan"), 0, 0), (0, 0, 1))])  # fmt: skip
def test_axes_that_span_nothing_are_an_error(x, z):
    with pytest.raises(FrameError):
        _ = Datum((0, 0, 0), x, z).axes


def test_planar_fits_itself_to_an_oblique_face():
    rng = np.random.default_rng(4)
    q, _ = np.linalg.qr(rng.standard_normal((3, 3)))
    q = q * np.sign(np.linalg.det(q))
    rectangle = np.array([(0, 0, 0), (2000, 0, 0), (2000, 1000, 0), (0, 1000, 0)]) @ q.T + (7000, 100, -3)
    surface = Surface(mesh_of(rectangle, [(0, 1, 2, 3)]))
    finish = Finish("f", BRICK, All(), Planar())
    datum = settle(surface, finish).pieces[0].datum
    np.testing.assert_allclose(datum.z_axis, q[:, 2], atol=1e-9)
    assert datum.x_axis[2] == pytest.approx(0, abs=1e-9), "courses run level"
    st_ = lay_raw(surface, np.zeros(1, np.int32), settle(surface, finish))
    assert st_.min() == pytest.approx(0, abs=1e-3), "the sheet begins at the lower left"


def test_box_fits_itself_to_the_lowest_corner():
    surface = Surface(cuboid(2000, 300, 1000))
    datum = settle(surface, Finish("f", BRICK, Facing((0, 0, 1), 5), Box())).pieces[0].datum
    assert datum.origin_mm == (0.0, 0.0, 1000.0)
    assert datum.axes.tolist() == np.eye(3).tolist()


def test_a_row_that_tiles_hides_the_single_sheets_beneath_it():
    """Row by row, face by face: the last that holds a face; the last that tiles there; the single sheets over that."""
    surface = Surface(cuboid())
    rows = [(False, (0, 1, 2)), (True, (1, 2, 3)), (False, (2, 3)), (True, (3,)), (False, (0, 4))]
    finishes = [
        Finish(f"F{at}", Material("m", (900.0, 600.0)), Faces(faces), Planar(), Datum(), tile=tile)
        for at, (tile, faces) in enumerate(rows)
    ]
    found = layers(surface, finishes)
    assert found.base.tolist() == [BARE, 1, 1, 3, BARE, BARE]
    assert {row: np.flatnonzero(mask).tolist() for row, mask in found.singles.items()} == {
        0: [0],
        2: [2],
        4: [0, 4],
    }
    last, _ = layers_of(6, [(tile, np.array(faces, np.int32)) for tile, faces in rows])
    assert last.tolist() == [4, 1, 2, 3, 4, BARE]
