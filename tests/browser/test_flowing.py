"""Layings that follow the surface, by hand: flow, roll, camera, drape and lines."""

import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.support.select import Select

from tests.bent import bent_pipe, cone, grid, winding_wall
from tests.web.test_flowing import shell


def ground(u, v):
    height = 60 * np.sin(5 * u) * np.cos(4 * v)
    return np.column_stack([3000 * u, 2000 * v, height])


@pytest.fixture
def wall(made):
    bench = made(grid(winding_wall(), 48, 12).mesh, "S-wall (made up)")
    bench.open()
    return bench


def projection(bench):
    return bench.finish["projection"]


def laid(bench, browser, revision):
    browser.shown(revision)
    browser.settle()


@pytest.mark.pixels
def test_a_winding_wall_flows_in_three_clicks(wall, browser):
    before = browser.pixels()
    browser.click_model(0, 0)
    browser.until(lambda: "1 patch" in browser.picked(), "the wall")
    browser.click("Flow")
    browser.click("Lay on the pick")
    browser.until(lambda: len(wall.state["finishes"]) == 1, "a row")
    laid(wall, browser, wall.state["revision"])
    assert projection(wall)["kind"] == "flow"
    figures = wall.server.ask("GET", wall.path + "/figures")["F1"]
    assert figures["true_share"] == pytest.approx(1.0) and figures["seams_m"] == 0
    browser.css("[data-testid=corner-0]")
    assert "along 7165" in browser.text("[data-testid=frame]")
    after = browser.pixels()
    assert (np.abs(after.astype(int) - before).max(axis=-1) > 20).mean() > 0.1, "bricks where it was plain"
    # A click on a border begins the sheet there; the next one turns it on.
    browser.click("Next border")
    browser.until(lambda: projection(wall)["shift"] == 1, "the next border")
    laid(wall, browser, wall.state["revision"])
    assert "along 2400" in browser.text("[data-testid=frame]")


def test_a_corner_is_dragged_along_the_border_and_found_again(wall, browser):
    wall.lay("flow")
    browser.row("F1").click()
    grip = browser.css("[data-testid=corner-1]")
    stood = projection(wall)["corners"]
    target = wall.at(4500.0, 900.0 * np.sin(2 * np.pi * 0.75), 0.0)
    view = browser.css("[data-testid=view]")
    ActionChains(browser.driver).click_and_hold(grip).move_by_offset(-10, 5).move_to_element_with_offset(
        view, *target
    ).pause(0.3).release().perform()
    browser.until(lambda: projection(wall)["corners"], "the corner put")
    assert stood is None
    placed = projection(wall)["corners"]
    assert placed[1] == pytest.approx([4500.0, -900.0, 0.0], abs=1.0)
    laid(wall, browser, wall.state["revision"])
    browser.click("placed; find them")
    browser.until(lambda: projection(wall)["corners"] is None, "found again")


def test_limits_are_typed_and_a_sheet_is_stretched_onto_its_borders(wall, browser):
    wall.lay("flow")
    browser.row("F1").click()
    browser.type("Sheet along", "7.2m")
    browser.until(lambda: projection(wall)["limits_mm"] == [7200, None], "the limit")
    browser.choose("What the flow holds", "button[.='Borders']")
    browser.until(lambda: projection(wall)["hold"] == "borders", "held by its borders")
    browser.type("Repeats along", "8")
    browser.until(lambda: projection(wall)["repeats"] == [8, 1], "eight of them")


def test_more_of_the_sheet_is_drawn_in_between_two_borders_by_hand(wall, browser):
    wall.lay("flow")
    wall.open()
    browser.row("F1").click()
    browser.css("[data-testid=limit-across]")
    previews = wall.previews()
    wall.hold("limit-across", 0, -40)
    browser.until(lambda: wall.previews() > previews, "previews")
    assert "Sheet across" in wall.readout()
    wall.let_go()
    along, across = projection(wall)["limits_mm"]
    assert along is None and across > 2450
    wall.hold("limit-along", 30, 0)
    wall.let_go()
    assert abs(projection(wall)["limits_mm"][0] - 7165) > 20
    browser.type("Sheet across", "2.4m")
    browser.until(lambda: projection(wall)["limits_mm"][1] == 2400, "typed")


