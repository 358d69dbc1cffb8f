"""Roll and camera against closed forms."""

import json
import subprocess
from pathlib import Path

import numpy as np
import pytest

from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.projection import Camera, Roll
from pivrel.core.solve.ground import Ground
from tests.bent import cone, grid, winding_wall
from tests.core.test_flow import assert_true, by_corner, everything, stretched
from tests.shapes import cuboid, mesh_of, strips

REPEAT = (300.0, 200.0)


def rolled(surface, roll=None):
    return (roll or Roll()).solve(Ground(surface, everything(surface)), REPEAT)


@pytest.mark.parametrize(
    "surface",
    [
        Surface(strips(96)),
        grid(winding_wall(), 96, 8),
        grid(cone(200.0, 1000.0, 1385.0, 1.5 * np.pi), 128, 16),
    ],
    ids=["vault", "winding wall", "cone"],
)
def test_what_can_be_unrolled_is_true_without_a_seam(surface):
    found = rolled(surface)
    assert_true(surface, found)
    # The two sides of every edge lie together.
    st, after = by_corner(surface, found), surface.topology.next_corner
    one, other = surface.topology.pairs.T
    gap = np.maximum(
        np.linalg.norm(st[one] - st[after[other]], axis=1), np.linalg.norm(st[after[one]] - st[other], axis=1)
    )
    assert gap.max() <= 1e-6


def test_a_cone_unrolls_to_a_sector_of_the_angle_of_its_closed_form():
    """phi * sin(half angle), for the flat facets as well as for the cone that they stand for."""
    count, angle, half = 600, 1.5 * np.pi, np.radians(30.0)
    surface = grid(cone(200.0, 1000.0, 800.0 / np.tan(half), angle), count, 4)
    found = rolled(surface)
    st, place = by_corner(surface, found), surface.mesh.points[surface.mesh.corners]
    around = np.arctan2(place[:, 1], place[:, 0]) % (2 * np.pi)
    low, high = np.argmin(around), np.argmax(np.where(around > angle + 1e-6, -1, around))

    def direction(corner):
        rim = np.isclose(around, around[corner], atol=1e-9)
        radius = np.hypot(*place[rim, :2].T)
        a, b = st[rim][np.argmin(radius)], st[rim][np.argmax(radius)]
        return np.arctan2(*(b - a)[::-1])

    turned = abs(direction(high) - direction(low))
    # A facet between two rules of the cone at an angle d round its axis has the angle 2 asin(sin(half) sin(d / 2)).
    facets = count * 2 * np.arcsin(np.sin(half) * np.sin(angle / count / 2))
    found_deg, facets_deg, cone_deg = np.degrees([turned, facets, angle * np.sin(half)])
    assert min(found_deg, 360 - found_deg) == pytest.approx(facets_deg, abs=1e-4)
    assert facets_deg == pytest.approx(cone_deg, abs=1e-3)


def test_every_face_of_a_body_is_true_and_begins_where_asked():
    body = Surface(cuboid(900, 700, 500))
    for start in (None, 3, (450.0, 0.0, 250.0)):
        found = rolled(body, Roll(start))
        assert_true(body, found)
    st = by_corner(body, found)
    front = st[8:12]
    assert front.min(axis=0) == pytest.approx((0, 0)) and front.max(axis=0) == pytest.approx((900, 500))


def test_faces_that_hang_together_are_true_near_the_start_and_softer_far_away():
    def cap(u, v):
        a, b = 2 * u, v
        return 1000 * np.column_stack([np.cos(a) * np.cos(b), np.sin(a) * np.cos(b), np.sin(b)])

    surface = grid(cap, 60, 60)
    found = rolled(surface, Roll((540.0, 841.0, 0.0), together=True))
    high, low, _, det = stretched(surface, found)
    assert det > 0
    off = np.maximum(high - 1, 1 - low)
    away = np.linalg.norm(surface.centroids[surface.triangle_face] - [540, 841, 0], axis=1)
    assert off[away < 200].max() < 0.015 < off[away > 900].mean()
    closed = rolled(Surface(cuboid()), Roll(together=True))
    assert not closed.troubles, "taken apart at its creases"


FRONTEND = Path(__file__).parents[2] / "frontend"
EYE, TARGET = (4000.0, -6000.0, 2500.0), (500.0, 300.0, 400.0)


