"""Fits that see the shape within the shape: the dominant plate, the outward side, the shaft among its shoulders."""

import math

import igl
import numpy as np
import pytest
import trimesh
from shapely.geometry import Polygon

from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.winding import MANY, winding_numbers
from pivrel.core.laying.finish import Finish
from pivrel.core.picks import Faces
from pivrel.core.projection import Aim, Cylindrical, Planar, fit
from pivrel.core.sheet import Material
from pivrel.core.trials import trials
from pivrel.recipe.projections import trial_candidates
from tests.core.test_fits import angle_between, every, turned
from tests.shapes import column, cuboid, mesh_of, revolved

L_PROFILE = [(0, 0), (400, 0), (400, 6), (6, 6), (6, 300), (0, 300)]


def l_bracket(turn=None):
    points = np.array([(x, y, z) for y in (0, 200) for x, z in L_PROFILE], float)
    faces = [
        tuple(range(6)),
        tuple(range(11, 5, -1)),
        *(((i + 1) % 6, i, i + 6, (i + 1) % 6 + 6) for i in range(6)),
    ]
    return Surface(mesh_of(points if turn is None else points @ turn.T, faces))


@pytest.mark.parametrize("seed", range(4))
def test_an_l_brackets_planar_trial_serves_its_larger_plate(seed):
    """Closed form: both sides of the 400 x 200 plate, and the two narrow edges that lie along it, are true."""
    q = turned(seed)
    bracket = l_bracket(q)
    found = fit(bracket, every(bracket), Planar())
    assert angle_between(found.datum.axes[2], q[:, 2]) < 1e-4
    area = bracket.face_areas.sum()
    true = (400 * 200 + 394 * 200 + 6 * 200) / area
    assert found.share == pytest.approx(true, abs=1e-9)
    finish = Finish("trial", Material("m", (100.0, 100.0)), Faces(tuple(range(8))))
    planar = next(
        t
        for t in trials(bracket, finish, trial_candidates(), Aim())
        if isinstance(t.finish.projection, Planar)
    )
    assert planar.figures.true_share == pytest.approx(true, abs=1e-6)
    assert f"{true * 100:.0f}\u00a0%" in planar.why


def parts_of_fifty():
    """(name, vertices, triangles, closed) of fifty parts: solids, thin boards, shells without a side, sheets."""
    rng = np.random.default_rng(7)
    for k in range(50):
        kind = k % 10
        q = turned(k)
        if kind in (0, 1):
            shape = trimesh.creation.box(rng.uniform(20, 900, 3))
        elif kind == 2:
            shape = trimesh.creation.box((900, 40, 2000))
        elif kind == 3:
            shape = trimesh.creation.cylinder(radius=rng.uniform(20, 300), height=rng.uniform(20, 900))
        elif kind == 4:
            shape = trimesh.creation.cone(radius=200, height=rng.uniform(100, 700))
        elif kind == 5:
            shape = trimesh.creation.icosphere(subdivisions=2, radius=300)
            shape.apply_scale((1, 0.7, 0.2))
        elif kind == 6:
            shape = trimesh.creation.extrude_polygon(Polygon(L_PROFILE), rng.uniform(50, 500))
        elif kind == 7:
            shape = trimesh.creation.box((400, 300, 200))
            shape.update_faces(shape.face_normals[:, 2] > -0.5)
        elif kind == 8:
            shape = trimesh.creation.box((500, 300, 100))
            shape.invert()
        else:
            shape = trimesh.creation.icosphere(subdivisions=3, radius=400)
            shape.update_faces(shape.triangles_center[:, 2] > 150)
        shape.vertices = shape.vertices @ q.T + rng.uniform(-2000, 2000, 3)
        yield f"{k}", np.array(shape.vertices), np.array(shape.faces), bool(shape.is_watertight)


