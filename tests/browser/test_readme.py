"""The README's first steps, one after the other, as a newcomer would take them."""

import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.lengths import FULL, at_length
from tests.shapes import lido_obj


def eye(browser) -> np.ndarray:
    return np.array((browser.css("[data-testid=view]").get_attribute("data-eye") or "").split(","), float)


def drag(browser, grip: str, across: int, down: int, typed: str = "") -> None:
    chain = ActionChains(browser.driver, duration=60).move_to_element(browser.css(f"[data-testid={grip}]"))
    chain.click_and_hold().move_by_offset(across, down).perform()
    browser.css("[data-testid=readout]")
    if typed:
        ActionChains(browser.driver).send_keys(typed, Keys.ENTER).perform()
    ActionChains(browser.driver).release().perform()


@pytest.mark.slow
@at_length(lambda test: test, pytest.mark.pixels)
def test_the_first_five_minutes(browser, demo, server, tmp_path):
    path = f"/api/projects/{demo['lido']}"
    browser.driver.execute_script("localStorage.clear()")
    # 1: the project, and its kept views.
    browser.open("/")
    browser.click("Saltmarsh Lido")
    browser.shown()
    browser.shows("Pick the round drum")
    at_first = eye(browser)
    for view in ("The drum", "From the pool"):
        browser.css("section[aria-label=View] button[title='Where the eye stands, and kept views']").click()
        browser.click(view)
        browser.until(lambda: not np.allclose(eye(browser), at_first), view)
    browser.press("5")
    browser.settle()
    # 2 and 3: the drum by every projection.
    browser.click_model(*on_drum(browser))
    browser.until(lambda: "1 patch" in browser.picked(), "the drum")
    browser.css("[role=radio][aria-label^='Square glazed tile']").click()
    browser.click("Try all")
    browser.until(lambda: len(browser.all("[data-testid=trial] img")) >= 4, "the trials")
    for look in at_length((), ("Checker", "Stretch")):
        first = browser.css("[data-testid=trial] img").get_attribute("src")
        browser.choose("What the trials show", f"button[.='{look}']")
        browser.until(
            lambda was=first: browser.css("[data-testid=trial] img").get_attribute("src") != was, look
        )
    browser.click("Take it: Cylindrical")
    browser.until(lambda: not browser.all("[data-testid=trials]"), "taken")
    laid = server.ask("GET", path)["finishes"][-1]
    assert laid["projection"]["kind"] == "cylindrical"
    # 4: by hand, and by a number typed meanwhile.
    browser.css("[data-testid=sheet-turn]")
    browser.settle()
    browser.press("z")
    drag(browser, "sheet-turn", 20, 20, "37.5")
    browser.until(lambda: server.ask("GET", path)["finishes"][-1]["turn_deg"] == 37.5, "turned")
    # 5: every look, and undo.
    for key in at_length("sf", "csegbpf"):
        browser.press(key)
        browser.settle()
    browser.click("Undo")
    browser.until(lambda: server.ask("GET", path)["finishes"][-1]["turn_deg"] != 37.5, "taken back")
    # 6: schedule, parts, commands, keys.
    browser.press(Keys.ESCAPE, "q")
    browser.type_into("Search the schedule", "brick")
    browser.until(lambda: 0 < len(browser.all("[data-row]")) < 5, "searched")
    browser.press(Keys.ESCAPE)
    browser.css("h1").click()
    browser.press("w")
    browser.css("[data-testid=parts-pane]")
    browser.chord(Keys.CONTROL, "k")
    browser.css("[data-testid=commands]")
    browser.press(Keys.ESCAPE)
    browser.until(lambda: not browser.all("[role=dialog]"), "closed")
    browser.press("?")
    browser.css("[data-testid=all-keys]")
    browser.press(Keys.ESCAPE)
    browser.until(lambda: not browser.all("[role=dialog]"), "closed")
    # 7: a rectangle, through the model.
    browser.press("w", "5", "r")
    browser.word("Takes", "through the model")
    canvas = browser.css("[data-testid=view] canvas")
    chain = ActionChains(browser.driver, duration=60).move_to_element_with_offset(canvas, -250, -150)
    chain.click_and_hold().move_by_offset(200, 100).move_by_offset(200, 100).release().perform()
    browser.until(lambda: "hidden from here" in browser.picked(), "what lies behind")
    browser.press("x", "j")
    browser.shows("out of sight: show")
    browser.chord(Keys.SHIFT, "h")
    browser.press("h")
    browser.until(lambda: "Nothing is picked" in browser.picked(), "hidden and put down")
    browser.chord(Keys.SHIFT, "h")
    browser.press("k")
    browser.click("Cut open")
    cut = browser.button("Cut the model open")
    # Before what was told of the hidden faces goes by itself.
    browser.until(lambda: browser.uppermost(cut), "it lies over what was told", 12)
    cut.click()
    browser.click("No cut")
    browser.press(Keys.ESCAPE)
    # 8: the light, and a picture.
    before = browser.pixels() if FULL else None
    browser.click("Sun")
    browser.type("From", "120")
    browser.press(Keys.ESCAPE)
    browser.settle()
    if before is not None:
        assert np.abs(browser.pixels() - before).mean() > 2, "the sun has moved"
    browser.chord(Keys.CONTROL, "s")
    browser.click("As seen")
    browser.click("Save ")
    assert browser.downloaded("Saltmarsh Lido.png")
    browser.until(lambda: not browser.all("[role=dialog]"), "saved")
    # 9: a newer model; `test_models` has the same in `make test`.
    if FULL:
        renewed(browser, tmp_path)
    # 12: the hand-over. Steps 10 and 11 have tests of their own.
    browser.click("Hand-over")
    browser.shows("What will be written")


def renewed(browser, tmp_path) -> None:
    newer = tmp_path / "lido-2.obj"
    newer.write_bytes(lido_obj(2))
    browser.css("[data-testid=newer-files]").send_keys(str(newer))
    browser.shows("The check")
    browser.choose("Upward axis", "button[.='Z up']")
    browser.until(lambda: "25,000 × 22,100" in browser.text("[data-testid=import-size]"), "Z up")
    browser.click("Replace the model")
    browser.shows("of the covered area keeps its finish")
    browser.click("Undo")


def on_drum(browser) -> tuple[int, int]:
    """A place on the drum's outer wall that faces the eye, as `click_model` counts."""
    from pivrel.core.geometry.surface import Surface
    from pivrel.demo import lido

    mesh = lido.build()
    surface = Surface(mesh)
    part = mesh.part_names.index("Drum wall")
    matrix = eye(browser).reshape(4, 4).T
    faces = np.flatnonzero((mesh.face_part == part) & (np.abs(surface.normals[:, 2]) < 1))
    box = browser.css("[data-testid=view] canvas").rect
    place = np.column_stack([surface.centroids[faces], np.ones(len(faces))]) @ matrix.T
    ahead = np.argmin(place[:, 2] / place[:, 3])
    u, v = place[ahead, :2] / place[ahead, 3]
    return round(u * box["width"] / 2), round(-v * box["height"] / 2)
