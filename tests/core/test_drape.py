"""Drape: sheets over sheets, where the mapping has a closed form."""

import dataclasses

import numpy as np
import pytest

from pivrel.core.geometry.edge_chains import chain_at
from pivrel.core.geometry.mesh import merged
from pivrel.core.geometry.surface import Surface
from pivrel.core.picks import Faces
from pivrel.core.projection import Drape, Flow, Planar
from pivrel.core.solve.ground import Ground
from tests.bent import bent_pipe, grid, winding_wall
from tests.core.test_flow import by_corner, everything, stretched
from tests.shapes import cuboid

REPEAT = (300.0, 200.0)


def arc(radius, width):
    """Of a cylinder that looks outward."""

    def place(u, v):
        a = 2 * (u - 0.5)
        return np.column_stack([radius * np.sin(a), -width * (v - 0.5), radius * np.cos(a)])

    return place


def over(guide, draped, **options):
    """The draped surface's laying over the guide, and the surface that holds both."""
    surface = Surface(merged([guide.mesh, draped.mesh]))
    count = guide.mesh.face_count
    faces = np.arange(count, surface.mesh.face_count, dtype=np.int32)
    return surface, Drape(over=Faces(tuple(range(count))), **options).solve(Ground(surface, faces), REPEAT)


@pytest.mark.parametrize("jitter", [0.0, 0.2])
def test_a_sheet_over_a_cylinder_is_as_much_larger_as_its_radius(jitter):
    """1000 / 1020 round it, and 1 along: true within 5 %."""
    surface, found = over(
        grid(arc(1000, 500), 128, 8), grid(arc(1020, 400), 80, 7, cut="either", jitter=jitter)
    )
    high, low, area, det = stretched(surface, found)
    assert not found.troubles and det > 0
    assert np.average(low, weights=area) == pytest.approx(1000 / 1020, abs=2e-4)
    assert high.max() < 1.0002 and low.min() > 1 / 1.05


def test_faces_of_the_guide_itself_keep_its_laying():
    wall = grid(winding_wall(), 48, 6)
    plain = Flow().solve(Ground(wall, everything(wall)), REPEAT)
    draped = Drape(over=Faces(tuple(range(wall.mesh.face_count)))).solve(
        Ground(wall, everything(wall)), REPEAT
    )
    np.testing.assert_allclose(draped.st, plain.st, atol=1e-6)


def test_both_sides_of_a_shell_take_one_flow_so_that_courses_meet_at_its_edge():
    front, back = grid(arc(1000, 500), 64, 8), grid(arc(950, 500), 64, 8)
    turned = dataclasses.replace(
        back.mesh, corners=back.mesh.corners.reshape(-1, 4)[:, ::-1].reshape(-1).copy()
    )
    surface = Surface(merged([front.mesh, turned]))
    count = front.mesh.face_count
    pick = Faces(tuple(range(count)))
    found = Drape(over=pick).solve(Ground(surface, everything(surface)), REPEAT)
    st, place = by_corner(surface, found), surface.mesh.points[surface.mesh.corners]
    angle = np.arctan2(place[:, 0], place[:, 2])
    # At each angle front and back lie at the same place of the sheet.
    for a in np.linspace(-0.9, 0.9, 5):
        near = np.abs(angle - a) < 0.02
        assert np.ptp(st[near, 0]) < 0.05 * 1000
    half = len(st) // 2
    order = [
        np.lexsort(np.round([angle[part], place[part, 1]], 4)) for part in (slice(half), slice(half, None))
    ]
    np.testing.assert_allclose(st[:half][order[0]], st[half:][order[1]], atol=1.0)


def test_no_face_is_torn_where_the_guide_goes_round():
    surface, found = over(
        grid(bent_pipe(), 32, 80, closed=True), grid(bent_pipe(tube=206), 40, 90, closed=True, cut="either")
    )
    high, low, _, det = stretched(surface, found)
    assert det > 0 and low.min() > 0.85 and high.max() < 1.15


def test_a_guide_between_two_edges_carries_its_courses_onto_lumpy_ground():
    def ground(u, v):
        height = 120 * np.sin(5 * u) * np.cos(3 * v) + 20 * np.sin(40 * u) * np.sin(17 * v)
        return np.column_stack([4000 * u, 1200 * v + 60 * np.sin(9 * u), height])

    surface = grid(ground, 200, 60, cut="triangles")
    ends = np.linspace(0, 1, 100)
    low_line, high_line = (tuple(map(tuple, ground(ends, np.full(100, v)))) for v in (0.0, 1.0))
    _, low, _, det = stretched(
        surface, Drape(lines=(low_line, high_line)).solve(Ground(surface, everything(surface)), REPEAT)
    )
    assert det > 0 and low.min() > 0.6


def test_a_guide_can_be_moved_and_laid_by_another_projection():
    def flat(u, v):
        return np.column_stack([2000 * u, 1000 * v, 300 + 0 * u])

    plane, ground = grid(flat, 4, 2), grid(lambda u, v: flat(u, v) * [0.8, 0.8, np.sin(9 * u).mean()], 20, 10)
    surface, still = over(plane, ground, laid=Planar())
    _, moved = over(plane, ground, laid=Planar(), shift_mm=(120.0, -30.0, 50.0))
    place = surface.mesh.points[surface.mesh.corners[surface.corners_of(still.faces)]]
    # Straight down, on the plane and beyond its border; this plane is laid as seen from below.
    np.testing.assert_allclose(still.st, place[:, :2] * [1, -1] + [0, 1000], atol=1e-6)
    np.testing.assert_allclose(moved.st, (place[:, :2] - [120.0, -30.0]) * [1, -1] + [0, 1000], atol=1e-6)


def test_what_is_draped_over_nothing_says_so():
    wall = grid(winding_wall(), 12, 2)
    assert (
        Drape().solve(Ground(wall, everything(wall)), REPEAT).troubles[0].startswith("there is no guide yet")
    )
    closed = over(grid(lambda u, v: arc(1000, 500)(u, v), 8, 2), wall, laid=Flow(corners=((0, 0, 0),) * 4))[1]
    assert "same place" in closed.troubles[0] and not len(closed.faces)


def test_a_chain_runs_along_a_border_from_corner_to_corner():
    wall = grid(winding_wall(), 48, 6)
    low = chain_at(wall, 3, np.array([3000.0, 0.0, -50.0]))
    assert len(low) == 49 and (low[:, 2] == 0).all()
    side = chain_at(wall, 3, np.array([0.0, 0.0, 1200.0]))
    assert len(side) == 7 and np.ptp(side[:, 0]) < 1e-9
    edge = chain_at(Surface(cuboid(900, 700, 500)), 1, np.array([450.0, 0.0, 500.0]))
    np.testing.assert_allclose(sorted(edge[:, 0]), [0, 900])