@pytest.mark.parametrize(("name", "points", "triangles", "closed"), list(parts_of_fifty()))
def test_planar_looks_outward_by_the_winding_number_of_libigl(name, points, triangles, closed):
    """Against libigl 2.6 winding_number: of the faces along the fit, more area is seen from its front than its back.

    A pick on one side only looks out of that side; the whole part, alike from both sides, towards the viewer.
    """
    surface = Surface(mesh_of(points, triangles))
    normals = surface.normals / np.linalg.norm(surface.normals, axis=1, keepdims=True)
    middles = points[triangles].mean(axis=1)
    off = 1e-3 * np.sqrt(surface.face_areas)[:, None] * normals
    before, behind = (np.abs(igl.winding_number(points, triangles, middles + s * off)) for s in (1, -1))
    outward = normals * np.sign(behind - before)[:, None]
    for towards in ((0.3, -0.8, 0.5), (-0.6, 0.5, -0.6)):
        for picked in (every(surface), np.flatnonzero(outward @ towards > 0).astype(np.int32)):
            if not len(picked):
                continue
            z = fit(surface, picked, Planar(), Aim(towards=towards)).datum.axes[2]
            facing = np.abs(normals[picked] @ z) >= np.sqrt(0.5)
            area = surface.face_areas[picked] * facing
            seen = float((area * np.sign(outward[picked] @ z)).sum() / max(area.sum(), 1e-9))
            assert seen > -0.06, (name, closed)
            if abs(seen) < 0.04:
                assert z @ np.array(towards) >= -1e-9, "alike from both sides: as the viewer sees it"


def test_a_sheet_looks_towards_the_viewer_and_a_door_is_not_mirrored_in_front():
    sheet = Surface(mesh_of([(0, 0, 0), (900, 0, 0), (900, 0, 2000), (0, 0, 2000)], [(0, 1, 2, 3)]))
    for y in (-1.0, 1.0):
        z = fit(sheet, every(sheet), Planar(), Aim(towards=(0.2, y, 0.1))).datum.z_axis
        assert z == (0, y, 0)
    assert fit(sheet, every(sheet), Planar()).datum.z_axis == (0, -1, 0), "its own side, where nobody looks"
    door = Surface(cuboid(900, 40, 2000))
    for y in (-1.0, 1.0):
        assert fit(door, every(door), Planar(), Aim(towards=(0.2, y, 0.1))).datum.z_axis == (0, y, 0)


def test_winding_numbers_are_those_of_libigl():
    shape = trimesh.creation.icosphere(subdivisions=2, radius=300)
    shape.update_faces(shape.triangles_center[:, 0] > -100)
    places = np.random.default_rng(3).uniform(-500, 500, (200, 3))
    points, faces = np.array(shape.vertices), np.array(shape.faces)
    own = winding_numbers(places, *(points[faces[:, k]] for k in range(3)))
    np.testing.assert_allclose(own, igl.winding_number(points, faces, places), atol=1e-9)


# (profile as (radius, height), the radius that is meant, half angle)
TURNED_PARTS = {
    "bottle": ([(0, 0), (33, 0), (36, 3), (36, 200), (33, 212), (24, 224), (14, 230), (14, 258), (12, 260), (0, 260)], 36.0, 0.0),
    "stepped shaft": ([(0, 0), (20, 0), (20, 20), (30, 20), (30, 260), (22, 260), (22, 275), (0, 275)], 30.0, 0.0),
    "pipe with flanges": ([(41, 0), (60, 0), (60, 10), (45, 10), (45, 700), (60, 700), (60, 710), (41, 710)], 45.0, 0.0),
    "cone with caps": ([(0, 0), (100, 0), (60, 500), (0, 500)], None, math.degrees(math.atan(40 / 500))),
}  # fmt: skip


