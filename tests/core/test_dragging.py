"""While a hand drags: near what it comes to once it is let go, and never in its place."""

import numpy as np
import pytest

from pivrel.core.cache import KeepAll
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import Finish
from pivrel.core.picks import All
from pivrel.core.projection import Flow, Lines
from pivrel.core.schedule import Schedule
from pivrel.core.sheet import Material
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.solution import Frame, Laid, SolveError, solve_regions
from tests.bent import cone, grid, sector, torus_half, winding_wall
from tests.core.test_flow import everything
from tests.core.test_lines import U, off_along, stroke, terrain
from tests.shapes import cuboid

REPEAT = (300.0, 200.0)


def ground_of(surface):
    return Ground(surface, everything(surface))


def apart(one, other):
    """mm by which two layings differ, but for a shift."""
    gap = one.st - other.st
    return float(np.abs(gap - gap.mean(axis=0)).max())


@pytest.mark.parametrize(
    "place, closed",
    [
        (sector(3000.0, 5000.0, 1.5), False),
        (terrain, False),
        (torus_half(2000.0, 600.0), True),
        (cone(800, 2000, 900), True),
    ],
)
def test_a_width_under_the_hand_is_kept_to_and_all_else_is_near(place, closed):
    surface = grid(place, 60, 20, closed=closed, cut="triangles")
    ground = ground_of(surface)
    free = Flow().solve(ground, REPEAT)
    width = float(np.ptp(free.st[:, 1]))
    for share in (1.02, 0.97, 1.04):
        flow = Flow(limits_mm=(None, share * width))
        hasty, settled = flow.solve(ground, REPEAT, hasty=True), flow.solve(ground_of(surface), REPEAT)
        assert np.ptp(hasty.st[:, 1]) == pytest.approx(np.ptp(settled.st[:, 1]), rel=1e-6)
        assert apart(hasty, settled) < 0.02 * float(np.ptp(settled.st[:, 0]))


def test_solving_again_over_the_same_ground_comes_to_the_same():
    surface = grid(terrain, 40, 30, cut="triangles")
    ground = ground_of(surface)
    strokes = (stroke(terrain, U, 0.3 + 0.4 * U),)
    for asked in (
        Flow(),
        Flow(shift=1),
        Flow(limits_mm=(4000.0, None)),
        Lines(),
        Lines(strokes),
        Lines(strokes, 0.1),
    ):
        asked.solve(ground, REPEAT, hasty=True)
        np.testing.assert_array_equal(
            asked.solve(ground, REPEAT).st, asked.solve(ground_of(surface), REPEAT).st
        )


def test_the_pattern_follows_a_stroke_while_it_is_drawn():
    surface = grid(terrain, 60, 45, cut="triangles")
    line = stroke(terrain, U, 0.3 + 0.4 * U**2)
    found = Lines((line,)).solve(ground_of(surface), REPEAT, hasty=True)
    assert off_along(surface, found, line) < 5.0


def test_what_was_laid_in_haste_is_never_taken_for_the_settled_laying():
    surface = grid(winding_wall(), 40, 8)
    finish = Finish("f", Material("oak", REPEAT, 0.0), All(), Flow())
    cache = KeepAll()
    laid = Schedule(surface, "mesh", {"F1": finish}, cache)
    before = laid.laying("F1").copy()
    narrower = Finish("f", finish.material, All(), Flow(limits_mm=(None, 2000.0)))
    hasty = laid.with_finish("F1", narrower)
    assert hasty.hasty == "F1" and hasty.laying("F1") is not None
    assert laid.with_finish("F1", finish).hasty is None
    settled = Schedule(surface, "mesh", {"F1": narrower}, cache).laying("F1")
    alone = Schedule(surface, "mesh", {"F1": narrower}, KeepAll()).laying("F1")
    np.testing.assert_array_equal(settled, alone)
    np.testing.assert_array_equal(laid.laying("F1"), before)


def test_of_a_body_taken_apart_only_what_could_be_laid_is():
    """One side of six: the others lie bare, whatever the first region of the pick was."""
    body = Surface(cuboid(900, 700, 500))
    ground = ground_of(body)

    def lay(region, nearest):
        if region.faces.tolist() != [3]:
            raise SolveError("this cannot be laid")
        none = np.empty(0, np.int64)
        return (Laid(region, region.points[:, [1, 2]], none, Frame("flat", (), np.empty((0, 3)))),)

    found = solve_regions(ground, lay)
    assert found.faces.tolist() == [3] and len(found.st) == 4 and len(found.troubles) == 5
    corners = body.mesh.points[body.mesh.corners[body.corners_of(found.faces)]]
    np.testing.assert_array_equal(found.st, corners[:, [1, 2]])
