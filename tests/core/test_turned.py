"""Cylindrical and spherical laying against VTK, closed forms, and the contract word by word."""

import math

import numpy as np
import pytest
import trimesh
import vtk
from hypothesis import given, settings
from hypothesis import strategies as st
from vtk.util.numpy_support import vtk_to_numpy

from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import lay, settle
from pivrel.core.laying.finish import Finish
from pivrel.core.measure.figures import measure, stretches
from pivrel.core.picks import All, Faces
from pivrel.core.projection import Box, Cylindrical, Spherical
from pivrel.core.projection.turned import angles
from pivrel.core.sheet import Material
from tests.shapes import column, mesh_of, strips

TILE = Material("tile", (300.0, 200.0))
UP = Datum()


def laid(surface, projection, datum=UP, material=TILE, faces=None, **placed):
    finish = Finish("f", material, All(), projection, datum, **placed)
    faces = np.arange(surface.mesh.face_count, dtype=np.int32) if faces is None else faces
    return lay(surface, finish, faces, settle(surface, finish))


def figures(surface, projection, datum=UP, material=TILE, pick=None):
    pick = pick or All()
    finish = Finish("f", material, pick, projection, datum)
    faces = np.array(pick.ids if isinstance(pick, Faces) else range(surface.mesh.face_count), np.int32)
    return measure(surface, finish, faces, settle(surface, finish))


def ball(subdivisions=2, radius=500.0):
    shape = trimesh.creation.icosphere(subdivisions=subdivisions, radius=radius)
    return Surface(mesh_of(shape.vertices, shape.faces))


def vtk_data(points):
    data, held = vtk.vtkPolyData(), vtk.vtkPoints()
    held.SetDataTypeToDouble()
    for p in points:
        held.InsertNextPoint(*p)
    data.SetPoints(held)
    return data


def turns_apart(ours, theirs):
    """How far two fractions of a turn are apart, whole turns aside."""
    d = ours - theirs
    return np.abs(d - np.round(d))


def test_angles_are_those_of_the_library():
    rng = np.random.default_rng(8)
    y = np.concatenate(
        [rng.uniform(-1, 1, 200_000), rng.standard_normal(1000) * 1e-9, [0, 0, 0, -0.0, 1, -1, 0, 3]]
    )
    x = np.concatenate(
        [rng.uniform(-1, 1, 200_000), rng.standard_normal(1000), [1, -1, 0, -1, 0, 0, -0.0, 3]]
    )
    out = np.empty_like(x)
    angles(y, x, out)
    # (-pi, pi]: the seam itself counts as +pi, from whichever side zero came.
    expected = np.arctan2(np.where(y == 0, 0.0, y), np.where(x == 0, 0.0, x))
    assert np.abs(out - expected).max() <= 5e-16
    assert out[-7] == np.pi == out[-5]


def test_cylinder_agrees_with_vtk_after_the_change_of_units_and_seam():
    """VTK 9 vtkTextureMapToCylinder: u runs once round from Point1's own zero, v from Point1 to Point2."""
    surface = ball()
    low, high = (30.0, -20.0, -700.0), (30.0, -20.0, 900.0)
    mapper = vtk.vtkTextureMapToCylinder()
    mapper.SetInputData(vtk_data(surface.mesh.points))
    mapper.AutomaticCylinderGenerationOff()
    mapper.PreventSeamOff()
    mapper.SetPoint1(*low)
    mapper.SetPoint2(*high)
    mapper.Update()
    theirs = vtk_to_numpy(mapper.GetOutput().GetPointData().GetTCoords())[surface.mesh.corners]
    radius = 400.0
    ours = laid(surface, Cylindrical(radius, caps=False), Datum(low))
    np.testing.assert_allclose(ours[:, 1] / 1600.0, theirs[:, 1], atol=1e-6)
    u = ours[:, 0] / (2 * np.pi * radius)
    # VTK measures from another direction and may go the other way round: one shift must fit everywhere.
    best = min(
        turns_apart(sign * u + shift, theirs[:, 0]).max()
        for sign in (1, -1)
        for shift in (0, 0.25, 0.5, 0.75)
    )
    assert best < 1e-5