def test_a_roofs_back_takes_the_same_laying_with_one_press(made, browser):
    bench = made(shell(), "Roof (made up)")
    bench.lay("flow", pick={"parts": ["Outside"]})
    bench.open()
    browser.row("F1").click()
    browser.click("Parts")
    browser.type_into("Search the parts", "inside")
    browser.until(lambda: len(browser.all("[data-testid=parts-pane] tbody tr")) == 1, "the inside")
    browser.css("[data-testid=parts-pane] tbody tr button.truncate").click()
    browser.until(lambda: "960 faces" in browser.picked(), "picked")
    browser.click("Schedule")
    browser.row("F1").click()
    browser.click("Carry through to the pick")
    browser.until(lambda: len(bench.state["finishes"]) == 2, "carried")
    laid(bench, browser, bench.state["revision"])
    back = bench.state["finishes"][1]
    assert back["projection"]["kind"] == "drape" and not back["troubles"]
    browser.css("[data-testid=veil]")


def test_a_roll_starts_on_the_face_that_is_clicked(wall, browser):
    wall.lay("roll")
    browser.row("F1").click()
    browser.click("A face…")
    browser.click_model(*wall.at(1500.0, 900.0, 1200.0))
    browser.until(lambda: projection(wall)["from"], "the face")
    assert projection(wall)["from"] == pytest.approx([1500, 900, 1200], abs=150)


def test_a_sheet_is_thrown_from_the_view_and_follows_it(wall, browser):
    wall.lay("planar")
    browser.row("F1").click()
    browser.click("Camera")
    browser.until(lambda: projection(wall)["kind"] == "camera", "thrown")
    laid(wall, browser, wall.state["revision"])
    first = projection(wall)["eye_mm"]
    browser.click("Follow the view")
    browser.css("[data-testid=thrown]")
    previews = int(browser.css("[data-testid=view]").get_attribute("data-previews"))
    view = browser.css("[data-testid=view]")
    ActionChains(browser.driver).move_to_element_with_offset(view, -200, 150).click_and_hold().move_by_offset(
        60, 20
    ).move_by_offset(60, 10).release().perform()
    browser.until(
        lambda: int(browser.css("[data-testid=view]").get_attribute("data-previews")) > previews, "previews"
    )
    assert projection(wall)["eye_mm"] == first, "nothing is kept while the view is turned"
    browser.click("Keep it here")
    browser.until(lambda: projection(wall)["eye_mm"] != first, "kept")
    assert not browser.all("[data-testid=thrown]")
    view = {
        "position_mm": [3000, -9000, 4000],
        "target_mm": [3000, 0, 1200],
        "up": [0, 0, 1],
        "height_mm": None,
    }
    wall.edit(kind="keep_view", name="From the street", **view)
    wall.open()
    browser.row("F1").click()
    Select(browser.css("[aria-label='From a kept view']")).select_by_visible_text("From the street")
    browser.until(lambda: projection(wall)["eye_mm"] == [3000, -9000, 4000], "from there")


def test_ground_is_draped_over_a_guide_between_two_edges(made, browser):
    bench = made(grid(ground, 30, 20, cut="triangles").mesh, "Ground (made up)")
    bench.lay("planar")
    bench.open()
    browser.row("F1").click()
    browser.click("Drape")
    browser.until(lambda: projection(bench)["kind"] == "drape", "draped")
    browser.shows("No guide yet")
    browser.shows("not laid yet")
    laid(bench, browser, bench.state["revision"])
    browser.click("Two edges…")
    for v in (0.02, 0.98):
        browser.click_model(*bench.at(*ground(np.array([0.5]), np.array([v]))[0]))
    browser.until(lambda: projection(bench)["lines"], "a guide")
    laid(bench, browser, bench.state["revision"])
    assert bench.server.ask("GET", bench.path + "/figures")["F1"]["true_share"] > 0.9


