"""The workbench as a newcomer finds it: how much of it is the model, how few steps lead to a laid wall, who can use it."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from pivrel.core.geometry.surface import Surface
from tests.formats.test_handover import bare_obj
from tests.shapes import cuboid

AXE = Path(__file__).parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"

# A place is free where nothing but the picture of the model, or what is drawn on it, is met there; what lets the
# pointer through is met all the same.
FREE = """
    document.head.insertAdjacentHTML("beforeend",
        "<style id='met'>*{pointer-events:auto !important} svg[data-testid=datum]{display:none}</style>");
    const [across, down] = [64, 40];
    let free = 0;
    for (let i = 0; i < across; i++) for (let k = 0; k < down; k++) {
        const met = document.elementFromPoint((i + 0.5) * innerWidth / across, (k + 0.5) * innerHeight / down);
        if (met && met.tagName === "CANVAS") free++;
    }
    document.getElementById("met").remove();
    return free / (across * down);
"""


def as_a_newcomer(browser) -> None:
    browser.driver.execute_script("localStorage.clear()")


def away_from_the_model(browser) -> None:
    """The pointer rests on the head of the page, so that nothing is told of a face."""
    ActionChains(browser.driver).move_to_element(browser.css("h1")).perform()


def free(browser) -> float:
    return browser.driver.execute_script(FREE)


def test_the_model_has_most_of_the_window(browser, demo):
    as_a_newcomer(browser)
    browser.open(f"/projects/{demo['lido']}")
    browser.shown()
    assert free(browser) >= 0.60
    browser.click_place(6000, 0, 2900)
    browser.until(lambda: "1 patch" in browser.picked(), "a patch")
    browser.settle()
    assert free(browser) >= 0.60
    browser.size(1920, 1080)
    browser.settle()
    assert free(browser) >= 0.70
    browser.size(1280, 800)
    browser.press(Keys.ESCAPE, "q")
    browser.row("F2").click()
    browser.css("[data-testid=move-origin]")
    away_from_the_model(browser)
    browser.settle()
    pane = browser.css("[data-testid=schedule-pane]").rect
    seen = [
        r
        for r in browser.all("[data-row]")
        if r.rect["y"] + r.rect["height"] <= pane["y"] + pane["height"] + 1
    ]
    assert len(seen) >= 5
    assert free(browser) >= 0.52


def test_lines_never_take_a_second_row_nor_run_out_of_the_window(browser, demo):
    as_a_newcomer(browser)
    browser.open(f"/projects/{demo['lido']}")
    browser.shown()
    heights = set()
    for tool in ("k", "r", "u"):
        browser.press(tool)
        for line in ("Pick", "View"):
            box = browser.css(f"section[aria-label={line}]")
            heights.add(round(box.rect["height"]))
            wide = browser.driver.execute_script(
                "return [arguments[0].scrollWidth, arguments[0].clientWidth]", box
            )
            assert wide[0] <= wide[1], (tool, line, wide)
    assert heights <= {32, 33}


def test_four_clicks_and_a_number_lay_turn_and_size_a_material(made, browser):
    bench = made(cuboid(3000, 2000, 2400), "Four clicks")
    as_a_newcomer(browser)
    bench.open()
    browser.click_model(*bench.at(1000, -0, 1200))
    browser.until(lambda: "1 patch" in browser.picked(), "the pick")
    browser.css("[role=radio][aria-label^=Oak]").click()
    browser.click("Lay on the pick")
    browser.shown(1)
    browser.click("Turn by 90 degrees")
    browser.shown(2)
    browser.type("Repeat width", "2.4m")
    browser.shown(3)
    (finish,) = bench.state["finishes"]
    assert (finish["material"], finish["turn_deg"], finish["repeat_mm"][0]) == ("oak", 90, 2400)


@pytest.mark.pixels
def test_the_same_by_the_keyboard_alone(made, browser):
    bench = made(cuboid(3000, 2000, 2400), "Keys alone")
    as_a_newcomer(browser)
    bench.open()
    stops = []
    for _ in range(30):
        browser.press(Keys.TAB)
        stops.append(browser.driver.execute_script("return document.activeElement.dataset.testid ?? ''"))
        if stops[-1] == "keyed-view":
            break
    assert stops[-1] == "keyed-view"
    before = browser.pixels()
    browser.press(Keys.ARROW_RIGHT)
    browser.settle()
    assert np.abs(browser.pixels() - before).max() > 24, "an arrow turns the model"
    browser.press(Keys.ENTER)
    browser.until(lambda: "1 patch" in browser.picked(), "what is at the middle mark")
    browser.press(Keys.TAB)
    while browser.driver.execute_script("return document.activeElement.getAttribute('role')") != "radio":
        browser.press(Keys.TAB)
        stops.append("")
        assert len(stops) <= 30
    chain = ActionChains(browser.driver).key_down(Keys.ARROW_RIGHT).pause(0.15).key_up(Keys.ARROW_RIGHT)
    chain.perform()
    browser.press("l")
    browser.shown(1)
    browser.press("t")
    browser.shown(2)
    for _ in range(40):
        browser.press(Keys.TAB)
        named = browser.driver.execute_script(
            "const e = document.activeElement; return e.labels?.length ? e.labels[0].textContent : ''"
        )
        if named == "Repeat width":
            break
    browser.press("2.4m", Keys.ENTER)
    browser.shown(3)
    (finish,) = bench.state["finishes"]
    assert (finish["turn_deg"], finish["repeat_mm"][0]) == (90, 2400) and finish["material"] != "brick"


def test_few_tab_stops_lead_to_the_panel(browser, demo):
    as_a_newcomer(browser)
    browser.open(f"/projects/{demo['lido']}")
    browser.shown()
    browser.click_place(6000, 0, 2900)
    browser.until(lambda: "1 patch" in browser.picked(), "a patch")
    browser.driver.execute_script("document.activeElement.blur()")
    within = "return !!document.activeElement.closest('[aria-label=Inspector]')"
    stops = -1
    while stops < 30 and not browser.driver.execute_script(within):
        browser.press(Keys.TAB)
        stops += 1
    assert stops <= 12


def violations(browser) -> list[str]:
    """What axe-core finds wrong with the page, one line each."""
    browser.driver.execute_script(AXE.read_text())
    found = browser.driver.execute_async_script(
        "const done = arguments[0]; axe.run(document, {resultTypes: ['violations']}).then((r) => done(r.violations))"
    )
    return [f"{v['id']}: {n['target']} {n['failureSummary'][:200]}" for v in found for n in v["nodes"]]


def clean(browser, what: str) -> None:
    found = violations(browser)
    assert found == [], json.dumps({what: found}, indent=1)


def test_axe_finds_nothing_on_the_screens(browser, demo):
    browser.open("/")
    browser.shows("Saltmarsh Lido")
    clean(browser, "projects")
    for screen, words in (("/materials", "Terrazzo, warm white"), ("/hand-over", "What will be written")):
        browser.open(f"/projects/{demo['lido']}{screen}")
        browser.shows(words)
        browser.settle()
        clean(browser, screen)


def test_axe_finds_nothing_on_the_workbench_and_its_dialogs(browser, demo):
    browser.open(f"/projects/{demo['lido']}")
    browser.shown()
    clean(browser, "nothing in hand")
    browser.click_model(0, 0)
    browser.until(lambda: "1 patch" in browser.picked(), "a patch")
    browser.settle()
    clean(browser, "a pick")
    browser.row("F2").click()
    browser.settle()
    clean(browser, "a row")
    browser.press("w")
    browser.shows("What lies on it")
    clean(browser, "the parts")
    for keys, testid in (
        (("?",), "all-keys"),
        ((Keys.CONTROL, "s"), "picture"),
        ((Keys.CONTROL, "k"), "commands"),
    ):
        browser.chord(*keys) if len(keys) > 1 else browser.press(*keys)
        browser.css(f"[data-testid={testid}]")
        clean(browser, testid)
        browser.press(Keys.ESCAPE)
        browser.until(lambda: not browser.all("[role=dialog]"), "closed")


def test_axe_finds_nothing_in_what_opens_over_the_workbench(browser, demo):
    browser.open(f"/projects/{demo['radio']}")
    browser.shown()
    browser.click_model(0, 0)
    browser.until(lambda: "1 patch" in browser.picked(), "a patch")
    browser.click("Try all")
    browser.until(lambda: browser.all("[data-testid=trial] img"), "the trials")
    clean(browser, "trials")
    browser.press(Keys.ESCAPE)
    sheets = [(button, ()) for button in ("From around", "Sun", "Cut open", "More", "Model", "Table")]
    dialogs = [("Model", ("Materials that it brought",)), ("Model", ("Unit, axes and place",))]
    for button, items in sheets + dialogs:
        browser.until(lambda: not browser.all("[role=dialog], [role=menu]"), "closed")
        browser.click(button)
        for item in items:
            browser.item(item)
        browser.css("[role=dialog]" if items else "[role=dialog], [role=menu]")
        clean(browser, f"{button} {items}")
        browser.press(Keys.ESCAPE)


def test_axe_finds_nothing_in_the_check_of_a_model(browser, tmp_path):
    path = tmp_path / "checked.obj"
    path.write_bytes(bare_obj(Surface(cuboid(6000, 4000, 3000))))
    browser.open("/")
    browser.css("[data-testid=model-files]").send_keys(str(path))
    browser.shows("The check")
    clean(browser, "the check")


@pytest.mark.parametrize("look", "cseb")
def test_axe_finds_nothing_in_a_look(browser, demo, look):
    browser.open(f"/projects/{demo['radio']}")
    browser.shown()
    browser.press(look)
    browser.settle()
    clean(browser, look)


def test_a_command_is_found_by_its_words_and_says_why_it_cannot_be_used(browser, demo):
    browser.open(f"/projects/{demo['radio']}")
    browser.shown()
    browser.chord(Keys.CONTROL, "k")
    browser.css("[data-testid=commands]")
    browser.press("hide pick")
    browser.press(Keys.ESCAPE)
    browser.until(lambda: not browser.all("[role=dialog]"), "closed")
    browser.chord(Keys.CONTROL, "k")
    browser.css("[data-testid=commands]")
    browser.press("out of sight")
    browser.shows("not now: nothing is picked")
    browser.chord(Keys.CONTROL, "a")
    browser.press("view: top", Keys.ENTER)
    browser.until(lambda: not browser.all("[role=dialog]"), "carried out")
    browser.settle()
    eye = np.array((browser.css("[data-testid=view]").get_attribute("data-eye") or "").split(","), float)
    assert abs(eye.reshape(4, 4).T[1, 2]) < 1e-9, "seen straight from above"
    browser.chord(Keys.CONTROL, "k")
    browser.shows("The last ones")
    assert "View: Top" in browser.all("[data-testid=commands] [cmdk-item]")[0].text


@pytest.mark.pixels
def test_parts_are_searched_picked_and_hidden_without_the_pointer(browser, demo):
    browser.open(f"/projects/{demo['radio']}")
    browser.shown()
    browser.press("w")
    browser.type_into("Search the parts", "knob")
    browser.until(lambda: len(browser.all("[data-testid=parts-pane] tbody tr")) == 2, "the knobs")
    knob = browser.css("[data-testid=parts-pane] tbody tr button.truncate")
    knob.send_keys(Keys.ENTER)
    browser.until(lambda: "part “Knob 1”" in browser.picked(), "picked")
    browser.settle()
    before = browser.pixels()
    browser.css("[data-testid=parts-pane] [role=switch]").send_keys(Keys.SPACE)
    browser.shows("out of sight: show")
    browser.settle()
    assert (np.abs(browser.pixels() - before).max(axis=-1) > 24).sum() > 300
    assert browser.css("[data-testid=parts-pane] [role=switch]").get_attribute("aria-checked") == "false"


def test_one_press_lays_a_first_model_believably(browser, server, tmp_path):
    as_a_newcomer(browser)
    path = tmp_path / "first.obj"
    path.write_bytes(bare_obj(Surface(cuboid(6000, 4000, 3000))))
    browser.open("/")
    browser.css("[data-testid=model-files]").send_keys(str(path))
    browser.shows("The check")
    browser.click("Open as a project")
    browser.shown()
    browser.shows("Begin here")
    browser.click("Lay it on the largest faces")
    browser.shown(1)
    newest = server.ask("GET", "/api/projects")[0]
    state = server.ask("GET", f"/api/projects/{newest['id']}")
    figures = server.ask("GET", f"/api/projects/{newest['id']}/figures")["F1"]
    assert state["finishes"][0]["area_m2"] >= 0.3 * state["model"]["area_m2"]
    assert figures["true_share"] > 0.95 and figures["smeared_m2"] == 0