def test_sphere_agrees_with_vtk_after_the_change_of_units_and_seam():
    """VTK 9 vtkTextureMapToSphere: v is the angle down from +z over pi, u the angle round over 2 pi."""
    surface = ball()
    mapper = vtk.vtkTextureMapToSphere()
    mapper.SetInputData(vtk_data(surface.mesh.points))
    mapper.AutomaticSphereGenerationOff()
    mapper.PreventSeamOff()
    mapper.SetCenter(40.0, 10.0, -30.0)
    mapper.Update()
    theirs = vtk_to_numpy(mapper.GetOutput().GetPointData().GetTCoords())[surface.mesh.corners]
    radius = 480.0
    ours = laid(surface, Spherical(radius), Datum((40.0, 10.0, -30.0)))
    latitude = 0.5 - ours[:, 1] / (np.pi * radius)
    assert min(np.abs(latitude - theirs[:, 1]).max(), np.abs(1 - latitude - theirs[:, 1]).max()) < 1e-5
    u = ours[:, 0] / (2 * np.pi * radius)
    away = np.abs(np.abs(ours[:, 1] / radius) - np.pi / 2) > 1e-3  # poles have no angle of their own
    best = min(
        turns_apart(sign * u + shift, theirs[:, 0])[away].max()
        for sign in (1, -1)
        for shift in (0, 0.25, 0.5, 0.75)
    )
    assert best < 1e-5


@settings(max_examples=40)
@given(st.floats(10, 3000), st.integers(3, 60), st.floats(-700, 700))
def test_a_strip_laid_round_a_cylinder_is_two_pi_r_wide(radius, sides, turn):
    surface = Surface(column(sides))
    x = (math.cos(math.radians(turn)), math.sin(math.radians(turn)), 0.0)
    st_ = laid(surface, Cylindrical(radius), Datum(x_axis=x))
    sides_only = st_[: 4 * sides].reshape(sides, 4, 2)
    widths = np.ptp(sides_only[:, :, 0], axis=1)
    assert widths.sum() == pytest.approx(2 * math.pi * radius, rel=1e-9)
    assert widths == pytest.approx(np.full(sides, 2 * math.pi * radius / sides), rel=1e-7), "none is torn"


def test_a_column_of_48_sides_is_true_all_round():
    surface = Surface(column(48))
    side = np.arange(48, dtype=np.int32)
    finish = Finish("f", TILE, Faces(tuple(range(48))), Cylindrical(), UP)
    settled = settle(surface, finish)
    laid_by = settled.pieces[0].projection
    assert isinstance(laid_by, Cylindrical | Spherical)
    assert laid_by.radius_mm == pytest.approx(150 * math.cos(math.pi / 48)), "of the flat sides"
    found = stretches(surface, finish, side, settled)
    assert max(np.abs(found.high - 1).max(), np.abs(found.low - 1).max()) < 0.003
    # The one seam is on the -x side, where 2 pi R is not a whole number of repeats.
    open_ = measure(surface, finish, side, settled)
    assert open_.seams_m == pytest.approx(3.0)
    around = 2 * math.pi * 150 * math.cos(math.pi / 48)
    assert open_.worst_gap_mm == pytest.approx(abs(around - round(around / 300) * 300))


def test_whole_repeats_close_the_seam_and_say_by_how_much():
    surface = Surface(column(48))
    closed = figures(surface, Cylindrical(whole_repeats=True), pick=Faces(tuple(range(48))))
    assert closed.seams_m == 0.0
    around = 2 * math.pi * 150 * math.cos(math.pi / 48)
    assert closed.closings == pytest.approx((3 * 300 / around,))
    assert figures(surface, Cylindrical()).closings == ()
    tiny = figures(surface, Cylindrical(20.0, whole_repeats=True), pick=Faces(tuple(range(48))))
    assert tiny.closings == pytest.approx((300 / (2 * math.pi * 20),)), "at least one repeat"


def test_caps_are_laid_flat_by_their_angle():
    surface = Surface(column(24))
    caps = np.array([24, 25], np.int32)
    flat = laid(surface, Cylindrical(), faces=caps)
    box = laid(surface, Box(), faces=caps)
    np.testing.assert_allclose(flat, box, atol=1e-9)
    kept_out = figures(surface, Cylindrical())
    assert (kept_out.smeared_m2, kept_out.true_share) == (0.0, 1.0)
    rolled = figures(surface, Cylindrical(caps=False))
    assert rolled.smeared_m2 == pytest.approx(2 * surface.face_areas[24] / 1e6)
    cone = trimesh.creation.cone(radius=300, height=300 / math.tan(math.radians(40)), sections=32)
    steep = Surface(mesh_of(cone.vertices, cone.faces))
    # Its sides look 40 degrees above the level, so they are 50 degrees off the axis.
    lean = np.degrees(np.arccos(np.abs(steep.normals[:, 2]) / np.linalg.norm(steep.normals, axis=1)))
    sides = np.flatnonzero(lean > 1).astype(np.int32)
    assert lean[sides] == pytest.approx(np.full(len(sides), 50), abs=0.3)
    as_caps = laid(steep, Cylindrical(200.0, cap_angle_deg=55.0), faces=sides)
    corners = steep.mesh.points[steep.mesh.corners[steep.corners_of(sides)]]
    np.testing.assert_allclose(as_caps, corners[:, :2], atol=1e-9)
    rolled_sides = laid(steep, Cylindrical(200.0, cap_angle_deg=45.0), faces=sides)
    np.testing.assert_allclose(rolled_sides[:, 1], corners[:, 2], atol=1e-9)