def test_a_camera_lays_the_sheet_as_vtk_throws_a_picture():
    """vtkProjectedTexture, whose aspect ratio stands for the frustum: s' = s / (D w) + 1/2 with w the width at distance 1."""
    rng = np.random.default_rng(3)
    points = rng.uniform(-800, 800, (500, 3))
    aspect = (0.8, 0.6, 1.0)
    # Loading all of it takes seconds.
    import vtk
    from vtk.util.numpy_support import numpy_to_vtk, vtk_to_numpy

    cloud = vtk.vtkPolyData()
    held = vtk.vtkPoints()
    held.SetData(numpy_to_vtk(points, deep=True))
    cloud.SetPoints(held)
    thrower = vtk.vtkProjectedTexture()
    thrower.SetInputData(cloud)
    thrower.SetPosition(*EYE)
    thrower.SetFocalPoint(*TARGET)
    thrower.SetUp(0, 0, 1)
    thrower.SetAspectRatio(*aspect)
    thrower.Update()
    told = vtk_to_numpy(thrower.GetOutput().GetPointData().GetTCoords())
    eye = Camera(EYE, TARGET).in_eye(points)
    distance = 5000.0
    st = eye[:, :2] * distance / eye[:, 2:]
    mine = st / distance / np.array(aspect[:2]) + 0.5
    np.testing.assert_allclose(mine, told, atol=2e-6)


THROWN_BY_THREE = """
import { PerspectiveCamera, Vector3 } from "three";
import { readFileSync } from "node:fs";
const { eye, target, up, fov, aspect, points } = JSON.parse(readFileSync(0, "utf8"));
const camera = new PerspectiveCamera(fov, aspect, 1, 100000);
camera.up.set(...up);
camera.position.set(...eye);
camera.lookAt(...target);
camera.updateMatrixWorld(true);
console.log(JSON.stringify(points.map((p) => { const n = new Vector3(...p).project(camera); return [n.x, n.y]; })));
"""


def test_a_camera_lays_the_sheet_as_three_js_projects():
    """Its normalized device coordinates run from -1 to 1 over the picture: s = x D aspect tan(fov / 2)."""
    rng = np.random.default_rng(5)
    points = rng.uniform(-800, 800, (500, 3))
    up, fov, aspect, distance = (0.1, 0.2, 1.0), 38.0, 1.6, 5000.0
    asked = {"eye": EYE, "target": TARGET, "up": up, "fov": fov, "aspect": aspect, "points": points.tolist()}
    run = subprocess.run(
        ["node", "--input-type=module", "-e", THROWN_BY_THREE],
        cwd=FRONTEND, input=json.dumps(asked), capture_output=True, text=True, check=True,
    )  # fmt: skip
    half = distance * np.tan(np.radians(fov / 2))
    told = np.array(json.loads(run.stdout)) * (aspect * half, half)
    triangles = Surface(mesh_of(points[:498], np.arange(498).reshape(-1, 3)))
    laid = Camera(EYE, TARGET, up, distance).solve(Ground(triangles, everything(triangles)), REPEAT)
    mine = by_corner(triangles, laid)
    np.testing.assert_allclose(mine, told[:498], atol=1e-6 * distance)
    eye = Camera(EYE, TARGET, up).in_eye(points)
    np.testing.assert_allclose(eye[:, :2] * distance / eye[:, 2:], told, atol=1e-6 * distance)


def test_a_camera_has_its_size_at_its_distance_and_leaves_bare_what_lies_behind():
    body = Surface(cuboid(900, 700, 500))
    facing = Camera((450.0, -3000.0, 250.0), (450.0, 0.0, 250.0), at_mm=3000.0).solve(
        Ground(body, everything(body)), REPEAT
    )
    front = by_corner(body, facing)[8:12]
    assert np.ptp(front, axis=0) == pytest.approx((900, 500))
    measured = Camera(EYE, TARGET).settled(body, everything(body), Datum(), REPEAT)
    middle = body.face_areas @ body.centroids / body.face_areas.sum()
    assert measured.at_mm == pytest.approx(measured.in_eye(middle[None])[0, 2])
    within = Camera((450.0, 350.0, 250.0), (450.0, 700.0, 250.0)).solve(
        Ground(body, everything(body)), REPEAT
    )
    assert within.faces.tolist() == [3] and within.troubles == (
        "5 faces lie behind the camera, or reach behind it",
    )


def test_how_far_a_throw_is_off_within_a_face_is_told():
    """Half way between depths d1 and d2 the true place is the mean weighted by depth, not the plain one."""
    floor = Surface(mesh_of([(0, 1000, 0), (1000, 1000, 0), (0, 3000, 0)], [(0, 1, 2)]))
    camera = Camera((0.0, 0.0, 1000.0), (0.0, 1000.0, 1000.0), at_mm=1000.0)
    # Along the slanted edge s = 1000 * x / d is 1000 and 0; half way, at x = 500 and d = 2000, it is 250 and not 500.
    assert camera.off_within(floor, everything(floor)) == pytest.approx(250)