def test_a_line_is_drawn_on_the_model_and_the_sheet_follows_while_it_is(made, browser):
    bench = made(grid(ground, 30, 20, cut="triangles").mesh, "Lawn (made up)")
    bench.lay("lines", material="oak")
    bench.open()
    browser.row("F1").click()
    browser.click("Draw…")
    previews = int(browser.css("[data-testid=view]").get_attribute("data-previews"))
    view = browser.css("[data-testid=view]")
    start = bench.at(*ground(np.array([0.25]), np.array([0.5]))[0])
    drawing = ActionChains(browser.driver).move_to_element_with_offset(view, *start).click_and_hold()
    for k in range(10):
        drawing.move_by_offset(22, round(10 * np.cos(k / 3)))
    drawing.perform()
    browser.css("[data-testid=stroke]")
    browser.until(
        lambda: int(browser.css("[data-testid=view]").get_attribute("data-previews")) > previews, "previews"
    )
    ActionChains(browser.driver).release().perform()
    browser.until(lambda: len(projection(bench)["lines"]) == 1, "a line")
    browser.click("An edge…")
    browser.click_model(*bench.at(*ground(np.array([0.5]), np.array([0.03]))[0]))
    browser.until(lambda: len(projection(bench)["lines"]) == 2, "an edge")
    browser.click("Last off")
    browser.until(lambda: len(projection(bench)["lines"]) == 1, "taken off")


def test_a_line_is_bent_by_its_grips_and_reaches_as_far_as_asked(made, browser):
    u = np.linspace(0.15, 0.85, 40)
    line = {"points": ground(u, 0.3 + 0.35 * u**2).tolist()}
    bench = made(grid(ground, 30, 20, cut="triangles").mesh, "Bent lines (made up)")
    for row, kind in enumerate(("lines", "flow"), start=1):
        bench.lay(kind, material="oak", lines=[line])
        bench.open()
        browser.row(f"F{row}").click()
        browser.css("[data-testid=line-0-2]")

        def now(row=row):
            return bench.state["finishes"][row - 1]["projection"]

        bench.hold("line-0-2", 0, -50)
        bench.let_go()
        bent = np.array(now()["lines"][0]["points"])
        moved = np.linalg.norm(bent - line["points"], axis=1)
        assert moved[20] == moved.max() > 100 and moved[0] == moved[-1] == 0
        # It lies on the surface still.
        x, y, z = bent.T
        np.testing.assert_allclose(z, 60 * np.sin(5 * x / 3000) * np.cos(4 * y / 2000), atol=3)
        reach = now()["reach"]
        bench.hold("line-reach", 0, -60)
        bench.let_go()
        assert now()["reach"] > reach
        browser.type("Reach of a line", "20%")
        browser.until(lambda now=now: now()["reach"] == 0.2, "the reach")


@pytest.mark.pixels
def test_a_guide_is_seen_as_a_veil_and_moved_by_hand(made, browser):
    bench = made(grid(ground, 30, 20, cut="triangles").mesh, "Veil (made up)")
    bench.lay("drape", pick={"all": True}, over={"all": True})
    bench.open()
    before = browser.pixels()
    browser.row("F1").click()
    browser.css("[data-testid=veil] path")
    assert browser.css("[data-testid=veil] path").get_attribute("d").count("Z") == 1200
    assert (np.abs(browser.pixels().astype(int) - before).max(axis=-1) > 5).mean() > 0.1, "it veils the model"
    previews = bench.previews()
    bench.hold("guide-z", 0, -60)
    browser.until(lambda: bench.previews() > previews, "previews")
    bench.let_go()
    x, y, z = projection(bench)["shift_mm"]
    assert x == y == 0 and z > 50
    assert bench.server.ask("GET", bench.path + "/figures")["F1"]["true_share"] > 0.8


def test_what_cannot_be_laid_says_why_where_it_is_laid(made, browser):
    bench = made(grid(torus, 48, 24, closed=True).mesh, "Closed (made up)")
    bench.lay("flow")
    bench.open()
    browser.row("F1").click()
    browser.shows("closes on itself")
    browser.shows("not laid yet")


