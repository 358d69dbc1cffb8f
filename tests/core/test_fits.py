"""Datums found on a pick: planes, boxes, cylinders, cones and spheres, open and noisy ones too."""

import math

import numpy as np
import pytest
import trimesh

from pivrel.core.geometry.fits import plane
from pivrel.core.geometry.fits.edges import longest_edge
from pivrel.core.geometry.fits.tight_box import tightest_axes
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.projection import Aim, Box, Cylindrical, FitError, Planar, Spherical, fit, seam_turned
from tests.bent import grid
from tests.shapes import column, cuboid, mesh_of


def every(surface):
    return np.arange(surface.mesh.face_count, dtype=np.int32)


def turned(seed):
    q, _ = np.linalg.qr(np.random.default_rng(seed).standard_normal((3, 3)))
    return q * np.sign(np.linalg.det(q))


def sheet(rows, columns, place, noise=0.0, seed=0, turn=None, shift=(0, 0, 0)):
    """A grid of triangles over place(u, v) -> (x, y, z), u and v in 0 to 1."""
    u, v = np.meshgrid(np.linspace(0, 1, columns + 1), np.linspace(0, 1, rows + 1))
    points = np.stack(place(u.ravel(), v.ravel()), axis=1)
    points = points + noise * np.random.default_rng(seed).standard_normal(points.shape)
    points = points @ (np.eye(3) if turn is None else turn).T + shift
    n = columns + 1
    faces = [
        f
        for r in range(rows)
        for c in range(columns)
        for f in (
            (r * n + c, r * n + c + 1, (r + 1) * n + c + 1),
            (r * n + c, (r + 1) * n + c + 1, (r + 1) * n + c),
        )
    ]
    return Surface(mesh_of(points, faces))


def angle_between(a, b):
    return math.degrees(math.acos(min(1.0, abs(float(np.dot(a, b))))))


def test_planar_finds_the_faces_of_an_octahedron_without_an_angle_typed():
    """The faces of a regular octahedron stand acos(1/sqrt 3) = 54.7356 degrees from each axis."""
    points = [(1000, 0, 0), (-1000, 0, 0), (0, 1000, 0), (0, -1000, 0), (0, 0, 1000), (0, 0, -1000)]
    faces = [(x, y, z) if (x + y + z) % 2 == 0 else (y, x, z) for x in (0, 1) for y in (2, 3) for z in (4, 5)]
    surface = Surface(mesh_of(points, faces))
    for face in range(8):
        z = fit(surface, np.array([face], np.int32), Planar()).datum.axes[2]
        assert z @ surface.normals[face] > 0
        for axis in np.eye(3):
            assert angle_between(z, axis) == pytest.approx(54.7356, abs=1e-4)
        level = math.degrees(math.asin(abs(z[2])))
        assert level == pytest.approx(35.2644, abs=1e-4)


@pytest.mark.parametrize("noise", [0.0, 0.02])
def test_of_many_faces_a_sample_leads_to_the_plane_that_all_of_them_would(monkeypatch, noise):
    """A plate bent by 70 degrees, six tenths of it on one side, in 120,000 triangles."""
    bend = math.radians(70)

    def bent(u, v):
        along = np.maximum(u - 0.6, 0) * 1000
        return np.minimum(u, 0.6) * 1000 + along * math.cos(bend), v * 400, along * math.sin(bend)

    surface = sheet(200, 300, bent, noise=noise, turn=turned(5))
    assert surface.mesh.face_count > 2 * plane.SAMPLED - 1
    found = fit(surface, every(surface), Planar())
    assert angle_between(found.datum.axes[2], turned(5)[:, 2]) < (1e-5 if noise == 0 else 0.1)
    assert found.share == pytest.approx(0.6, abs=0.01)
    monkeypatch.setattr(plane, "SAMPLED", 10**9)
    by_all = fit(surface, every(surface), Planar())
    assert angle_between(found.datum.axes[2], by_all.datum.axes[2]) < (1e-5 if noise == 0 else 0.05)


def test_planar_is_the_least_squares_plane_of_the_area_not_of_the_vertices():
    """Against trimesh's own plane fit (trimesh 5 points.plane_fit) of an even sample of the surface."""
    shape = trimesh.creation.icosphere(subdivisions=3, radius=700)
    shape.apply_scale([1, 0.8, 0.08])
    shape.apply_transform(trimesh.transformations.rotation_matrix(0.7, [1, 2, 0.4]))
    half = shape.submesh([np.flatnonzero(shape.triangles_center @ (0.3, 0.1, 1) > 0)], append=True)
    surface = Surface(mesh_of(half.vertices, half.faces))
    z = fit(surface, every(surface), Planar()).datum.axes[2]
    sample, _ = trimesh.sample.sample_surface(half, 200_000, seed=3)
    assert angle_between(z, trimesh.points.plane_fit(sample)[1]) < 0.2


