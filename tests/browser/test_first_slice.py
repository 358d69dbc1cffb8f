"""The whole job once, on somebody else's model, in a real browser."""

from __future__ import annotations

import json

import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from pivrel.core.geometry.surface import Surface
from pivrel.formats.bundle import Upload
from pivrel.formats.reading import read_model
from tests.formats.test_handover import validated
from tests.samples import compas_sample

FACE = (2, -10)
"""A place on the front of the stacked boxes, counted from the middle of the view."""


CABINET_LEFT, CLOTH = (0, 60, 110), (110, 12, 60)
"""Places on the radio, in mm."""


def is_brick(pixels: np.ndarray) -> float:
    """The share of pixels that are redder than they are green or blue, as brick is and bare faces are not."""
    r, g, b = pixels[..., 0], pixels[..., 1], pixels[..., 2]
    return float(((r > 1.25 * g) & (r > 1.35 * b)).mean())


def differing(a: np.ndarray, b: np.ndarray) -> float:
    return float((np.abs(a - b).max(axis=-1) > 24).mean())


@pytest.mark.pixels(0.5)
def test_from_a_model_file_to_believable_walls(browser, server, tmp_path):
    path = compas_sample("boxes.obj")
    browser.open("/")
    browser.css("[data-testid=model-files]").send_keys(str(path))
    browser.shows("Such files state neither unit nor upward axis")
    browser.shows("20,000 × 20,000 × 20,000 mm")
    browser.click("ft")
    browser.shows("6,096 × 6,096 × 6,096 mm")
    browser.click("Z up")
    browser.click("Open as a project")
    browser.shown()

    # Nothing is in hand, so the panel says what to do.
    browser.shows("Choose a material, and lay it on the largest faces")

    bare = browser.patch(*FACE)
    assert is_brick(bare) < 0.02
    browser.click_model(*FACE)
    browser.until(lambda: "1 patch" in browser.picked(), "the pick")
    browser.click("Lay on the pick")
    browser.shown(1)
    browser.until(lambda: "Nothing is picked" in browser.picked(), "a laid pick is put down")
    browser.settle()
    level = browser.patch(*FACE)
    assert is_brick(level) > 0.5
    assert differing(level, bare) > 0.5

    browser.type("Turn", "90")
    browser.shown(2)
    upright = browser.patch(*FACE)
    assert is_brick(upright) > 0.5
    assert differing(level, upright) > 0.15
    # Bricks are three times as long as they are high, so the joints crossed on the way up are more.
    assert courses_level(level) > 1.1 > 0.95 > courses_level(upright)

    browser.click("Undo")
    browser.shown(3)
    assert differing(browser.patch(*FACE), level) < 0.02
    browser.click("Redo")
    browser.shown(4)
    assert differing(browser.patch(*FACE), upright) < 0.02

    browser.click("Checker")
    browser.shows("squares of 100 mm")
    browser.settle()
    checker = browser.patch(*FACE)
    assert is_brick(checker) < 0.1
    assert differing(checker, upright) > 0.5

    browser.click("Hand-over")
    browser.shows("has no finish")
    browser.css("[data-testid=download-glb]").click()
    glb = browser.downloaded("boxes.glb")
    (tmp_path / "boxes.glb").write_bytes(glb)
    assert validated(tmp_path / "boxes.glb")["numErrors"] == 0
    source = Surface(read_model(path.name, path.read_bytes(), Upload({}), "ft", "z").mesh)
    back = Surface(read_model("boxes.glb", glb, Upload({})).mesh)
    np.testing.assert_allclose(back.bounds, source.bounds, atol=1e-3)
    assert back.face_areas.sum() == pytest.approx(source.face_areas.sum(), rel=1e-6)
    assert back.mesh.part_names == source.mesh.part_names

    browser.click("Workbench")
    browser.shown()
    browser.driver.refresh()
    browser.shown()
    assert differing(browser.patch(*FACE), upright) < 0.02
    server.kill()
    server.start()
    browser.server_is_back()
    browser.driver.refresh()
    browser.shown()
    assert differing(browser.patch(*FACE), upright) < 0.02
    browser.click("Undo")
    browser.shown(5)
    assert differing(browser.patch(*FACE), level) < 0.02


