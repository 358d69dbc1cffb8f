"""Free flattening and grain lines."""

import igl
import numpy as np
import pytest

from pivrel.core.projection import Flow, Lines
from pivrel.core.solve.border import loops
from pivrel.core.solve.flattening import conformal, flattened
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.nearest import nearest_triangle
from pivrel.core.solve.region import find_regions
from pivrel.core.solve.strokes import BAND, felt
from pivrel.core.solve.system import jacobians, stretch_of
from tests.bent import bent_pipe, cone, grid, sector, torus_half, winding_wall
from tests.core.test_flow import assert_true, by_corner, everything, stretched

REPEAT = (300.0, 200.0)


def terrain(u, v):
    height = 250 * np.sin(5 * u) * np.cos(4 * v) + 120 * np.sin(9 * u + 4 * v)
    return np.column_stack([4000 * u, 3000 * v, height])


def stroke(place, u, v):
    return tuple(map(tuple, place(np.asarray(u, float), np.asarray(v, float) + 0 * np.asarray(u))))


def off_along(surface, found, line):
    """Degrees by which s misses a stroke, the mean over its middle half."""
    points = np.array(line)
    at = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    (region,) = find_regions(surface, everything(surface))
    laid = by_corner(surface, found)
    out = []
    for share in np.linspace(0.25, 0.75, 41):
        a, b = (
            np.array([np.interp(share * at[-1] + way, at, points[:, k]) for k in range(3)])
            for way in (-2.0, 2.0)
        )
        t, _ = nearest_triangle((a + b) / 2, region.points, region.triangles)
        corners = region.points[region.triangles[t]]
        st = laid[region.corners[t]]
        # The stroke's direction by the corners of the triangle that it crosses.
        share_of, *_ = np.linalg.lstsq((corners[1:] - corners[0]).T, b - a, rcond=None)
        s, t = share_of @ (st[1:] - st[0])
        out.append(np.degrees(np.arctan2(abs(t), abs(s))))
    return float(np.mean(out))


U = np.linspace(0.1, 0.9, 60)
ROAD, WALL, CONE = sector(8000, 12000, np.pi / 2), winding_wall(), cone(800, 2000, 1500, 0.8 * np.pi)
CASES = {
    "a road": (grid(ROAD, 100, 60), stroke(ROAD, U, 0.5)),
    "an S-bend": (grid(WALL, 100, 40), stroke(WALL, U, 0.5 + 0.2 * np.sin(6 * U))),
    "a cone across its rulings": (grid(CONE, 100, 50), stroke(CONE, U, 0.5)),
    "terrain": (grid(terrain, 100, 80), stroke(terrain, U, 0.3 + 0.4 * U**2)),
}


@pytest.mark.parametrize(("surface", "line"), CASES.values(), ids=CASES)
def test_the_sheet_follows_a_stroke(surface, line):
    found = Lines((line,)).solve(Ground(surface, everything(surface)), REPEAT)
    assert not found.troubles and stretched(surface, found)[3] > 0
    assert off_along(surface, found, line) <= 1.2
    free = Lines().solve(Ground(surface, everything(surface)), REPEAT)
    assert off_along(surface, free, line) > 3, "it would not have done so by itself"


def test_a_stroke_is_felt_the_less_the_farther_off_until_the_edge_of_its_band():
    """On a plane the distance is known: 1 on the stroke, nothing from the edge of its band on."""
    surface = grid(lambda u, v: np.column_stack([4000 * u, 3000 * v, 0 * u]), 160, 120)
    (region,) = find_regions(surface, everything(surface))
    line = tuple((float(x), 1500.0, 0.0) for x in np.linspace(0, 4000, 60))
    near = felt(region, [line]).near
    middle, reach = region.middles
    inward = np.abs(middle[:, 0] - 2000) < 1000
    away = np.abs(middle[:, 1] - 1500)[inward]
    band = BAND * np.sqrt(4000 * 3000)
    least = np.clip(1 - away / band, 0, 1)
    # A triangle may reach nearer to the stroke than its middle does, and samples of it lie some way apart.
    most = np.clip(1 - (away - reach[inward]) / band, 0, 1)
    assert (near[inward] >= least - 0.05).all() and (near[inward] <= most + 1e-9).all()
    assert (away < band).sum() > 1000 and (near[inward] > 0.9).any()
    assert ((near[inward] > 0.3) & (near[inward] < 0.7)).sum() > 100


def test_two_strokes_that_cross_fold_nothing_over():
    surface = grid(terrain, 100, 80)
    lines = stroke(terrain, U, 0.3 + 0.4 * U**2), stroke(terrain, 0.3 + 0.1 * U, 0.1 + 0.8 * U)
    found = Lines(lines).solve(Ground(surface, everything(surface)), REPEAT)
    assert not found.troubles and stretched(surface, found)[3] > 0