def torus(u, v):
    r = 2000 + 600 * np.cos(2 * np.pi * v)
    return np.column_stack(
        [r * np.cos(2 * np.pi * u), r * np.sin(2 * np.pi * u), 600 * np.sin(2 * np.pi * v)]
    )


def test_trials_say_what_follows_a_bend(made, browser):
    bench = made(grid(bent_pipe(), 24, 40, closed=True).mesh, "Rail (made up)")
    bench.open()
    browser.click_model(*bench.at(*bent_pipe()(np.array([0.1]), np.array([0.5]))[0]))
    browser.until(lambda: "1 patch" in browser.picked(), "the rail")
    browser.click("Try all")
    browser.until(lambda: browser.all("[data-testid=trial]"), "trials")
    best = browser.all("[data-testid=trial]")[0].text
    assert "Flow" in best.splitlines()
    assert "courses follow the border" in best


def test_a_place_of_the_sheet_is_tied_by_two_marks(wall, browser):
    wall.lay("flow")
    browser.row("F1").click()
    browser.click("Mark…")
    sheet = browser.css("[aria-label^='One repeat of the sheet']")
    ActionChains(browser.driver).move_to_element_with_offset(sheet, 0, 0).click().perform()
    browser.shows("Click where that place of the sheet shall fall")
    browser.click_model(*wall.at(1500.0, 900.0, 1200.0))
    browser.until(lambda: wall.finish["tie"], "a tie")
    (tie,) = wall.finish["tie"]
    assert tie["sheet_mm"] == pytest.approx([450, 300], abs=3)
    assert tie["at_mm"] == pytest.approx([1500, 900, 1200], abs=60)
    browser.shows("meets it")
    browser.click("Take tie 1 off")
    browser.until(lambda: not wall.finish["tie"], "no tie")


def test_a_ring_begins_where_its_grip_is_put(made, browser):
    bench = made(grid(cone(1000.0, 2000.0, 500.0), 48, 6, closed=True).mesh, "Ring road (made up)")
    bench.lay("flow")
    bench.open()
    browser.row("F1").click()
    grip = browser.css("[data-testid=flow-start]")
    place = (1000.0 * np.cos(-1.2), 1000.0 * np.sin(-1.2), 0.0)
    ActionChains(browser.driver).click_and_hold(grip).move_by_offset(5, 5).move_to_element_with_offset(
        browser.css("[data-testid=view]"), *bench.at(*place)
    ).pause(0.3).release().perform()
    browser.until(lambda: projection(bench)["start"], "where it begins")
    assert projection(bench)["start"] == pytest.approx(place, abs=150)


def test_the_sheet_is_shifted_and_turned_by_hand_on_the_surface(wall, browser):
    wall.lay("flow")
    browser.row("F1").click()

    def grip(name):
        box = browser.css(f"[data-testid={name}]").rect
        return np.array([box["x"] + box["width"] / 2, box["y"] + box["height"] / 2])

    before = grip("sheet")
    wall.hold("sheet", 60, 20)
    ActionChains(browser.driver).release().perform()
    browser.until(lambda: wall.finish["offset_mm"] != [0, 0], "shifted")
    laid(wall, browser, wall.state["revision"])
    shifted = wall.finish["offset_mm"]
    # What was drawn is what is kept: under the hand the pattern went along, by whole repeats or less.
    assert np.linalg.norm(grip("sheet") - before) < 120
    wall.hold("sheet-turn", -25, -35)
    turned = grip("sheet")
    ActionChains(browser.driver).release().perform()
    browser.until(lambda: wall.finish["turn_deg"] != 0, "turned")
    laid(wall, browser, wall.state["revision"])
    assert wall.finish["offset_mm"] != shifted or np.linalg.norm(grip("sheet") - turned) < 12
    figures = wall.server.ask("GET", wall.path + "/figures")["F1"]
    assert figures["true_share"] == pytest.approx(1.0)