def test_a_corner_on_the_axis_takes_the_angle_of_its_face():
    shape = trimesh.creation.cone(radius=300, height=500, sections=16)
    surface = Surface(mesh_of(shape.vertices, shape.faces))
    st_ = laid(surface, Cylindrical(300.0, caps=False)).reshape(-1, 3, 2)
    points = surface.mesh.points[surface.mesh.corners].reshape(-1, 3, 3)
    for triangle, corners, centroid in zip(st_, points, surface.centroids, strict=True):
        middle = 300 * math.atan2(centroid[1], centroid[0])
        for (s, _), corner in zip(triangle, corners, strict=True):
            if math.hypot(corner[0], corner[1]) < 1e-9:
                assert s == pytest.approx(middle, abs=1e-9)
            else:
                assert abs(s - middle) <= 300 * math.pi + 1e-9


def test_sphere_is_true_on_its_equator_and_its_radius_is_measured_from_the_centre():
    surface = ball(4, 800.0)
    finish = Finish("f", TILE, All(), Spherical(), UP)
    settled = settle(surface, finish)
    laid_by = settled.pieces[0].projection
    assert isinstance(laid_by, Cylindrical | Spherical)
    assert laid_by.radius_mm == pytest.approx(800, rel=0.003)
    found = stretches(surface, finish, np.arange(surface.mesh.face_count, dtype=np.int32), settled)
    latitude = np.arcsin(surface.centroids[:, 2] / np.linalg.norm(surface.centroids, axis=1))
    near = np.abs(latitude) < 0.1
    assert np.abs(found.high[near] - 1).max() < 0.02
    # Longitude is drawn out by 1 / cos(latitude), the plate carree of cartographers.
    far = (np.abs(latitude) > 0.5) & (np.abs(latitude) < 1.2)
    np.testing.assert_allclose(found.high[far], 1 / np.cos(latitude[far]), rtol=0.08)
    np.testing.assert_allclose(found.low[far], 1.0, rtol=0.05)


def test_wrapped_box_runs_round_all_four_corners():
    """Section 4 of the contract: -y, +x, +y and -x follow each other without a gap."""
    from tests.shapes import cuboid

    surface = Surface(cuboid(1000, 600, 500))
    datum = Datum((500.0, 300.0, 0.0))
    sides = (2, 4, 3, 5)
    st_ = laid(surface, Box("wrapped", (1000, 600, 500)), datum).reshape(6, 4, 2)
    starts = [st_[f, :, 0].min() for f in sides]
    assert starts == pytest.approx([0, 1000, 1600, 2600])
    assert [st_[f, :, 0].max() for f in sides] == pytest.approx([1000, 1600, 2600, 3200])
    measured = settle(surface, Finish("f", TILE, All(), Box("wrapped"), None)).pieces[0]
    assert isinstance(measured.projection, Box) and measured.projection.size_mm
    assert measured.projection.size_mm[:2] == pytest.approx((1000, 600))
    assert measured.datum.origin_mm == pytest.approx((500, 300, 0))
    upright = Faces(tuple(sorted(sides)))
    tile = Material("tile", (320.0, 200.0))
    assert figures(surface, Box("wrapped"), None, tile, upright).seams_m == 0.0, "3200 is ten repeats of 320"
    assert figures(surface, Box(), None, tile, upright).seams_m > 0.0


def test_an_open_barrel_is_laid_without_a_seam_once_the_seam_is_turned_away():
    surface = Surface(strips(96, arc_deg=300))
    finish = Finish("f", TILE, All(), Cylindrical())
    faces = np.arange(96, dtype=np.int32)
    settled = settle(surface, finish)
    middle = math.radians(150)
    assert np.dot(settled.pieces[0].datum.x_axis, (math.cos(middle), math.sin(middle), 0)) == pytest.approx(
        1, abs=1e-6
    )
    assert measure(surface, finish, faces, settled).seams_m == 0.0
