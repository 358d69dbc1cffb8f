"""Normals and triangles of polygons, against mapbox_earcut, shapely-like area sums and trimesh."""

import mapbox_earcut
import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from pivrel.core.geometry.polygons import face_normals, triangle_areas, triangulate
from pivrel.core.geometry.surface import Surface
from tests.shapes import cuboid, mesh_of


def areas(points, faces):
    mesh = mesh_of(points, faces)
    surface = Surface(mesh)
    return surface


def turned(flat, rng):
    """A flat outline somewhere in space, by a random rotation."""
    q, _ = np.linalg.qr(rng.standard_normal((3, 3)))
    return np.column_stack([flat, np.zeros(len(flat))]) @ q.T + rng.uniform(-5000, 5000, 3)


def star(radii, rng):
    a = np.linspace(0, 2 * np.pi, len(radii), endpoint=False)
    return turned(np.column_stack([np.cos(a) * radii, np.sin(a) * radii]), rng)


@given(
    st.lists(st.floats(10, 1000), min_size=3, max_size=40),
    st.integers(0, 2**31),
)
def test_triangles_fill_star_shaped_polygons_exactly(radii, seed):
    points = star(np.array(radii), np.random.default_rng(seed))
    surface = areas(points, [range(len(points))])
    whole = np.linalg.norm(surface.normals[0])
    assert surface.triangle_areas.sum() == pytest.approx(whole, rel=1e-9)
    # No triangle looks the other way: nothing overlaps where the sum is right.
    corners = points[surface.triangles]
    cross = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    assert (cross @ surface.normals[0] >= -1e-6 * whole).all()


def test_concave_outline_agrees_with_mapbox_earcut():
    flat = np.array(
        [(0, 0), (2400, 0), (2400, 2175), (3525, 2175), (3525, 0), (6000, 0), (6000, 2625), (0, 2625)], float
    )
    surface = areas(np.column_stack([flat, np.zeros(8)]), [range(8)])
    reference = mapbox_earcut.triangulate_float64(flat, np.array([8], np.uint32)).reshape(-1, 3)
    assert len(surface.triangles) == len(reference) == 6
    assert surface.triangle_areas.sum() == pytest.approx(6000 * 2625 - 1125 * 2175)


def test_a_split_edge_does_not_cost_the_corner_its_triangle():
    surface = areas([(0, 0, 0), (500, 0, 0), (1000, 0, 0), (1000, 800, 0), (0, 800, 0)], [range(5)])
    assert surface.triangle_areas.sum() == pytest.approx(800_000)
    assert set(surface.triangles.ravel()) == {0, 1, 2, 3, 4}


def test_repeated_corners_and_keyholes():
    # A square frame: the hole is reached by an edge that the outline runs along twice.
    points = [(0, 0, 0), (9, 0, 0), (9, 9, 0), (0, 9, 0), (3, 3, 0), (3, 6, 0), (6, 6, 0), (6, 3, 0)]
    frame = [0, 1, 2, 3, 0, 4, 5, 6, 7, 4]
    assert areas(points, [frame]).triangle_areas.sum() == pytest.approx(81 - 9)
    twice = areas(points, [[0, 1, 1, 2, 3]])
    assert twice.triangle_areas.sum() == pytest.approx(81)


def test_a_crossed_or_flat_polygon_ends_and_has_no_nan():
    points = [(0, 0, 0), (10, 10, 0), (10, 0, 0), (0, 10, 0), (5, 5, 0)]
    crossed = areas(points, [[0, 1, 2, 3]])
    assert np.isfinite(crossed.triangle_areas).all()
    flat = areas([(0, 0, 0), (1, 0, 0), (2, 0, 0), (3, 0, 0)], [[0, 1, 2, 3]])
    assert len(flat.triangles) == 0
    assert flat.face_areas.tolist() == [0.0]


def test_area_vectors_agree_with_trimesh_far_from_the_origin():
    sphere = trimesh.creation.icosphere(subdivisions=2, radius=700)
    shift = np.array([4.1e8, -2.7e8, 9.0e6])
    mesh = mesh_of(sphere.vertices + shift, sphere.faces)
    normals = face_normals(mesh.points, mesh.corners, mesh.face_start)
    expected = sphere.face_normals * sphere.area_faces[:, None]
    np.testing.assert_allclose(normals, expected, atol=2e-4)
    found = triangle_areas(
        mesh.points, mesh.corners, triangulate(mesh.points, mesh.corners, mesh.face_start, normals)[0]
    )
    np.testing.assert_allclose(found, sphere.area_faces, rtol=1e-6)


def test_shading_normals_stay_sharp_at_creases_and_turn_smoothly_elsewhere():
    cube = Surface(cuboid())
    np.testing.assert_allclose(cube.shading_normals[:4], [[0, 0, -1]] * 4, atol=1e-6)
    sphere = trimesh.creation.icosphere(subdivisions=3, radius=1000)
    surface = Surface(mesh_of(sphere.vertices, sphere.faces))
    outward = (sphere.vertices / 1000)[surface.mesh.corners]
    assert (np.einsum("ij,ij->i", surface.shading_normals, outward) > 0.9995).all()