def courses_level(pixels: np.ndarray) -> float:
    """How much more the picture changes from row to row than from column to column."""
    gray = pixels.mean(axis=2)
    return float(np.diff(gray, axis=0).std() / np.diff(gray, axis=1).std())


def test_size_typed_turn_by_key_and_several_rows(browser, demo, server):
    browser.open(f"/projects/{demo['radio']}")
    browser.shown()
    path = f"/api/projects/{demo['radio']}"
    before = server.ask("GET", path)

    browser.row("F1").click()
    browser.type("Repeat width", "30cm")
    browser.shown(before["revision"] + 1)
    assert (browser.value("Repeat width"), browser.value("Repeat height")) == ("300", "600")
    assert browser.value("Scale along") == "0.5"
    browser.type("Offset along", "450/2 + 1in")
    browser.until(lambda: browser.value("Offset along") == "250.4", "the sum")

    browser.type("Turn", "ninety")
    browser.shows("'ninety' is not a number")
    assert all("400" in line for line in browser.errors()), "only the browser's own line about the refusal"
    browser.field("Turn").send_keys(Keys.ESCAPE)
    assert browser.value("Turn") == "90"

    browser.press("t")
    browser.until(lambda: browser.value("Turn") == "180", "turned by key")
    browser.click("Turn by 90 degrees")
    browser.until(lambda: browser.value("Turn") == "270", "turned by button")

    row = browser.row("F2")
    ActionChains(browser.driver).key_down(Keys.CONTROL).click(row).key_up(Keys.CONTROL).perform()
    browser.shows("2 rows together")
    browser.type("Scale along", "200%")
    browser.until(
        lambda: [f["scale"] for f in server.ask("GET", path)["finishes"]][:2] == [[2, 2], [2, 2]], "both rows"
    )
    ActionChains(browser.driver).key_down(Keys.CONTROL).send_keys("z").key_up(Keys.CONTROL).perform()
    browser.until(lambda: server.ask("GET", path)["finishes"][0]["scale"] == [0.5, 0.5], "undone together")


@pytest.mark.pixels
def test_picking(browser, demo):
    browser.open(f"/projects/{demo['radio']}")
    browser.shown()
    browser.word("A click picks", "parts")
    browser.click_place(*CABINET_LEFT)
    browser.until(lambda: "part “Cabinet left”" in browser.picked(), "a part")
    browser.click_place(*CLOTH, Keys.SHIFT)
    browser.until(lambda: "“Front cloth”" in browser.picked() and "2 parts" in browser.picked(), "two parts")
    browser.click_place(*CLOTH, Keys.CONTROL)
    browser.until(lambda: "“Front cloth”" not in browser.picked(), "one taken off")
    browser.settle()
    marked = browser.pixels()
    browser.press(Keys.ESCAPE)
    browser.shows("Nothing is picked")
    browser.settle()
    marks = np.abs(browser.pixels() - marked).max(axis=-1)
    assert (marks > 8).mean() > 0.03 and (marks > 60).mean() < 0.02, "marked, with the material readable"

    browser.press("1")
    browser.click_place(*CLOTH)
    browser.until(lambda: "1 face ·" in browser.picked(), "a face")
    browser.press(">")
    browser.until(lambda: "5 faces" in browser.picked(), "grown")
    browser.press("i")
    browser.until(lambda: "everything but" in browser.picked(), "inverted")
    browser.chord(Keys.CONTROL, "a")
    browser.until(lambda: "everything" in browser.picked() and "16 parts" in browser.picked(), "all")
    browser.press(Keys.ESCAPE, "2")
    browser.crease("2*50")
    browser.click_place(*CABINET_LEFT)
    # Beyond 90 degrees a patch goes round the corners of its board, but not on to the next board.
    browser.until(lambda: "6 faces · 1 part" in browser.picked(), "a patch over the corners")

    before = browser.pixels()
    browser.drag_model(120, 20)
    browser.settle()
    assert differing(browser.pixels(), before) > 0.05, "a drag looks round the model"
    assert "faces" in browser.picked(), "and does not pick"


