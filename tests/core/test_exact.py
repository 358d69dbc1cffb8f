"""Exact surfaces in place of fits: a bored hole as a CAD file states it."""

import numpy as np
import pytest

from pivrel.core.geometry.exact import ExactSurface
from pivrel.core.geometry.fits.exact import same_surface
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import settle
from pivrel.core.laying.finish import Finish
from pivrel.core.measure.figures import measure
from pivrel.core.picks import Patches, as_faces, resolve
from pivrel.core.projection import Cylindrical, Spherical, fit
from pivrel.core.sheet import Material
from pivrel.formats.bundle import Upload
from pivrel.formats.reading import read_model
from tests.formats import cad


@pytest.fixture(scope="module")
def fixture():
    return Surface(read_model("fixture.step", cad.step(), Upload({})).mesh)


def patch_of(surface, kind):
    return next(i for i, exact in enumerate(surface.mesh.exact) if exact.kind == kind)


def test_a_bored_hole_has_the_exact_axis_and_radius_and_is_true_to_scale(fixture):
    pick = Patches((patch_of(fixture, "cylinder"),))
    faces = as_faces(resolve(pick, fixture))
    found = fit(fixture, faces, Cylindrical())
    assert found.radius_mm == pytest.approx(6, abs=1e-6) and found.residual_mm == 0
    assert np.linalg.norm(np.cross(found.datum.axes[2], cad.HOLE_AXIS)) < 1e-6
    finish = Finish("Bore", Material("brick", (5, 5), 0.0), pick, Cylindrical(), found.datum)
    settled = settle(fixture, finish)
    bore = settled.pieces[0].projection
    assert isinstance(bore, Cylindrical) and bore.radius_mm == pytest.approx(6, abs=1e-6)
    figures = measure(fixture, finish, faces, settled)
    assert figures.least_stretch > 1 / 1.001 and figures.greatest_stretch < 1.001


def test_a_ball_and_a_cone(fixture):
    ball = as_faces(resolve(Patches((patch_of(fixture, "sphere"),)), fixture))
    found = fit(fixture, ball, Spherical())
    np.testing.assert_allclose(found.datum.origin_mm, (140, 0, 0), atol=1e-6)
    assert Spherical().settled(fixture, ball, found.datum, (1, 1)).radius_mm == pytest.approx(9, abs=1e-9)
    cone = as_faces(resolve(Patches((patch_of(fixture, "cone"),)), fixture))
    assert fit(fixture, cone, Cylindrical()).half_angle_deg == pytest.approx(
        np.degrees(np.arctan2(6, 15)), abs=1e-6
    )


def test_a_datum_elsewhere_measures_the_radius(fixture):
    faces = as_faces(resolve(Patches((patch_of(fixture, "cylinder"),)), fixture))
    off = fit(fixture, faces, Cylindrical()).datum
    aside = type(off)((0.0, 0.0, 0.0), off.x_axis, off.z_axis)
    assert Cylindrical().settled(fixture, faces, aside, (1, 1)).radius_mm > 15


def test_what_counts_as_one_surface():
    cone = ExactSurface("cone", (0, 0, 0), (0, 0, 1), 10, 0, 30)
    further = ExactSurface("cone", (0, 0, 5), (0, 0, 1), 10 + 5 * np.tan(np.radians(30)), 0, 30)
    over = ExactSurface("cone", (0, 0, 5), (0, 0, -1), further.radius_mm, 0, -30)
    assert same_surface(cone, further) and same_surface(further, over) and same_surface(cone, over)
    assert not same_surface(cone, ExactSurface("cone", (0, 0, 5), (0, 0, 1), 10, 0, 30))
    plane = ExactSurface("plane", (0, 0, 3), (0, 0, 1))
    assert same_surface(plane, ExactSurface("plane", (9, 9, 3), (0, 0, -1)))
    assert not same_surface(plane, ExactSurface("plane", (0, 0, 4), (0, 0, 1)))
    assert not same_surface(ExactSurface("free-form"), ExactSurface("free-form"))
    ring = ExactSurface("torus", (0, 0, 0), (0, 0, 1), 12, 3)
    assert same_surface(ring, ring) and not same_surface(
        ring, ExactSurface("torus", (0, 0, 0), (0, 0, 1), 12, 2)
    )
