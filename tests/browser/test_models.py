"""Models coming in, faces picked in every way, what is out of sight, kept views, and a newer model; as a user does it."""

from __future__ import annotations

import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from pivrel.core.geometry.mesh import merged
from pivrel.formats.bundle import Upload
from pivrel.formats.reading import read_model
from tests.browser.browser import SIZE
from tests.formats import cad
from tests.lengths import at_length
from tests.shapes import column, cuboid, lido_obj
from tests.test_revision import box
from tests.web.test_imports import MM, obj_of


def open_file(browser, tmp_path, name, data):
    (tmp_path / name).write_bytes(data)
    browser.open("/")
    browser.css("[data-testid=model-files]").send_keys(str(tmp_path / name))


def drag(browser, start, end, *held):
    """Draws from one place of the view to another, counted from its middle."""
    canvas = browser.css("[data-testid=view] canvas")
    chain = (
        ActionChains(browser.driver, duration=60).move_to_element_with_offset(canvas, *start).click_and_hold()
    )
    chain.move_by_offset((end[0] - start[0]) // 2, (end[1] - start[1]) // 2)
    chain.move_to_element_with_offset(canvas, *end).release().perform()


def picked_faces(browser, words):
    browser.until(lambda: words in browser.picked(), words)


def test_the_check_of_the_same_cube_in_every_unit(browser, tmp_path):
    for unit, mm in list(MM.items())[:: at_length(2, 1)]:
        open_file(browser, tmp_path, "cube.obj", obj_of(cuboid(1200, 800, 500), mm))
        browser.shows("The check")
        browser.choose("Unit", f"button[.='{unit}']")
        browser.choose("Upward axis", "button[.='Z up']")
        browser.until(
            lambda: browser.text("[data-testid=import-size]") == "1,200 × 800 × 500 mm",
            f"the size from {unit}",
        )
        browser.click("Cancel")
        browser.until(lambda: not browser.all("[role=dialog]"), "closed")


def test_the_check_shows_faults_and_mends_them(browser, server, tmp_path):
    lines = obj_of(cuboid(1000, 1000, 1000)).decode().splitlines()
    first = next(i for i, line in enumerate(lines) if line.startswith("f"))
    lines[first] = "f " + " ".join(reversed(lines[first].split()[1:]))
    open_file(browser, tmp_path, "turned.obj", "\n".join([*lines, lines[-1]]).encode())
    browser.shows("1 face is turned against its neighbours")
    browser.shows("1 face lies on another one")
    plain = browser.css("figure img").get_attribute("src")
    browser.click("Show")
    browser.until(lambda: browser.css("figure img").get_attribute("src") != plain, "the marked picture")
    for mending in browser.all("input[type=checkbox]"):
        mending.click()
    browser.click("Open as a project")
    browser.shown()
    newest = server.ask("GET", "/api/projects")[0]
    model = server.ask("GET", f"/api/projects/{newest['id']}")["model"]
    assert model["faces"] == 6 and sum("mended" in line for line in model["found"]) == 2
    browser.click("Model")
    browser.shows("Download turned.obj")


def test_a_long_import_shows_its_progress_and_is_stopped(browser, server, tmp_path):
    before = len(server.ask("GET", "/api/projects"))
    open_file(browser, tmp_path, "large.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\n" + b"f 1 2 3\n" * 4_000_000)
    browser.css("[role=progressbar]")
    browser.click("Stop")
    browser.until(lambda: not browser.all("[role=dialog]"), "closed")
    assert len(server.ask("GET", "/api/projects")) == before


@pytest.mark.pixels
def test_a_rectangle_through_a_wall_says_how_many_faces_lie_behind(made, browser):
    wall = [box("Wall", (2000, 100, 1500), (-1000, 0, -750))]
    bench = made(
        merged([*wall, *(box(f"Box {k}", (200, 200, 200), (300 * k - 400, 500, -100)) for k in range(3))]),
        "Wall",
    )
    bench.open()
    browser.press("4")
    browser.settle()
    browser.press("1", "r")
    corners = bench.at(-450, 0, 150), bench.at(450, 0, -150)
    drag(browser, *corners)
    browser.until(
        lambda: "Nothing is picked" in browser.picked(), "whole faces alone, unless asked otherwise"
    )
    browser.word("Faces within", "also partly")
    drag(browser, *corners)
    picked_faces(browser, "1 face ·")
    browser.until(lambda: "all of it shows" in browser.picked(), "nothing is hidden")

    browser.word("Takes", "through")
    drag(browser, *corners)
    picked_faces(browser, "20 faces")
    browser.until(lambda: "19 of them hidden from here" in browser.picked(), "the faces behind")
    before = browser.pixels()
    browser.press("x")
    browser.settle()
    assert (np.abs(browser.pixels() - before).max(axis=2) > 24).sum() > 2000, "they show through the wall"
    browser.word("Faces within", "wholly")
    drag(browser, *corners)
    picked_faces(browser, "18 faces")

    # An outline drawn by hand, taken off again.
    browser.press("u")
    browser.word("Faces within", "also partly")
    canvas = browser.css("[data-testid=view] canvas")
    chain = ActionChains(browser.driver, duration=40).key_down(Keys.CONTROL)
    chain.move_to_element_with_offset(canvas, *bench.at(-450, 0, 150)).click_and_hold()
    for place in ((-450, 0, -150), (-120, 0, -150), (-120, 0, 150)):
        chain.move_to_element_with_offset(canvas, *bench.at(*place))
    chain.release().key_up(Keys.CONTROL).perform()
    picked_faces(browser, "12 faces")


def test_every_kind_of_pick_by_a_click(made, browser):
    bench = made(
        merged(
            [
                column(16, 500, 1500, rows=4),
                box("Block", (400, 400, 400), (900, -200, 0)),
                box("Copy", (400, 400, 400), (1500, -200, 0)),
            ]
        ),
        "Kinds",
    )
    bench.open()
    browser.press("4")
    browser.settle()
    front = bench.at(1100, -200, 200)

    def by(kind, place=front):
        browser.word("A click picks", kind)
        browser.click_model(*place)

    by("copies")
    picked_faces(browser, "12 faces · 2 parts")
    by("planes")
    picked_faces(browser, "2 faces · 2 parts")
    by("faces that look alike")
    picked_faces(browser, "1 face · 1 part")
    assert "looking to the front within 20°" in browser.picked()
    middle = bench.at(-100, -490, 560)
    by("rings", (middle[0], middle[1]))
    browser.until(
        lambda: "16 faces" in browser.picked() or "4 faces" in browser.picked(), "a ring round or along"
    )
    browser.press("1")
    browser.click_model(*front)
    picked_faces(browser, "1 face ·")
    browser.press(">")
    picked_faces(browser, "5 faces")
    browser.press("<")
    picked_faces(browser, "1 face ·")
    browser.press("3")
    browser.word("The pick", "where both overlap")
    browser.click_model(*bench.at(1700, -200, 200))
    picked_faces(browser, "Nothing is picked")


def test_hide_isolate_cut_open_and_kept_picks_and_views(made, browser):
    inner = [
        box("Shell", (1000, 1000, 1000), (-500, -500, -500)),
        box("Core", (200, 200, 200), (-100, -100, -100)),
    ]
    bench = made(merged(inner), "Shell")
    bench.open()
    browser.press("4")
    browser.settle()
    browser.press("3")
    browser.click_model(*bench.at(0, -500, 300))
    picked_faces(browser, "“Shell”")
    browser.click("More")
    browser.field("Keep this pick as").send_keys("The shell", Keys.ENTER)
    browser.until(lambda: bench.state["pick_sets"], "kept")
    browser.press(Keys.ESCAPE)
    browser.until(lambda: not browser.all("[role=dialog]"), "closed")
    browser.press("h")
    browser.shows("6 out of sight: show")
    browser.settle()
    browser.click_model(*bench.at(0, -100, 0))
    picked_faces(browser, "“Core”")
    browser.press("j")
    browser.until(lambda: "5 of them hidden from here" in browser.picked(), "the core alone shows its front")
    browser.click("6 out of sight: show")
    browser.until(lambda: "6 of them hidden from here" in browser.picked(), "the core is inside again")

    browser.click("Cut open")
    browser.click("Cut the model open")
    browser.choose("Cut plane", "button[.='Across Y']")
    browser.click("Other side")
    browser.type("At", "-300")
    browser.press(Keys.ESCAPE)
    browser.until(lambda: "5 of them hidden from here" in browser.picked(), "the cut shows the core's front")

    browser.click("Front")
    browser.field("Keep this view as").send_keys("Cut", Keys.ENTER)
    browser.until(lambda: bench.state["views"], "kept")
    kept = bench.state["views"][0]
    assert (
        kept["clip"] == {"axis": "y", "at_mm": -300, "flipped": True}
        and kept["height_mm"] > 1000
        and kept["picture"]
    )
    browser.press(Keys.ESCAPE)
    eye = browser.css("[data-testid=view]").get_attribute("data-eye")
    browser.click("Cut at y")
    browser.click("No cut")
    browser.press(Keys.ESCAPE)
    browser.press("5")
    browser.until(lambda: browser.css("[data-testid=view]").get_attribute("data-eye") != eye, "another view")
    browser.click("From around")
    browser.click("Turntable")
    turning = browser.css("[data-testid=view]").get_attribute("data-eye")
    browser.until(lambda: browser.css("[data-testid=view]").get_attribute("data-eye") != turning, "it turns")
    browser.click("Stop the turntable")
    browser.choose("Edges", "button[.='Faces']")
    browser.css("[aria-label=Views] img").click()
    browser.until(
        lambda: np.allclose(
            np.array(browser.css("[data-testid=view]").get_attribute("data-eye").split(","), float),
            np.array(eye.split(","), float),
            atol=1e-4,
        ),
        "the kept view again",
    )
    browser.button("Cut at y")
    browser.click("More")
    browser.click("The shell")
    picked_faces(browser, "“Shell”")


def test_cad_and_building_models_are_picked_by_what_they_state(made, browser, server, tmp_path):
    open_file(browser, tmp_path, "fixture.step", cad.step())
    browser.shows("1 cylinder")
    browser.click("Open as a project")
    browser.shown()
    browser.css("[data-word='A click picks']").click()
    browser.shows("surfaces")
    browser.press(Keys.ESCAPE)

    bench = made(read_model("house.ifc", cad.ifc(), Upload({})).mesh, "House")
    bench.open()
    browser.press("4")
    browser.settle()
    wall = bench.at(400, 0, 1500)
    for kind, words in (
        ("element types", "every element of type “Wall”"),
        ("storeys", "storey “Ground”"),
        ("the file", "“Brick”"),
    ):
        browser.word("A click picks", kind)
        browser.click_model(*wall)
        picked_faces(browser, words)
    browser.click("Lay on the pick")
    browser.shown(1)
    assert bench.state["finishes"][0]["pick_words"] == "faces that the file makes of “Brick”"


def test_the_lidos_newer_model_keeps_its_finishes_and_undo_brings_the_old_one_back(
    browser, server, demo, tmp_path
):
    path = f"/api/projects/{demo['lido']}"
    before = server.ask("GET", path)
    browser.open(f"/projects/{demo['lido']}")
    browser.shown()
    (tmp_path / "lido-2.obj").write_bytes(lido_obj(2))
    browser.css("[data-testid=newer-files]").send_keys(str(tmp_path / "lido-2.obj"))
    browser.shows("The check")
    browser.choose("Upward axis", "button[.='Z up']")
    browser.until(lambda: "25,000 × 22,100" in browser.text("[data-testid=import-size]"), "Z up")
    browser.click("Replace the model")
    browser.shows("of the covered area keeps its finish")
    text = browser.text("[aria-label=Revision]")
    assert "Screen A board 21" in text and "Wall north" in text
    after = server.ask("GET", path)
    assert after["model"]["parts"] == before["model"]["parts"] + 6
    covered = lambda state: sum(f["area_m2"] for f in state["finishes"])  # noqa: E731
    assert covered(after) > covered(before)
    browser.shown(after["revision"])
    browser.driver.find_element(
        By.XPATH, "//section[@aria-label='Revision']//li[contains(., 'Wall south')]//button[.='Show']"
    ).click()
    picked_faces(browser, "4 faces")
    panel = browser.css("[aria-label=Revision]")
    assert panel.get_property("scrollWidth") == panel.get_property("clientWidth"), "nothing is cut off"
    browser.click("Undo")
    browser.until(lambda: not browser.all("[aria-label=Revision]"), "no list of a model that is not there")
    browser.until(
        lambda: server.ask("GET", path)["model"]["mesh"] == before["model"]["mesh"], "the old model"
    )
    browser.shown(after["revision"] + 1)
    assert [f["area_m2"] for f in server.ask("GET", path)["finishes"]] == [
        f["area_m2"] for f in before["finishes"]
    ]


@pytest.mark.pixels(1.0)
def test_the_picture_comes_back_when_the_browser_loses_its_graphics(browser, demo):
    browser.open(f"/projects/{demo['radio']}")
    browser.shown()
    browser.drag_model(60, 10)
    browser.settle()
    before = browser.pixels()
    canvas = "const gl = document.querySelector('[data-testid=view] canvas').getContext('webgl2');"
    browser.driver.execute_script(
        canvas + "(window.lost = gl.getExtension('WEBGL_lose_context')).loseContext()"
    )
    browser.shows("The browser's graphics have stopped")
    browser.driver.execute_script("window.lost.restoreContext()")
    browser.settle()
    browser.until(lambda: not browser.all("[role=alert]"), "nothing more to tell")
    assert (np.abs(browser.pixels() - before).max(axis=-1) > 3).mean() < 1e-3, (
        "the same picture, with its light"
    )


def test_a_straight_view_keeps_its_scale_when_the_window_changes(browser, demo):
    browser.open(f"/projects/{demo['radio']}")
    browser.shown()
    browser.press("4")
    browser.settle()

    def pixels_of_a_metre():
        view = browser.css("[data-testid=view]")
        matrix = np.array(view.get_attribute("data-eye").split(","), float).reshape(4, 4)
        return matrix[0, 0] * view.rect["width"] * 500, matrix[2, 1] * view.rect["height"] * 500

    before, height = pixels_of_a_metre(), browser.css("[data-testid=view]").rect["height"]
    browser.size(1500, 1100)
    try:
        browser.until(lambda: abs(pixels_of_a_metre()[1] / before[1] - 1) > 0.05, "the view is higher")
        browser.settle()
        across, up = pixels_of_a_metre()
        assert abs(across / up - 1) < 1e-3, "as wide as it is high"
        higher = browser.css("[data-testid=view]").rect["height"] / height
        assert abs(up / before[1] / higher - 1) < 1e-3, "what was seen from bottom to top still is"
    finally:
        browser.size(*SIZE)


def test_unit_and_place_are_changed_as_one_edit(made, browser):
    bench = made(cuboid(900, 700, 500), "Block")
    bench.lay("box")
    bench.open("F1")
    low, high = np.array(bench.state["model"]["bounds_mm"])
    covered = bench.finish["area_m2"]
    browser.click("Model")
    browser.item("Unit, axes and place")
    browser.choose("Unit of the model", "button[.='cm']")
    browser.until(lambda: browser.text("[data-testid=placed-size]") == "9,000 × 7,000 × 5,000 mm", "its size")
    # The button takes the hand out of the field: what was typed last counts all the same.
    browser.type("Shift z", "1.2m", "")
    browser.click("Change the model")
    browser.until(lambda: bench.state["undo"] == "unit, axes and place of the model", "one edit")
    placed = np.array(bench.state["model"]["bounds_mm"])
    assert np.allclose(placed, [10 * low + [0, 0, 1200], 10 * high + [0, 0, 1200]], atol=0.01)
    assert np.isclose(bench.finish["area_m2"], 100 * covered)
    browser.shown(bench.state["revision"])
    browser.click("Undo")
    browser.until(lambda: np.allclose(bench.state["model"]["bounds_mm"], [low, high], atol=1e-3), "as before")