def test_planar_towards_a_face_an_axis_and_the_view():
    surface = Surface(cuboid(2000, 300, 1000))
    faces = every(surface)
    assert fit(surface, faces, Planar(), Aim("face", face=4)).datum.z_axis == (1, 0, 0)
    assert fit(surface, faces, Planar(), Aim("axis", axis="-y")).datum.z_axis == (0, -1, 0)
    eye = np.array([0.6, -0.64, 0.48])
    seen = fit(surface, faces, Planar(), Aim("view", towards=tuple(eye), right=(0.7, 0.7, 0.1))).datum
    assert seen.axes[2] == pytest.approx(eye / np.linalg.norm(eye))
    assert seen.axes[0] @ (0.7, 0.7, 0.1) > 0.9
    assert (fit(surface, faces, Planar()).datum.axes[2] == (0, 1, 0)).all(), "the thin way of a wall"
    with pytest.raises(FitError, match="face 77 does not exist"):
        fit(surface, faces, Planar(), Aim("face", face=77))


def test_planar_with_its_x_axis_along_the_longest_straight_edge():
    q = turned(5)
    # A gable: the sloped edge of 5 m is longer than the sill of 4 m that is in two pieces.
    gable = np.array([(0, 0, 0), (1500, 0, 0), (4000, 0, 0), (4000, 3000, 0)]) @ q.T
    surface = Surface(mesh_of(gable, [(0, 1, 2, 3)]))
    edge = longest_edge(surface, every(surface))
    assert angle_between(edge, q @ (0.8, 0.6, 0)) < 1e-6
    datum = fit(surface, every(surface), Planar(), Aim(along_edge=True)).datum
    assert angle_between(datum.axes[0], q @ (0.8, 0.6, 0)) < 1e-6
    flat = np.array([(0, 0, 0), (1500, 0, 0), (4000, 0, 0), (4000, 2000, 0), (0, 2000, 0)]) @ q.T
    wall = Surface(mesh_of(flat, [(0, 1, 2, 3, 4)]))
    assert angle_between(longest_edge(wall, every(wall)), q @ (1, 0, 0)) < 1e-6


@pytest.mark.parametrize("seed", range(6))
def test_tightest_box_is_as_tight_as_trimeshs(seed):
    """Against trimesh 5 bounds.oriented_bounds; and exact for a box that was turned."""
    rng = np.random.default_rng(seed)
    q = turned(seed)
    box = Surface(cuboid(*rng.uniform(200, 2000, 3)))
    axes = tightest_axes(box.mesh.points @ q.T)
    assert np.abs(np.abs(axes @ q) - np.eye(3)[np.argmax(np.abs(axes @ q), axis=1)]).max() < 1e-6
    points = rng.standard_normal((300, 3)) * (900, 400, 150) @ q.T
    own = tightest_axes(points)
    np.testing.assert_allclose(own @ own.T, np.eye(3), atol=1e-9)
    ours = np.prod(np.ptp(points @ own.T, axis=0))
    theirs = np.prod(trimesh.bounds.oriented_bounds(points)[1])
    assert ours <= theirs * 1.001


def test_box_fits_the_model_or_the_pick():
    q = np.array([[0.8, -0.6, 0], [0.6, 0.8, 0], [0, 0, 1.0]])
    surface = Surface(mesh_of(cuboid(3000, 500, 900).points @ q.T, [
        (0, 3, 2, 1), (4, 5, 6, 7), (0, 1, 5, 4), (2, 3, 7, 6), (1, 2, 6, 5), (3, 0, 4, 7)]))  # fmt: skip
    assert fit(surface, every(surface), Box()).datum.x_axis == (1, 0, 0)
    for aim in (Aim("box"), Aim("face", face=2), Aim(along_edge=True)):
        datum = fit(surface, every(surface), Box(), aim).datum
        assert datum.axes[0] == pytest.approx((0.8, 0.6, 0)), aim
        assert datum.axes[2] == pytest.approx((0, 0, 1)), aim


@pytest.mark.parametrize("seed", range(8))
def test_axis_and_radius_of_a_tilted_quarter_cylinder_with_five_per_cent_noise(seed):
    q, radius = turned(seed + 40), 300.0
    quarter = sheet(
        80, 80, lambda u, v: (radius * np.cos(u * np.pi / 2), radius * np.sin(u * np.pi / 2), v * 900 - 450),
        noise=0.05 * radius, seed=seed, turn=q, shift=(5000, -300, 80),
    )  # fmt: skip
    found = fit(quarter, every(quarter), Cylindrical())
    assert angle_between(found.datum.axes[2], q[:, 2]) < 1.0
    assert found.radius_mm == pytest.approx(radius, rel=0.02)
    assert found.residual_mm == pytest.approx(0.05 * radius, rel=0.15), "the noise that was put in"


