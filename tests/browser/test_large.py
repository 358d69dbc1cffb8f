"""A million triangles, and a thousand rows, or fewer in `make test`: opened, picked in, laid and turned as a small model is.

The times are recorded with the results (`--junit-xml`) and printed (`-s`); nothing is asserted of them.
"""

from __future__ import annotations

import time

import numpy as np
import pytest
from benchmarks.models import rolling
from selenium.webdriver.common.keys import Keys

from tests.browser.rows import blocks, lay_each
from tests.lengths import FULL, at_length

ROWS = at_length(30, 1000)
TRIANGLES = at_length(250_000, 1_000_000)

LONG_TASKS = """
const done = arguments[arguments.length - 1], found = [];
const watching = new PerformanceObserver((list) => found.push(...list.getEntries()));
watching.observe({ type: "longtask", buffered: true });
setTimeout(() => {
    watching.disconnect();
    done(found.map((task) => task.duration));
}, 50);
"""
"""How long the page stood still at a time, since it was opened (W3C Long Tasks: what takes more than 50 ms)."""


@pytest.fixture
def timed(browser, record_property):
    """Notes how long something took, in s."""

    def run(name, doing):
        begun = time.perf_counter()
        out = doing()
        took = round(time.perf_counter() - begun, 2)
        record_property(name, took)
        print(f"{name}: {took} s")
        return out

    yield run
    stops = browser.driver.execute_async_script(LONG_TASKS)
    record_property("longest stop of the page, ms", max(stops, default=0))
    print(f"longest stop of the page: {max(stops, default=0)} ms, {len(stops)} of more than 50")


def turned_to(browser, bench, degrees):
    """Types a turn, and waits until the view shows it."""
    before, revision = browser.pixels(), bench.state["revision"]
    browser.type("Turn", str(degrees))
    browser.shown(revision + 1)
    browser.until(lambda: not np.array_equal(browser.pixels(), before), "another picture")


@pytest.mark.slow
@pytest.mark.pixels
def test_a_million_triangles_are_opened_picked_laid_and_turned(made, browser, timed):
    mesh = rolling(TRIANGLES)
    bench = made(mesh, "Many triangles")
    timed("ready, bare", bench.open)
    bare = browser.patch(0, 40)

    browser.click_model(0, 40)
    timed(
        "picked by a click",
        lambda: browser.until(lambda: f"{mesh.face_count:,} faces" in browser.picked(), "the pick"),
    )
    browser.press(Keys.ESCAPE)
    revision = bench.state["revision"]
    timed("laid", lambda: (bench.lay("box"), browser.shown(revision + 1)))
    browser.row("F1").click()
    browser.css("[data-testid=move-origin]")
    browser.settle()
    assert not np.array_equal(browser.patch(0, 40), bare)

    for degrees in (37, 74):
        timed("turned, to the picture", lambda degrees=degrees: turned_to(browser, bench, degrees))
    if FULL:
        try_all(browser, timed)
    timed("opened again", bench.open)


def try_all(browser, timed):
    """Stopped, and begun again to the end."""
    browser.click("Try all projections")
    words = "[data-testid=trials-under-way] [role=progressbar][aria-valuenow]"
    assert browser.css(words).get_attribute("aria-label").startswith("laying the pick by ")
    timed("trials stopped", lambda: (browser.click("Stop"), browser.settle()))
    assert not browser.all("[role=dialog]")
    browser.click("Try all projections")
    timed("trials, first picture", lambda: browser.css("[data-testid=trial] img"))
    best = browser.text("[data-testid=trial]")
    assert best.startswith("Planar"), best
    browser.until(
        lambda: len(browser.all("[data-testid=trial] img")) == len(browser.all("[data-testid=trial]")), "all"
    )
    browser.press(Keys.ESCAPE)


@pytest.mark.slow
@pytest.mark.pixels
def test_a_thousand_rows_are_opened_and_turned(made, browser, timed):
    few, many = made(blocks(10), "Ten rows"), made(blocks(ROWS), "A thousand rows")
    lay_each(few, 10)
    lay_each(many, ROWS)
    timed("10 rows, ready", few.open)
    timed("10 rows, one in hand", lambda: few.open("F3"))
    timed("10 rows, turned", lambda: turned_to(browser, few, 37))
    timed(f"{ROWS:,} rows, ready", many.open)
    timed(f"{ROWS:,} rows, one in hand", lambda: many.open("F3"))
    timed(f"{ROWS:,} rows, turned", lambda: turned_to(browser, many, 37))
    assert many.state["finishes"][2]["turn_deg"] == 37
    assert many.state["finishes"][3]["turn_deg"] != 37
