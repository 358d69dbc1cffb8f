"""Flow against closed forms, and on strips of every kind.

The closed forms follow from making the sum over the surface of (stretch - 1)² as small as it can be with courses straight
between the borders: along a circle of radius r, s = c a, so c makes the integral of (c/r - 1)² r dr least.
"""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as some

from pivrel.core.geometry.surface import Surface
from pivrel.core.measure.stretch import stretch
from pivrel.core.projection import Flow
from pivrel.core.solve.ground import Ground
from tests.bent import (
    bent_pipe,
    cone,
    grid,
    random_strip,
    sector,
    split_vault,
    torus_half,
    twisted_band,
    winding_wall,
)
from tests.lengths import at_length
from tests.shapes import cuboid, mesh_of, strips

REPEAT = (300.0, 200.0)
INNER, OUTER, ANGLE, RISE = 1000.0, 2000.0, np.pi / 2, 300.0


def everything(surface):
    return np.arange(surface.mesh.face_count, dtype=np.int32)


def solved(surface, flow=None):
    return (flow or Flow()).solve(Ground(surface, everything(surface)), REPEAT)


def by_corner(surface, solution):
    st = np.full((surface.mesh.corner_count, 2), np.nan)
    st[surface.corners_of(solution.faces)] = solution.st
    return st


def stretched(surface, solution):
    """Greatest and least stretch and area of each triangle, and the smallest determinant."""
    own = np.flatnonzero(surface.held(solution.faces)[surface.triangle_face])
    st = by_corner(surface, solution)
    high, low, det = stretch(surface.mesh.points, surface.mesh.corners, surface.triangles[own], st)
    return high, low, surface.triangle_areas[own], det.min()


def assert_true(surface, solution):
    high, low, _, det = stretched(surface, solution)
    assert len(solution.faces) == surface.mesh.face_count and not solution.troubles
    assert det > 0 and low.min() > 1 - 1e-6 and high.max() < 1 + 1e-6


CUTS = {
    "quads": ({"cut": "quads"}, 1),
    "triangles": ({"cut": "triangles"}, 1),
    "either diagonal, jittered": ({"cut": "either", "jitter": 0.3}, 1),
    "needles": ({"cut": "triangles"}, 4),
}


@pytest.mark.parametrize(("how", "finer"), CUTS.values(), ids=CUTS)
@pytest.mark.parametrize("rise", [0.0, RISE], ids=["annular sector", "helicoid"])
def test_a_sector_has_the_length_of_its_closed_form(how, finer, rise):
    """c = w / ln(Ro / Ri); on a helicoid c = w / (asinh(Ro / p) - asinh(Ri / p))."""
    surface = grid(sector(INNER, OUTER, ANGLE, rise), 144 * finer, 128, **how)
    width = OUTER - INNER
    inverse = np.arcsinh(OUTER / rise) - np.arcsinh(INNER / rise) if rise else np.log(OUTER / INNER)
    (frame,) = solved(surface).frames
    assert frame.form == "strip"
    assert frame.size_mm == pytest.approx((width / inverse * ANGLE, width), rel=5e-5)


def len_of(line):
    """How long a line is, in mm."""
    return float(np.linalg.norm(np.diff(line.points, axis=0), axis=1).sum())


def test_a_ring_on_a_cone_goes_round_in_the_length_of_its_closed_form():
    surface = grid(cone(INNER, OUTER, 800.0), 512, 96, closed=True)
    width = np.hypot(OUTER - INNER, 800.0)
    # Along the slope from r1 to r2, d(slope) = dr / sin(half angle).
    length = 2 * np.pi * width / (np.log(OUTER / INNER) * width / (OUTER - INNER))
    (frame,) = solved(surface).frames
    assert frame.form == "ring"
    assert frame.size_mm == pytest.approx((length, width), rel=5e-5)
    # Its borders are closed circles.
    around = sorted(len_of(line) for line in frame.lines if line.name != "cut")
    assert around == pytest.approx([2 * np.pi * INNER, 2 * np.pi * OUTER], rel=1e-4)


def test_the_outer_half_of_a_torus_has_its_closed_form():
    """W = pi r, c = pi sqrt(R² - r²) / (4 atan(sqrt((R - r) / (R + r))))."""
    big, small = 2000.0, 600.0
    surface = grid(torus_half(big, small), 512, 128, closed=True)
    c = np.pi * np.sqrt(big**2 - small**2) / (4 * np.arctan(np.sqrt((big - small) / (big + small))))
    (frame,) = solved(surface).frames
    assert frame.size_mm == pytest.approx((2 * np.pi * c, np.pi * small), rel=5e-5)


