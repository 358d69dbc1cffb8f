"""Nesting: nothing over anything else by shapely, all of it on the boards, and close together."""

import numpy as np
import pytest
import shapely
from shapely.affinity import rotate

from pivrel.core.geometry.nesting import Board, nest

BOARD = Board(2440.0, 1220.0, gap_mm=0.0, margin_mm=0.0)


def assorted():
    """27 pieces of nine kinds: boards, discs, wedges, angles, troughs, rings, and what no formula likes."""
    rng = np.random.default_rng(5)
    out = []
    for kind in [*range(9)] * 3:
        w, h = rng.uniform(120, 420), rng.uniform(90, 320)
        around = np.linspace(0, 2 * np.pi, 40, endpoint=False)
        lobes = w / 3 * (1 + 0.3 * np.sin(3 * around))
        out.append(
            [
                shapely.box(0, 0, w, h),
                shapely.Point(0, 0).buffer(w / 2.5),
                shapely.Polygon([(0, 0), (w, 0), (w * 0.4, h)]),
                shapely.Polygon([(0, 0), (w, 0), (w, h * 0.35), (w * 0.35, h * 0.35), (w * 0.35, h), (0, h)]),
                shapely.Polygon([(0, 0), (w, 0), (w * 0.8, h), (w * 0.2, h)]),
                shapely.box(0, 0, w, h).difference(shapely.box(w * 0.25, h * 0.3, w * 0.75, h * 2)),
                shapely.Polygon(np.column_stack([lobes * np.cos(around), lobes * np.sin(around)])),
                shapely.Point(0, 0).buffer(w / 2).difference(shapely.Point(0, 0).buffer(w / 3)),
                rotate(shapely.box(0, 0, w * 1.3, h * 0.35), rng.uniform(0, 90)),
            ][kind]
        )
    return out


def lying(shapes, nesting):
    """By board, the pieces where they lie."""
    out = [[] for _ in range(nesting.boards)]
    for shape, place in zip(shapes, nesting.placed, strict=True):
        if place is not None:
            out[place.board].append(shapely.transform(shape, place.at))
    return out


def check(boards, board):
    inside = shapely.box(0, 0, board.width_mm, board.height_mm).buffer(-board.margin_mm + 1e-6)
    for own in boards:
        assert all(inside.covers(piece) for piece in own)
        tree = shapely.STRtree(own)
        a, b = tree.query(own, predicate="dwithin", distance=max(board.gap_mm - 1e-6, 0.0))
        for i, j in zip(a.tolist(), b.tolist(), strict=True):
            assert i == j or (shapely.intersection(own[i], own[j]).area == 0.0 and board.gap_mm == 0), (i, j)


def test_27_assorted_pieces_without_turns_use_sixty_percent_of_what_they_take():
    shapes = assorted()
    assert len(shapes) == 27
    nesting = nest(shapes, BOARD)
    assert None not in nesting.placed and {place.turn_deg for place in nesting.placed} == {0.0}
    boards = lying(shapes, nesting)
    check(boards, BOARD)
    length = max(piece.bounds[2] for piece in boards[-1])
    taken = ((nesting.boards - 1) * BOARD.width_mm + length) * BOARD.height_mm
    density = sum(shape.area for shape in shapes) / taken
    assert nesting.boards == 1 and density >= 0.60, density


@pytest.mark.parametrize("turns", ["half", "quarter"])
def test_gaps_and_margins_hold_on_every_board(turns):
    board = Board(700.0, 420.0, gap_mm=6.0, margin_mm=12.0)
    shapes = assorted()[:8]
    nesting = nest(shapes, board, turns)
    assert nesting.boards >= 2
    check(lying(shapes, nesting), board)
    allowed = {"none": {0.0}, "half": {0.0, 180.0}, "quarter": {0.0, 90.0, 180.0, 270.0}}[turns]
    assert {place.turn_deg for place in nesting.placed} <= allowed
    again = nest(shapes, board, turns)
    assert all((a.shift == b.shift).all() for a, b in zip(nesting.placed, again.placed, strict=True))


def test_a_piece_lies_within_a_ring_and_what_is_too_large_is_left():
    ring = shapely.Point(0, 0).buffer(300).difference(shapely.Point(0, 0).buffer(260))
    board = Board(620.0, 620.0)
    nesting = nest([ring, shapely.box(0, 0, 200, 200), shapely.box(0, 0, 900, 50)], board, "quarter")
    assert nesting.boards == 1 and nesting.placed[2] is None
    check(lying([ring, shapely.box(0, 0, 200, 200)], type(nesting)(nesting.placed[:2], 1)), board)
    assert nest([], board).boards == 0
    assert nest([shapely.box(0, 0, 50, 50)], Board(8.0, 8.0)).placed == (None,)


def test_turned_pieces_lie_where_they_are_said_to():
    """A plank that fits one way only is turned, and its places with it."""
    plank = shapely.box(10, 20, 60, 920)
    nesting = nest([plank], Board(1000.0, 100.0), "quarter")
    (place,) = nesting.placed
    assert place.turn_deg in (90.0, 270.0)
    moved = shapely.transform(plank, place.at)
    assert shapely.box(5 - 1e-9, 5 - 1e-9, 995, 95).covers(moved)
    assert moved.bounds[0] == pytest.approx(5, abs=1.5) and moved.bounds[1] == pytest.approx(5, abs=1.5)