def test_two_strokes_apart_are_both_followed():
    surface = grid(terrain, 100, 80)
    lines = stroke(terrain, 0.05 + 0.25 * U, 0.2), stroke(terrain, 0.55 + 0.35 * U, 0.3 + 0.5 * U)
    found = Lines(lines, reach=0.15).solve(Ground(surface, everything(surface)), REPEAT)
    assert stretched(surface, found)[3] > 0
    assert max(off_along(surface, found, line) for line in lines) <= 2.0


def test_a_flow_follows_lines_on_its_way_and_keeps_to_its_borders():
    surface = grid(ROAD, 100, 60)
    # A lane that swings from one side to the other.
    line = stroke(ROAD, U, 0.5 + 0.08 * np.sin(5 * U))
    plain, found = (
        flow.solve(Ground(surface, everything(surface)), REPEAT) for flow in (Flow(), Flow(lines=(line,)))
    )
    assert stretched(surface, found)[3] > 0
    assert off_along(surface, found, line) < 1.2 < 3.5 < off_along(surface, plain, line)
    laid = by_corner(surface, found)
    for border in found.frames[0].lines[::2]:
        rows = [nearest_row(surface, place) for place in border.points]
        assert np.ptp(laid[rows, 1]) < 1e-6
    far = Flow(lines=(line,), reach=0.02).solve(Ground(surface, everything(surface)), REPEAT)
    assert stretched(surface, far)[3] > 0


def nearest_row(surface, place):
    """A corner of the mesh at a place."""
    points = surface.mesh.points[surface.mesh.corners]
    return int(np.argmin(((points - place) ** 2).sum(axis=1)))


def test_what_can_be_unrolled_is_flattened_truly_and_stands_level():
    for surface in (grid(WALL, 48, 12), grid(bent_band, 24, 6)):
        found = Lines().solve(Ground(surface, everything(surface)), REPEAT)
        assert_true(surface, found)
    wall = grid(WALL, 48, 12)
    st = by_corner(wall, Lines().solve(Ground(wall, everything(wall)), REPEAT))
    height = wall.mesh.points[wall.mesh.corners, 2]
    np.testing.assert_allclose(st[:, 1] - st[0, 1], height - height[0], atol=1e-3)


def bent_band(u, v):
    a = 2.5 * u
    return np.column_stack([900 * np.sin(a), 700 * v, 900 * np.cos(a)])


def test_conformal_maps_are_those_of_libigl():
    """igl.lscm with the same two places held."""
    surface = grid(terrain, 40, 30, cut="triangles")
    (region,) = find_regions(surface, everything(surface))
    rim = loops(region)[0]
    far = int(np.argmax(((rim.points - rim.points[0]) ** 2).sum(axis=1)))
    held = np.array([rim.vertices[0], rim.vertices[far]])
    ends = np.array([[0.0, 0.0], [np.linalg.norm(rim.points[far] - rim.points[0]), 0.0]])
    theirs, _ = igl.lscm(region.points, region.triangles.astype(np.int64), held, ends)
    mine = conformal(region)
    size = np.linalg.norm(mine[held[1]] - mine[held[0]]) / ends[1, 0]
    np.testing.assert_allclose(mine / size, theirs, atol=1e-5 * ends[1, 0])


def test_a_free_flattening_is_as_even_as_that_of_libigl():
    """Its ARAP by elements makes the same sum least; a hundred of its steps are no better than ours."""
    surface = grid(terrain, 60, 45, cut="triangles")
    (region,) = find_regions(surface, everything(surface))
    start = conformal(region)
    data = igl.ARAPData()
    data.energy = igl.ARAP_ENERGY_TYPE_ELEMENTS
    igl.arap_precomputation(
        region.points, region.triangles.astype(np.int64), 2, np.array([0], np.int64), data
    )
    theirs = start
    for _ in range(100):
        theirs = igl.arap_solve(start[:1], data, theirs)
    weights = region.areas / region.areas.sum()

    def off(st):
        high, low = stretch_of(region, st)
        return float(weights @ ((high - 1) ** 2 + (low - 1) ** 2))

    assert off(flattened(region)) <= off(theirs) + 1e-9


def test_a_tube_is_opened_and_what_would_fold_over_says_so():
    pipe = grid(bent_pipe(), 24, 40, closed=True)
    found = Lines().solve(Ground(pipe, everything(pipe)), REPEAT)
    assert len(found.cuts) >= 40 and stretched(pipe, found)[3] > 0
    ring = grid(torus_half(2000.0, 600.0), 96, 24, closed=True)
    assert stretched(ring, Lines().solve(Ground(ring, everything(ring)), REPEAT))[3] > 0


def test_jacobians_are_those_of_a_known_map():
    (region,) = find_regions(*(lambda s: (s, everything(s)))(grid(WALL, 6, 3)))
    j = jacobians(region.triangles, region.gradients, region.points[:, [0, 2]])
    np.testing.assert_allclose(np.linalg.norm(j[:, 1], axis=1), 1.0, atol=1e-9)