@pytest.mark.parametrize(
    "surface",
    [Surface(strips(96)), split_vault(96, 5), split_vault(96, 7), split_vault(95, 5)],
    ids=["whole edges", "5 pieces", "7 pieces", "odd"],
)
def test_a_vault_of_flat_strips_is_true_whatever_its_edges_are_split_into(surface):
    found = solved(surface)
    assert_true(surface, found)
    count = 96 if surface.mesh.face_count == 96 else 95
    (frame,) = found.frames
    assert frame.size_mm[0] == pytest.approx(count * 2000 * np.sin(np.pi / (2 * count)), abs=1e-3)
    assert frame.size_mm[1] == pytest.approx(500, abs=1e-3)


def test_a_quarter_cylinder_and_a_winding_wall_are_true():
    quarter = Surface(strips(24, arc_deg=90.0))
    assert_true(quarter, solved(quarter))
    wall = grid(winding_wall(), 96, 24)
    assert_true(wall, solved(wall))


def test_the_shift_turns_the_borders_and_corners_can_be_stated():
    wall = grid(winding_wall(), 48, 12)
    sizes = [solved(wall, Flow(shift=k)).frames[0].size_mm for k in range(4)]
    assert sizes[1] == pytest.approx(sizes[0][::-1], rel=1e-6) and sizes[2] == pytest.approx(
        sizes[0], rel=1e-6
    )
    begins = [solved(wall, Flow(shift=k)).frames[0].corners[0] for k in range(4)]
    corners = ((0, 0, 0), (6000, 0, 0), (6000, 0, 2400), (0, 0, 2400))
    np.testing.assert_allclose(begins, np.array(corners, float), atol=1e-6)
    stated = solved(wall, Flow(corners=corners[2:] + corners[:2]))
    np.testing.assert_allclose(stated.frames[0].corners[0], corners[2], atol=1e-6)
    assert (
        solved(wall, Flow(corners=(corners[0],) * 4))
        .troubles[0]
        .endswith("two corners of the flow stand at the same place of the border: move one of them")
    )


def test_limits_and_whole_repeats_are_met():
    wall = grid(winding_wall(), 48, 12)
    limited = solved(wall, Flow(limits_mm=(6000.0, 2000.0)))
    assert limited.frames[0].size_mm == pytest.approx((6000, 2000))
    assert np.ptp(limited.st, axis=0) == pytest.approx((6000, 2000))
    ring = grid(cone(INNER, OUTER, 800.0), 96, 24, closed=True)
    loose, whole = (
        solved(ring, Flow(whole_repeats=on)).frames[0].size_mm[0] / REPEAT[0] for on in (False, True)
    )
    assert whole == pytest.approx(round(loose), rel=1e-9) and loose != pytest.approx(whole, abs=1e-3)


def test_the_sheet_stretched_onto_the_borders_lies_on_them_by_their_length():
    surface = grid(sector(INNER, OUTER, ANGLE), 40, 20)
    held = solved(surface, Flow(hold="borders", repeats=(4, 2)))
    st, place = by_corner(surface, held), surface.mesh.points[surface.mesh.corners]
    assert np.ptp(held.st, axis=0) == pytest.approx((1200, 400))
    radius, angle = np.hypot(place[:, 0], place[:, 1]), np.arctan2(place[:, 0], -place[:, 1])
    flip = st[np.argmin(radius), 1] > 1
    for r in (INNER, OUTER):
        rim = np.abs(radius - r) < 1e-6
        share = angle[rim] / ANGLE
        np.testing.assert_allclose(st[rim, 0], 1200 * (1 - share if flip else share), atol=1e-6)
    assert stretched(surface, held)[3] > 0
    kept = solved(surface, Flow(hold="borders", repeats=(4, 2), proportion="along")).frames[0].size_mm
    mean = (INNER + OUTER) / 2 * ANGLE
    assert kept == pytest.approx((1200, (OUTER - INNER) * 1200 / mean), rel=1e-3)


def flat_region(outline, holes=(), bent=None, cell=97.0):
    """A flat region cut along a grid, on a cylinder of this radius where it is bent."""
    polygon = shapely.Polygon(outline, holes)
    x0, y0, x1, y1 = polygon.bounds
    ids, faces = {}, []
    for x in np.arange(x0, x1, cell):
        for y in np.arange(y0, y1, cell):
            piece = shapely.constrained_delaunay_triangles(
                polygon.intersection(shapely.box(x, y, x + cell, y + cell))
            )
            for triangle in piece.geoms:
                ring = shapely.geometry.polygon.orient(triangle).exterior.coords[:3]
                if triangle.area > 1e-6:
                    faces.append([ids.setdefault((round(a, 6), round(b, 6)), len(ids)) for a, b in ring])
    x, y = np.array(list(ids)).T
    place = [x, y, 0 * x] if bent is None else [bent * np.sin(x / bent), y, bent * (1 - np.cos(x / bent))]
    return Surface(mesh_of(np.column_stack(place), faces))


