"""Strokes along the grain, stretch by face, the drawn sides of a projection, and layers."""

import numpy as np
import pytest

from pivrel.core.geometry.frames import Datum, turned
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE, lay, layers, settle
from pivrel.core.laying.finish import Finish
from pivrel.core.measure.faces import face_stretch
from pivrel.core.measure.grain_strokes import grain_angle, grain_strokes
from pivrel.core.picks import All, Faces
from pivrel.core.projection import Box, Cylindrical, Planar, Spherical, Triplanar
from pivrel.core.projection.affine import composed
from pivrel.core.projection.box import RULES
from pivrel.core.projection.charts import reach
from pivrel.core.sheet import Material
from tests.shapes import column, cuboid, prism_45

OAK = Material("oak", (600.0, 400.0), 20.0)
UP = Datum()


def strokes(surface, finish, spacing):
    faces = np.arange(surface.mesh.face_count, dtype=np.int32)
    return grain_strokes(surface, finish, faces, settle(surface, finish), spacing)


@pytest.mark.parametrize("turn, scale", [(0, (1, 1)), (35, (1, 1)), (0, (2, 0.5)), (70, (-1, 1))])
def test_strokes_run_along_the_grain_of_the_laid_sheet(turn, scale):
    surface = Surface(cuboid(2000, 1500, 1000))
    finish = Finish("f", OAK, All(), Box(), UP, float(turn), None, (30.0, 7.0), scale)
    found = strokes(surface, finish, 100.0)
    along = found[:, 1] - found[:, 0]
    np.testing.assert_allclose(np.linalg.norm(along, axis=1), 55.0, rtol=1e-9)
    # Both ends laid as if they were corners of the sheet: the way from one to the other is the grain's.
    face_of = np.argmin(
        [np.abs(found.mean(axis=1) @ n - d) for n, d in
         [((1, 0, 0), 2000), ((1, 0, 0), 0), ((0, 1, 0), 1500), ((0, 1, 0), 0), ((0, 0, 1), 1000), ((0, 0, 1), 0)]],
        axis=0,
    )  # fmt: skip
    maps = composed(RULES, UP, finish.placement.matrix)[:, :, :3]
    laid = np.einsum("nij,nj->ni", maps[face_of], along)
    angle = np.degrees(np.arctan2(laid[:, 1], laid[:, 0])) % 180
    np.testing.assert_allclose(angle, 20.0, atol=1e-6)
    assert set(face_of) == set(range(6)), "on every face"


def test_strokes_are_evenly_spaced_in_millimetres():
    surface = Surface(cuboid(3000, 2000, 1000))
    finish = Finish("f", Material("m", (500, 500)), Faces((1,)), Planar(), UP)
    found = grain_strokes(surface, finish, np.array([1], np.int32), settle(surface, finish), 100.0)
    assert len(found) == pytest.approx(3000 * 2000 / 100**2, rel=0.05)
    middles = found.mean(axis=1)
    for middle in middles[:: len(middles) // 12]:
        others = np.sort(np.linalg.norm(middles - middle, axis=1))[1:3]
        # In its own row, and in the next, which is shifted by half.
        assert (others > 99.9).all() and (others < np.hypot(100, 50) + 0.1).all()


def test_a_face_that_no_stroke_falls_on_has_one_at_its_middle():
    surface = Surface(cuboid(60, 60, 60))
    finish = Finish("f", OAK, All(), Box(), Datum((-51.0, -53.0, -57.0)))
    assert len(strokes(surface, finish, 110.0)) >= 6
    assert len(strokes(surface, finish, 1000.0)) <= 6, "but not on crumbs"


def test_a_stated_grain_is_the_grains_angle():
    finish = Finish("f", OAK, All(), Box(), UP, None, 75.0)
    assert np.degrees(grain_angle(finish)) % 180 == pytest.approx(75.0)


def test_stretch_by_face_says_the_worst_of_it():
    surface = Surface(prism_45())
    finish = Finish("f", OAK, All(), Planar(), UP)
    found = face_stretch(surface, finish, np.arange(3, dtype=np.int32), settle(surface, finish))
    np.testing.assert_allclose(found.low, [1, np.sqrt(0.5), 0], atol=1e-12)
    np.testing.assert_allclose(found.high, [1, 1, 1], atol=1e-12)
    assert found.kind.tolist() == [0, 0, 2]


@pytest.mark.parametrize(
    "projection", [Planar(), Box(), Box("wrapped"), Cylindrical(), Spherical(), Triplanar()]
)
def test_charts_lie_where_the_projection_lays(projection):
    """A place of the model that lies on a chart is at that chart's own (s, t)."""
    surface = Surface(
        column(48, 400, 900) if projection.kind in ("cylindrical", "spherical") else cuboid(900, 700, 500)
    )
    if projection.kind == "planar":
        surface = Surface(cuboid(900, 700, 0.0))
    datum = turned(Datum((10.0, -5.0, 0.0)), "z", 0.0)
    finish = Finish("f", OAK, All(), projection, None if projection == Box("wrapped") else datum)
    faces = np.arange(surface.mesh.face_count, dtype=np.int32)
    settled = settle(surface, finish)
    bounds = reach(surface, faces, settled.pieces[0].datum)
    sides = settled.pieces[0].projection.charts(bounds)
    raw = lay(surface, finish, faces, settled)
    points = surface.mesh.points[surface.mesh.corners] - settled.pieces[0].datum.origin_mm
    points = points @ settled.pieces[0].datum.axes.T
    met = 0
    for chart in sides:
        if chart.shape == "flat":
            places = np.array(chart.origin) + raw[:, :1] * chart.along + raw[:, 1:] * chart.up
        else:
            a = raw[:, 0] / chart.along_mm
            t = raw[:, 1]
            flat = chart.radius_mm * (np.cos(t / chart.radius_mm) if chart.shape == "sphere" else 1)
            up = chart.radius_mm * np.sin(t / chart.radius_mm) if chart.shape == "sphere" else t
            places = np.column_stack([flat * np.cos(a), flat * np.sin(a), up])
        if chart.shape == "flat":
            met += (np.linalg.norm(places - points, axis=1) < 1e-6).sum()
        else:
            # The chart is the true round; the model's corners stand in the same direction from its axis.
            aligned = (
                np.abs(places[:, 0] * points[:, 1] - places[:, 1] * points[:, 0]) < 1e-3 * chart.radius_mm**2
            )
            met += aligned.sum()
    assert met >= len(points) * {"planar": 0.6, "cylindrical": 0.66}.get(projection.kind, 0.9), (
        "caps and edges aside"
    )


def test_single_sheets_lie_over_what_tiles():
    surface = Surface(cuboid())
    rows = [
        Finish("base", OAK, All()),
        Finish("sign", OAK, Faces((1, 2)), tile=False),
        Finish("over", OAK, Faces((2, 3))),
        Finish("label", OAK, Faces((3,)), tile=False),
    ]
    found = layers(surface, rows)
    assert found.base.tolist() == [0, 0, 2, 2, 0, 0]
    assert [np.flatnonzero(found.singles[k]).tolist() for k in (1, 3)] == [[1], [3]]
    alone = layers(surface, rows[1:2])
    assert alone.base.tolist() == [BARE] * 6