@pytest.mark.parametrize("name", TURNED_PARTS)
@pytest.mark.parametrize("seed", range(3))
def test_turned_parts_give_their_main_radius_and_axis_with_a_fifth_of_the_area_off_it(name, seed):
    profile, radius, half_angle = TURNED_PARTS[name]
    q, shift = turned(seed + 20), np.array((500.0, -200.0, 90.0))
    part = revolved(profile, 96)
    handle = Surface(cuboid(*(0.35 * np.ptp(part.bounds, axis=0))))
    # A handle beside it, so that not even what is off the shape lies round its axis.
    points = np.concatenate([part.mesh.points, handle.mesh.points * (1, 0.5, 1) + (radius or 80, -20, 40)])
    count = len(part.mesh.points)
    faces = [
        part.mesh.corners[a:b] for a, b in zip(part.mesh.face_start, part.mesh.face_start[1:], strict=False)
    ]
    faces += [
        handle.mesh.corners[a:b] + count
        for a, b in zip(handle.mesh.face_start, handle.mesh.face_start[1:], strict=False)
    ]
    surface = Surface(mesh_of(points @ q.T + shift, faces))
    centres = (surface.centroids - shift) @ q
    normals = (surface.normals / np.linalg.norm(surface.normals, axis=1, keepdims=True)) @ q
    if radius is None:
        on_it = np.abs(normals[:, 2] - math.sin(math.radians(half_angle))) < 2e-3
    else:
        on_it = (np.abs(np.hypot(*centres[:, :2].T) - radius) < 0.01 * radius) & (
            np.abs(normals[:, 2]) < 1e-6
        )
    off_share = 1 - surface.face_areas[on_it].sum() / surface.face_areas.sum()
    assert off_share > 0.2
    found = fit(surface, every(surface), Cylindrical())
    assert angle_between(found.datum.axes[2], q[:, 2]) < 0.2
    assert found.share == pytest.approx(1 - off_share, abs=0.02)
    assert found.residual_mm < 0.01
    if radius is None:
        assert found.half_angle_deg == pytest.approx(half_angle, rel=0.003)
        low = found.datum.origin_mm
        height = abs(float((np.array(low) - shift) @ q[:, 2]))
        assert found.radius_mm > 60 and height < 1000
    else:
        assert found.radius_mm == pytest.approx(radius, rel=0.003)
        laid = Cylindrical().settled(surface, every(surface), found.datum, (100.0, 100.0))
        assert laid.radius_mm == pytest.approx(radius, rel=0.003), "what the sheet is rolled round"


def test_a_cylinder_on_nothing_has_a_radius_too():
    surface = Surface(column(12, 150.0))
    nothing = np.zeros(0, np.int32)
    assert (
        Cylindrical()
        .settled(surface, nothing, fit(surface, nothing, Cylindrical()).datum, (10.0, 10.0))
        .radius_mm
        == 1.0
    )


def test_the_radius_of_a_plain_column_is_still_the_contracts_mean_of_its_sides():
    surface = Surface(column(12, 150.0))
    laid = Cylindrical().settled(
        surface, every(surface), fit(surface, every(surface), Cylindrical()).datum, (100.0, 100.0)
    )
    assert laid.radius_mm == pytest.approx(150 * math.cos(math.pi / 12), rel=1e-9)


def test_a_body_of_many_triangles_winds_round_places_as_libigl_finds():
    """Inside, outside and close to the surface, where what lies far off is taken together (to within 0.01)."""
    ball = trimesh.creation.icosphere(subdivisions=6)
    points, triangles = ball.vertices * (1000, 2000, 500), ball.faces
    corners = points[triangles]
    rng = np.random.default_rng(2)
    chosen = rng.integers(0, len(triangles), 60)
    normal = np.cross(corners[chosen, 1] - corners[chosen, 0], corners[chosen, 2] - corners[chosen, 0])
    off = 0.5 * normal / np.linalg.norm(normal, axis=1, keepdims=True)
    middles = corners[chosen].mean(axis=1)
    places = np.concatenate([middles + off, middles - off, rng.uniform(-2000, 2000, (200, 3))])
    assert len(triangles) > MANY
    found = winding_numbers(places, *(np.ascontiguousarray(corners[:, k]) for k in range(3)))
    np.testing.assert_allclose(found, igl.winding_number(points, triangles, places), atol=0.02)
    assert (np.abs(found[:60]) < 0.05).all() and (found[60:120] > 0.95).all()
