"""What a hand moves is drawn anew, and the schedule is not."""

import math
from dataclasses import replace

import pytest

from pivrel.core.geometry.mesh import merged
from tests.browser.redraws import taken, unwatch, watch
from tests.shapes import cuboid

ROWS = 80


@pytest.fixture
def counted(browser):
    name = watch(browser.driver)
    yield lambda: taken(browser.driver)
    unwatch(browser.driver, name)


def blocks(count):
    """As many blocks in a square, each a part of its own."""
    side, block = math.ceil(math.sqrt(count)), cuboid(800, 800, 800)
    at = [(k % side * 1000, k // side * 1000, 0) for k in range(count)]
    return merged(
        [replace(block, points=block.points + at[k], part_names=(f"Block {k:03}",)) for k in range(count)]
    )


def test_dragging_a_datum_and_typing_a_turn_do_not_draw_the_schedule(made, browser, counted):
    bench = made(blocks(ROWS), "Eighty blocks")
    for k in range(ROWS):
        bench.lay("box", "tile", {"parts": [f"Block {k:03}"]})
    bench.open("F20")
    counted()
    bench.hold("move-x", 60, 0)
    browser.until(lambda: bench.previews() > 0, "a preview")
    browser.settle()
    dragged = counted()
    assert dragged.total, "the readout follows the hand"
    assert dragged.most < ROWS, "a frame of a drag draws fewer components than the schedule has rows"
    bench.let_go()
    browser.settle()
    assert "F20" in browser.css("[data-testid=row-F20]").text
    counted()
    field = browser.field("Turn")
    field.send_keys("37")
    typed = counted()
    assert typed.total and typed.most < 10, "a key draws the field that it is typed into"