@pytest.mark.pixels
def test_bare_look_and_the_way_from_handover_to_the_faces(browser, demo, server):
    path = f"/api/projects/{demo['lido']}"
    edit = {"kind": "set_projection", "finishes": ["F3"], "projection": {"kind": "planar"}}
    server.ask("POST", f"{path}/edits", {"revision": server.ask("GET", path)["revision"], "edit": edit})
    browser.open(f"/projects/{demo['lido']}/hand-over")
    browser.shows("is smeared: the projection meets it nearly edge-on")
    browser.until(lambda: (browser.all("main li button")[0].click(), True)[1], "show on the model")
    browser.shown()
    browser.until(lambda: "faces" in browser.picked(), "the bare faces are picked")
    browser.press(Keys.ESCAPE)
    browser.settle()
    pixels = browser.pixels()
    wrong = (pixels[..., 0] > 150) & (pixels[..., 1] < 130) & (pixels[..., 2] < 90)
    assert wrong.mean() > 0.005, "bare faces stand out"
    browser.press("4")
    browser.settle()
    assert differing(browser.pixels(), pixels) > 0.1, "straight from the front"


def test_a_material_has_its_own_size_in_a_project(browser, demo, server):
    browser.open(f"/projects/{demo['lido']}/materials")
    browser.click("Terrazzo, warm white")
    browser.type("Width", "1.2m")
    browser.until(lambda: browser.value("Height") == "1200", "proportions kept")
    browser.shows("The library has it at 800 × 800 mm")
    browser.click("Roughness")
    browser.click("Undo")
    browser.until(lambda: browser.value("Width") == "800", "undone")
    assert server.ask("GET", f"/api/projects/{demo['lido']}")["materials"]["terrazzo"]["repeat_mm"] == [
        800,
        800,
    ]


def test_bad_files_say_what_is_wrong(browser, tmp_path):
    bad = tmp_path / "broken.obj"
    bad.write_text("v 0 0 0\nv 1 0 0\nf 1 2 7\n")
    browser.open("/")
    browser.css("[data-testid=model-files]").send_keys(str(bad))
    browser.shows("broken.obj: line 3 refers to index 7, but the file has 2 points")
    browser.click("Close")
    assert all("422" in line for line in browser.errors()), "only the browser's own line about the refusal"
    browser.until(lambda: browser.all("[role=dialog]") == [], "closed")
    assert "broken" not in [h.text for h in browser.all("h2")]


def test_an_edit_made_elsewhere_is_not_overwritten(browser, demo, server):
    path = f"/api/projects/{demo['lido']}"
    browser.open(f"/projects/{demo['lido']}")
    browser.shown()
    browser.row("F5").click()
    state = server.ask("GET", path)
    edit = {"kind": "turn_to", "finishes": ["F5"], "turn_deg": 15}
    with browser.hearing_nothing():
        server.ask("POST", f"{path}/edits", {"revision": state["revision"], "edit": edit})
        browser.type("Turn", "30")
        browser.shows("changed elsewhere meanwhile (turn of Terrazzo)")
    assert all("409" in line for line in browser.errors()), "only the browser's own line about the refusal"
    browser.until(
        lambda: browser.value("Turn") == "15", "the other edit is shown, and what was refused is gone"
    )
    browser.row("F1").click()
    browser.settle()
    assert json.dumps(server.ask("GET", path)["finishes"][4]["turn_deg"]) == "15.0"
