"""Areas to avoid: the least shift that clears a piece, checked by shapely and by trying many others."""

import numpy as np
import pytest
import shapely
from shapely.affinity import translate

from pivrel.core.set_out.avoiding import CLEAR_MM, Marked

REPEAT = (1000.0, 600.0)
KNOT = (400.0, 200.0, 480.0, 290.0)
OTHER = (800.0, 450.0, 830.0, 560.0)

ELL = shapely.Polygon([(0, 0), (300, 0), (300, 80), (90, 80), (90, 240), (0, 240)])
RING = shapely.Point(0, 0).buffer(140).difference(shapely.Point(0, 0).buffer(95))


def copies(box, reach=3):
    return [
        shapely.box(*(np.array(box) + np.tile([i * REPEAT[0], j * REPEAT[1]], 2)))
        for i in range(-reach, reach + 1)
        for j in range(-reach, reach + 1)
    ]


def cleared(marked, piece):
    """The piece shifted, and by how much."""
    shift = marked.clearing(piece)
    assert shift is not None
    return translate(piece, float(shift[0]), float(shift[1])), np.asarray(shift, float)


def clear(piece, boxes):
    return not any(piece.intersects(copy) for box in boxes for copy in copies(box))


@pytest.mark.parametrize("shape", [ELL, RING, shapely.box(0, 0, 120, 500)], ids=["ell", "ring", "board"])
@pytest.mark.parametrize("at", [(350, 180), (700, 330), (1330, 800), (-650, -360)])
def test_the_shift_clears_and_no_shorter_one_does(shape, at):
    boxes = (KNOT, OTHER)
    marked = Marked(boxes, REPEAT)
    piece = translate(shape, *at)
    moved, shift = cleared(marked, piece)
    assert marked.touched(piece) != clear(piece, boxes)
    assert clear(moved, boxes)
    least = np.hypot(*shift)
    if clear(piece, boxes):
        assert least <= CLEAR_MM * 2
        return
    for radius in np.linspace(0.05, 0.97, 12) * least:
        for angle in np.linspace(0, 2 * np.pi, 90, endpoint=False):
            tried = translate(piece, radius * np.cos(angle), radius * np.sin(angle))
            assert not clear(tried, boxes), (radius, angle, shift)


def test_a_knot_may_stand_within_a_ring():
    """The hole of a piece is a place for a knot: a shift of a few mm does, where the outline alone would ask for many."""
    marked = Marked((KNOT,), REPEAT)
    piece = translate(RING, 440 + 60, 245)
    assert marked.touched(piece)
    moved, shift = cleared(marked, piece)
    assert np.hypot(*shift) < 60 and not marked.touched(moved)


def test_what_is_larger_than_the_room_between_is_told():
    marked = Marked((KNOT,), REPEAT)
    assert marked.clearing(shapely.box(0, 0, 990, 590)) is None
    # As wide as the sheet repeats, but low enough to lie between two rows of knots.
    assert marked.clearing(shapely.box(0, 210, 5000, 400)) is not None
    assert marked.clearing(shapely.box(0, 210, 5000, 800)) is None


def test_on_a_single_sheet_a_piece_stays_on_the_sheet():
    marked = Marked(((0.0, 0.0, 100.0, 600.0),), REPEAT, tile=False)
    piece = shapely.box(50, 100, 250, 300)
    np.testing.assert_allclose(cleared(marked, piece)[1], np.array([50 + CLEAR_MM, 0]), atol=1e-9)
    np.testing.assert_allclose(
        Marked.of(((0, 0, 50, 600),), REPEAT, (-2.0, 1.0), False).boxes, [(-100, 0, 0, 600)]
    )
    assert Marked(((0.0, 0.0, 990.0, 600.0),), REPEAT, tile=False).clearing(piece) is None