LONG = [(0, 0), (2000, 0), (2000, 600), (0, 600)]
ROUND_HOLES = [list(shapely.Point(x, 310).buffer(140).exterior.coords) for x in (500, 1300)]
REGIONS = {
    "five corners": ([(0, 0), (2000, 0), (2000, 600), (300, 600), (0, 350)], ()),
    "a notch": ([(0, 0), (800, 0), (800, 250), (1100, 250), (1100, 0), (2000, 0), (2000, 600), (0, 600)], ()),
    "holes": (LONG, ROUND_HOLES),
    "slanted": ([(0, 0), (2000, 0), (2600, 600), (600, 600)], ()),
    "pointed": ([(0, 0), (2000, 0), (2400, 300), (2000, 600), (0, 600)], ()),
    "an L": ([(0, 0), (2000, 0), (2000, 2000), (1400, 2000), (1400, 600), (0, 600)], ()),
    "a triangle": ([(0, 0), (2000, 0), (1000, 1200)], ()),
    "round": (list(shapely.Point(0, 0).buffer(800).exterior.coords)[:-1], ()),
}


@pytest.mark.parametrize("name", REGIONS)
@pytest.mark.parametrize("bent", [None, 800.0], ids=["flat", "bent"])
def test_no_face_is_flipped(name, bent):
    surface = flat_region(*REGIONS[name], bent=bent)
    found = solved(surface)
    assert not found.troubles and stretched(surface, found)[3] > 0
    if name in ("a notch", "holes", "slanted"):
        # What is cut out of a strip does not bend its courses.
        high, low, area, _ = stretched(surface, found)
        true = (low > 1 / 1.05) & (high < 1.05)
        assert area[true].sum() > 0.999 * area.sum()


def test_a_strip_with_slanted_ends_begins_at_its_first_corner():
    surface = flat_region(*REGIONS["slanted"])
    found = solved(surface)
    places = surface.mesh.points[surface.mesh.corners]
    (frame,) = found.frames
    at = int(np.argmin(np.linalg.norm(places - frame.corners[0], axis=1)))
    assert found.laid(surface, everything(surface))[at] == pytest.approx((0, 0), abs=1e-6)


def test_a_pipe_runs_from_end_to_end_and_its_seam_closes_on_whole_repeats():
    pipe = grid(bent_pipe(), 32, 80, closed=True)
    found = solved(pipe, Flow(whole_repeats=True))
    (frame,) = found.frames
    assert frame.form == "tube" and len(found.cuts) >= 80
    assert frame.size_mm[1] / REPEAT[1] == pytest.approx(round(frame.size_mm[1] / REPEAT[1]))
    assert stretched(pipe, found)[3] > 0
    across = solved(pipe, Flow(shift=1)).frames[0]
    assert across.form == "ring"


def test_the_cut_of_a_ring_does_not_show_in_the_result():
    ring = grid(cone(INNER, OUTER, 800.0), 96, 24, closed=True)
    one, other = (solved(ring, Flow(start=(INNER * np.cos(a), INNER * np.sin(a), 0.0))) for a in (0.0, 2.0))
    (a, *_), (b, *_) = stretched(ring, one), stretched(ring, other)
    np.testing.assert_allclose(a, b, atol=1e-5)
    assert not np.allclose(one.frames[0].corners[0], other.frames[0].corners[0])


def test_what_has_no_borders_says_so_and_lays_nothing():
    for surface, words in (
        (twisted_band(), "has only one side"),
        (grid(torus_whole, 48, 24, closed=True), "closes on itself"),
        (Surface(mesh_of([(0, 0, 0), (1, 0, 0), (0, 1, 0.5)], [(0, 1, 2)])), None),
    ):
        found = solved(surface)
        if words:
            assert len(found.faces) == 0 and words in found.troubles[0], found.troubles
        else:
            assert_true(surface, found)


def test_a_handle_is_told_from_a_border():
    surface = grid(torus_whole, 48, 24, closed=True)
    found = Flow().solve(Ground(surface, everything(surface)[1:]), REPEAT)
    assert "tunnel" in found.troubles[0]


def torus_whole(u, v):
    """Closed along u alone by the grid; the far border is put on the near one."""
    r = 2000 + 600 * np.cos(2 * np.pi * v)
    return np.column_stack(
        [r * np.cos(2 * np.pi * u), r * np.sin(2 * np.pi * u), 600 * np.sin(2 * np.pi * v)]
    )