def test_a_full_column_with_its_caps_and_a_tube_are_found_exactly():
    q = turned(2)
    for mesh in (column(48), column(7, 40, 60, rows=3)):
        tilted = Surface(mesh_of(mesh.points @ q.T, [
            mesh.corners[a:b] for a, b in zip(mesh.face_start[:-1], mesh.face_start[1:], strict=True)]))  # fmt: skip
        found = fit(tilted, every(tilted), Cylindrical())
        assert angle_between(found.datum.axes[2], q[:, 2]) < 1e-3
        assert found.radius_mm == pytest.approx(np.hypot(*mesh.points[0, :2]), rel=1e-6)
        assert found.residual_mm < 1e-3


@pytest.mark.parametrize("half_angle", [10.0, 30.0, 55.0])
def test_a_cone_gives_its_axis_and_apex_angle(half_angle):
    q, slope = turned(9), math.tan(math.radians(half_angle))
    cone = sheet(
        12, 48, lambda u, v: tuple((100 + v * 900) * slope * f(u * 1.3 * np.pi) for f in (np.cos, np.sin)) + (-v * 900,),
        turn=q, shift=(10, 20, 30),
    )  # fmt: skip
    # Its points lie on a true cone; a chord or two apart, so the angle is exact to the fit's own precision.
    found = fit(cone, every(cone), Cylindrical())
    assert angle_between(found.datum.axes[2], q[:, 2]) < 0.05
    assert found.half_angle_deg == pytest.approx(half_angle, abs=0.05)
    assert found.residual_mm < 0.05


def test_a_cap_of_a_sphere_gives_its_centre_and_radius():
    for noise, near in ((0.0, 1e-4), (8.0, 12.0)):
        cap = sheet(
            30, 30, lambda u, v: (
                800 * np.sin(v) * np.cos(u * 2 * np.pi), 800 * np.sin(v) * np.sin(u * 2 * np.pi), 800 * np.cos(v)),
            noise=noise, shift=(100, 200, 300),
        )  # fmt: skip
        found = fit(cap, every(cap), Spherical())
        assert found.datum.origin_mm == pytest.approx((100, 200, 300), abs=near)
        assert found.radius_mm == pytest.approx(800, abs=near)


def test_the_seam_goes_where_it_is_wanted():
    surface = Surface(column(48))
    seen_from = fit(surface, every(surface), Cylindrical(), Aim(towards=(1.0, 1.0, 0.5))).datum
    assert seen_from.x_axis == pytest.approx((math.sqrt(0.5), math.sqrt(0.5), 0))
    assert fit(surface, every(surface), Cylindrical()).datum.x_axis == pytest.approx((0, -1, 0))
    at_edge = seam_turned(Datum((0, 0, 50.0)), to_point=(150.0 * math.cos(1), 150 * math.sin(1), 900.0))
    assert at_edge.x_axis == pytest.approx((-math.cos(1), -math.sin(1), 0))
    with pytest.raises(FitError, match="axis itself"):
        seam_turned(Datum(), to_point=(0.0, 0.0, 12.0))


def test_fits_are_the_same_every_time_and_never_fail_on_odd_picks():
    for mesh in (cuboid(), column(5), mesh_of([(0, 0, 0), (1, 0, 0), (2, 0, 0)], [(0, 1, 2)])):
        surface = Surface(mesh)
        for projection in (Planar(), Box(), Cylindrical(), Spherical()):
            once = fit(surface, every(surface), projection).datum
            assert once == fit(surface, every(surface), projection).datum
            assert np.isfinite(once.to_datum).all()


@pytest.mark.parametrize("towards", [None, (0.0, -1.0, 0.0), (1.0, 0.2, 0.1), (-0.4, 1.0, 0.0)])
def test_the_seam_of_an_open_shape_lies_in_its_gap(towards):
    """Two thirds of a ring, wherever one looks from; a whole one has its seam away from the viewer."""

    def ring(u, v, arc_deg=240.0):
        a = 0.7 + np.radians(arc_deg) * u
        return np.column_stack([1000 * np.cos(a), 1000 * np.sin(a), 800 * v])

    surface = grid(ring, 40, 4)
    faces = np.arange(surface.mesh.face_count, dtype=np.int32)
    aim = Aim(towards=towards)
    x = Cylindrical().fit(surface, faces, aim).datum.axes[0]
    gap = 0.7 + np.radians(240) + np.radians(60)
    assert -x @ (np.cos(gap), np.sin(gap), 0) > np.cos(np.radians(5))
    whole = grid(lambda u, v: ring(u, v, 360.0), 12, 4, closed=True)
    x = Cylindrical().fit(whole, np.arange(48, dtype=np.int32), aim).datum.axes[0]
    wanted = np.array(towards or (0.0, -1.0, 0.0)) * (1, 1, 0)
    assert x @ wanted / np.linalg.norm(wanted) == pytest.approx(1.0)
