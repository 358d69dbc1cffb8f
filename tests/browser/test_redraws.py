"""What a hand moves is drawn anew, and the schedule is not."""

import time

import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.redraws import taken, unwatch, watch
from tests.browser.rows import blocks, lay_each

ROWS = 300
"""Of a large job. The pane shows a few of them; what is drawn must not grow with the rest."""


@pytest.fixture
def counted(browser):
    name = watch(browser.driver)
    yield lambda: taken(browser.driver)
    unwatch(browser.driver, name)


def test_dragging_a_datum_and_typing_a_turn_do_not_draw_the_schedule(made, browser, counted):
    bench = made(blocks(ROWS), "Three hundred blocks")
    lay_each(bench, ROWS)
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
    assert "F20" in browser.text("[data-testid=row-F20]")
    assert len(browser.all("[data-row]")) < 60, "rows that nobody sees are not there"
    # Asked for here, they are at hand for the page too.
    bench.server.ask("GET", f"{bench.path}/figures")
    browser.until(lambda: at_rest(counted), "figures that came later are drawn")
    field = browser.field("Turn")
    field.send_keys("37")
    typed = counted()
    assert typed.total and typed.most < 10, "a key draws the field that it is typed into"
    field.send_keys(Keys.ENTER)
    browser.shown(bench.state["revision"])
    entered = counted()
    rows = {place for place in entered.places if place in {f"F{k + 1}" for k in range(ROWS)}}
    assert rows == {"F20"}, "an edit draws its row, the panel and the view"

    # To the last row and back, and to one that is searched for.
    pane = browser.css("[data-testid=schedule-pane]")
    browser.driver.execute_script("arguments[0].scrollTop = arguments[0].scrollHeight", pane)
    browser.css(f"[data-testid=row-F{ROWS}]")
    browser.type_into("Search the schedule", "“Block 123”")
    browser.until(
        lambda: [row.get_attribute("data-row") for row in browser.all("[data-row]")] == ["F124"], "one row"
    )
    # The row in hand stays in sight when all are listed again.
    browser.row("F124").click()
    browser.type_into("Search the schedule", Keys.DELETE)
    browser.until(lambda: len(browser.all("[data-row]")) > 1, "all rows")
    browser.until(lambda: in_sight(browser, "F124"), "F124 is in sight")


def at_rest(counted):
    """Whether nothing is drawn anew for a second."""
    for _ in range(5):
        time.sleep(0.2)
        if counted().total:
            return False
    return True


def in_sight(browser, key):
    """Whether a row stands in the pane, clear of its heads."""
    rows, heads = browser.all(f"[data-testid=row-{key}]"), browser.css("[data-testid=schedule-pane] thead")
    pane = browser.css("[data-testid=schedule-pane]").rect
    top, bottom = pane["y"] + heads.rect["height"], pane["y"] + pane["height"]
    return bool(rows) and top - 1 <= rows[0].rect["y"] <= bottom - rows[0].rect["height"] + 1


@pytest.mark.pixels
def test_rows_are_grouped_sorted_switched_and_dragged(made, browser):
    bench = made(blocks(6), "Six blocks")
    for k, material in enumerate(["brick", "tile", "oak", "brick", "tile", "oak"]):
        bench.lay("box", material, {"parts": [f"Block {n:03}" for n in range(k, 6 if k == 3 else k + 1)]})
    bench.open()

    def shown():
        return [row.get_attribute("data-row") for row in browser.all("[data-row]")]

    assert shown() == ["F1", "F2", "F3", "F4", "F5", "F6"]
    browser.choose("Schedule", "button[normalize-space(.)='Area']")
    browser.until(lambda: shown()[0] in ("F1", "F2", "F3", "F4"), "the largest first")
    browser.choose("Schedule", "button[normalize-space(.)='Code']")
    browser.click("Table")
    browser.driver.find_element(
        "xpath", "//*[@role='menuitemcheckbox'][contains(., 'Group by material')]"
    ).click()
    browser.press(Keys.ESCAPE)
    browser.until(lambda: shown() == ["F1", "F4", "F2", "F5", "F3", "F6"], "by material")
    browser.choose("Schedule", "button[@aria-expanded='true']")
    browser.until(lambda: shown() == ["F2", "F5", "F3", "F6"], "folded")
    browser.click("Table")
    browser.driver.find_element(
        "xpath", "//*[@role='menuitemcheckbox'][contains(., 'Group by material')]"
    ).click()
    browser.driver.find_element("xpath", "//*[@role='menuitemcheckbox'][contains(., 'Offset')]").click()
    browser.press(Keys.ESCAPE)
    browser.until(lambda: not browser.all("[aria-label='Schedule'] th:nth-child(13)"), "one column fewer")

    before = browser.pixels()
    browser.css("[data-testid=row-F4] [role=switch]").click()
    browser.until(lambda: not bench.state["finishes"][3]["on"], "off")
    browser.shown(bench.state["revision"])
    assert np.abs(browser.pixels() - before).max() > 24, "what lies beneath shows"

    code = browser.row("F1")
    target = browser.row("F3")
    chain = ActionChains(browser.driver, duration=60).move_to_element(code).click_and_hold()
    chain.move_by_offset(0, 12).move_to_element(target).release().perform()
    browser.until(
        lambda: [f["key"] for f in bench.state["finishes"]][:3] == ["F2", "F3", "F1"], "dragged down"
    )

    browser.row("F5").click()
    browser.click("Duplicate")
    browser.until(lambda: len(bench.state["finishes"]) == 7, "once more")


COUNTED = """
    window.uploads = 0;
    window.shadows = 0;
    const card = WebGL2RenderingContext.prototype;
    for (const name of ["texImage2D", "texSubImage2D"]) {
        const own = card[name];
        card[name] = function (...given) { window.uploads += 1; return own.apply(this, given); };
    }
    // The map of shadows is larger than the view.
    const draw = card.drawElements;
    card.drawElements = function (...given) {
        window.shadows += this.getParameter(this.VIEWPORT)[2] >= 2048;
        return draw.apply(this, given);
    };
"""


@pytest.mark.pixels
def test_a_turn_sends_no_image_to_the_graphics_card_again_and_draws_no_shadow(made, browser):
    bench = made(blocks(4), "Four blocks")
    bench.lay("box", "brick")
    bench.open("F1")
    browser.driver.execute_script(COUNTED)
    before = browser.pixels()
    browser.type("Turn", "37")
    browser.shown(bench.state["revision"])
    browser.until(lambda: not np.array_equal(browser.pixels(), before), "the turned picture")
    browser.settle()
    assert not browser.driver.execute_script("return window.uploads")
    assert not browser.driver.execute_script("return window.shadows"), "what casts them has not moved"
    # What is hidden casts none.
    browser.click_model(0, 0)
    browser.until(lambda: "1 face" in browser.picked(), "a face in hand")
    browser.press("h")
    browser.until(lambda: "Nothing is picked" in browser.picked(), "hidden and put down")
    browser.until(lambda: browser.driver.execute_script("return window.shadows"), "shadows drawn anew")