def test_a_closed_body_is_taken_apart_at_its_creases():
    found = solved(Surface(cuboid(900, 700, 500)))
    assert len(found.faces) == 6 and len(found.frames) == 6 and not found.troubles


@pytest.mark.slow
@settings(max_examples=at_length(40, 200), deadline=None, derandomize=True)
@given(some.integers(0, 10_000))
def test_random_strips_are_never_flipped(seed):
    surface = random_strip(seed)
    found = solved(surface)
    assert not found.troubles and stretched(surface, found)[3] > 0


def strip_of(points, faces):
    return Surface(mesh_of(np.array(points, float), faces))


HARD = {
    "one quad": strip_of([(0, 0, 0), (900, 0, 0), (900, 400, 0), (0, 400, 0)], [(0, 1, 2, 3)]),
    "three faces at an edge": strip_of(
        [
            (0, 0, 0),
            (0, 500, 0),
            (800, 0, 0),
            (800, 500, 0),
            (-600, 0, 500),
            (-600, 500, 500),
            (0, 0, 700),
            (0, 500, 700),
        ],
        [(0, 2, 3, 1), (0, 1, 5, 4), (0, 1, 7, 6)],
    ),
    "touching at a corner": strip_of(
        [(0, 0, 0), (900, 0, 0), (900, 400, 0), (0, 400, 0), (1800, 400, 0), (1800, 800, 0), (900, 800, 0)],
        [(0, 1, 2, 3), (2, 4, 5, 6)],
    ),
    "folded back on itself": strip_of(
        [(0, 0, 0), (900, 0, 0), (900, 400, 0), (0, 400, 0), (100, 0, 1), (100, 400, 1)],
        [(0, 1, 2, 3), (1, 4, 5, 2)],
    ),
    "faces without area between": strip_of(
        [(0, 0, 0), (900, 0, 0), (900, 400, 0), (0, 400, 0), (1800, 0, 0), (1800, 400, 0), (900, 200, 0)],
        [(0, 1, 2, 3), (1, 6, 2), (1, 4, 5, 2, 6)],
    ),
    "one face wound the other way": strip_of(
        [(0, 0, 0), (900, 0, 0), (900, 400, 0), (0, 400, 0), (1800, 0, 0), (1800, 400, 0)],
        [(0, 1, 2, 3), (1, 2, 5, 4)],
    ),
}


@pytest.mark.parametrize("surface", HARD.values(), ids=HARD)
def test_hard_picks_are_laid_all_the_same(surface):
    found = solved(surface)
    assert not found.troubles and len(found.faces) == surface.mesh.face_count
    assert np.isfinite(found.st).all()
    high, low, area, _ = stretched(surface, found)
    assert high[area > 0].max() < 1 + 1e-6 and low[area > 0].min() > 1 - 1e-6


def test_a_pick_without_area_and_one_of_two_million_faces_say_so():
    line = strip_of([(0, 0, 0), (900, 0, 0), (1800, 0, 0)], [(0, 1, 2)])
    assert solved(line).troubles == ("none of the picked faces has any area",)
    large = grid(winding_wall(), 2000, 1000, cut="quads")
    assert solved(large).troubles[0].startswith("the pick has more than 1,000,000 triangles")


@pytest.mark.parametrize("surface", [grid(cone(INNER, OUTER, 800.0), 96, 24, closed=True), grid(bent_pipe(), 32, 60, closed=True)],
                         ids=["ring", "tube"])  # fmt: skip
def test_a_picture_runs_once_round_from_where_it_begins_and_keeps_its_proportion_or_not(surface):
    place = surface.mesh.points[surface.mesh.corners]
    start = tuple(place[5].tolist())
    held = solved(surface, Flow(hold="borders", repeats=(1, 1), start=start))
    (frame,) = held.frames
    assert frame.size_mm == pytest.approx(REPEAT) and stretched(surface, held)[3] > 0
    np.testing.assert_allclose(frame.corners[0], near_border(surface, start), atol=1e-6)
    ring = frame.form == "ring"
    kept = solved(
        surface, Flow(hold="borders", repeats=(1, 1), start=start, proportion="along" if ring else "across")
    )
    sizes = kept.frames[0].size_mm
    plain = solved(surface).frames[0].size_mm
    # Once round is one repeat still; the other way it is as much larger as the surface is.
    assert sizes[0 if ring else 1] == pytest.approx(REPEAT[0 if ring else 1])
    assert sizes[0] / sizes[1] == pytest.approx(plain[0] / plain[1], rel=0.15)


def near_border(surface, place):
    """The border vertex nearest to a place."""
    topology = surface.topology
    rim = surface.mesh.points[surface.mesh.corners[topology.open_edges]]
    return rim[np.argmin(((rim - place) ** 2).sum(axis=1))]
