"""Placing a projection by hand: grips, typed numbers, snapping, looks, trials, in a real browser."""

from __future__ import annotations

import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.shapes import column, cuboid


def differing(a: np.ndarray, b: np.ndarray) -> float:
    return float((np.abs(a - b).max(axis=-1) > 24).mean())


@pytest.mark.pixels
def test_a_datum_is_dragged_and_the_pattern_follows(made, browser, server):
    bench = made(column(48, 600, 1500, rows=4), "Thick column")
    bench.lay("cylindrical", "tile")
    bench.open("F1")
    before, start = browser.pixels(), bench.finish
    browser.shows("measured")
    assert browser.value("Radius") == "598.72"

    bench.hold("move-z", 0, -90)
    browser.until(lambda: bench.previews() > 0, "a preview")
    browser.settle()
    assert "Move along z" in bench.readout()
    assert differing(browser.pixels(), before) > 0.02, "the pattern follows before anything is kept"
    assert bench.state["revision"] == 1
    shown = browser.value("Origin z")
    assert float(shown) > 100, "the inspector shows what the grip says"
    bench.let_go()
    after = bench.finish
    assert after["datum"]["origin_mm"][2] == pytest.approx(float(shown), abs=0.01)
    assert after["datum"]["origin_mm"][:2] == start["datum"]["origin_mm"][:2]
    assert browser.value("Origin z") == shown
    # What is shown after letting go is the core's own result, bit for bit that of a preview there.
    kept = server.bytes("GET", f"{bench.path}/laying/F1?key={after['laying_key']}")
    assert kept == server.bytes("POST", f"{bench.path}/preview/F1", {"datum": after["datum"]})

    # Escape takes a drag back, with the pattern.
    kept_pixels = browser.pixels()
    bench.hold("move-z", 0, -60)
    browser.until(lambda: differing(browser.pixels(), kept_pixels) > 0.02, "moved")
    browser.press(Keys.ESCAPE)
    ActionChains(browser.driver).release().perform()
    browser.until(lambda: differing(browser.pixels(), kept_pixels) < 0.005, "taken back")
    assert bench.state["revision"] == 2

    bench.hold("size-radius", 40, 0)
    assert "Radius" in bench.readout()
    bench.let_go()
    assert bench.finish["projection"]["radius_mm"] > 650
    browser.click("given; measure it")
    browser.until(lambda: bench.finish["projection"]["radius_mm"] is None, "measured again")


def test_numbers_are_typed_while_dragging(made, browser):
    bench = made(cuboid(2000, 1200, 1500), "Block")
    bench.lay("box")
    bench.open("F1")
    bench.hold("sheet-turn", 15, 5)
    assert "Turn" in bench.readout()
    browser.press("3", "7", ".", "5")
    browser.until(lambda: "37.5" in bench.readout() and "Enter keeps it" in bench.readout(), "what is typed")
    browser.until(lambda: browser.value("Turn") == "37.5", "shown at once")
    browser.press(Keys.ENTER)
    browser.shown(2)
    ActionChains(browser.driver).release().perform()
    assert bench.finish["turn_deg"] == 37.5

    bench.change(["F1"], turn_deg=0)
    bench.open("F1")
    bench.hold("sheet", 20, 8)
    browser.press(*"1m/4, 75")
    browser.until(
        lambda: (browser.value("Offset along"), browser.value("Offset up")) == ("250", "75"), "both"
    )
    bench.let_go()
    assert bench.finish["offset_mm"] == [250, 75]

    bench.hold("sheet-width", 10, 0)
    browser.press(*"4 ft")
    browser.until(lambda: browser.value("Repeat width") == "1219.2", "feet")
    bench.let_go()
    assert bench.finish["repeat_mm"] == pytest.approx([1219.2, 812.8]), "proportions are kept"

    bench.hold("move-x", 20, 0)
    browser.press(*"ten")
    browser.shows("is not a number")
    browser.press(Keys.ESCAPE)
    ActionChains(browser.driver).release().perform()
    assert all("422" in line for line in browser.errors()), "only the browser's own line about the refusal"
    assert bench.finish["datum"]["origin_mm"] == [0, 0, 0]


@pytest.mark.pixels
def test_the_sheet_is_shifted_sized_and_turned_without_asking_the_server(made, browser):
    bench = made(cuboid(2000, 1200, 1500), "Block")
    bench.lay("box")
    bench.open("F1")
    browser.press("4")
    browser.settle()
    before = browser.pixels()
    bench.hold("sheet", 40, -20)
    browser.settle()
    assert "Offset" in bench.readout()
    assert differing(browser.pixels(), before) > 0.05
    assert bench.previews() == 0, "the texture's own matrix is enough"
    during = browser.pixels()
    bench.let_go()
    along, up = bench.finish["offset_mm"]
    assert along > 50 and up > 20, "to the right and up"
    # Nothing jumps when the core's own laying takes over (the readout by the hand is gone).
    assert differing(browser.pixels(), during) < 0.06
    bench.hold("sheet-height", 0, -30)
    bench.let_go()
    assert bench.finish["repeat_mm"][1] > 650
    bench.hold("sheet-turn", -45, -45)
    bench.let_go()
    assert 0 < bench.finish["turn_deg"] < 45


def test_snapping_to_angles_corners_and_other_datums(made, browser):
    bench = made(cuboid(2000, 1200, 1500), "Block")
    bench.lay("planar", pick={"faces": [2]})
    bench.lay("planar", "tile", pick={"faces": [4]})
    bench.change(
        ["F1"],
        datum={"origin_mm": [700, 0, 400], "x_axis": [1, 0, 0], "z_axis": [0, -1, 0]},
    )
    bench.open("F1")
    browser.press("4")
    browser.settle()
    # In a straight view the datum's own z axis points at the eye: only its turn can be taken hold of.
    assert not browser.all("[data-testid=move-z]")
    bench.hold_to("move-origin", (1990, 0, 1490))
    browser.until(lambda: "snapped to corner" in bench.readout(), "the corner")
    bench.let_go()
    assert bench.finish["datum"]["origin_mm"] == pytest.approx([2000, 0, 1500])
    bench.hold_to("move-origin", (1008, 0, 8))
    browser.until(lambda: "snapped to middle of edge" in bench.readout(), "the middle")
    bench.let_go()
    assert bench.finish["datum"]["origin_mm"] == pytest.approx([1000, 0, 0])
    # Elsewhere it goes over the sheet, and keeps its depth.
    bench.hold_to("move-origin", (400, 0, 700))
    bench.let_go()
    assert bench.finish["datum"]["origin_mm"] == pytest.approx([400, 0, 700], abs=12)
    x, _, z = bench.finish["datum"]["origin_mm"]

    grip, middle = bench.grip("turn-z").rect, bench.pixel((x, 0, z))
    arm = np.array([grip["x"] + grip["width"] / 2 - middle[0], grip["y"] + grip["height"] / 2 - middle[1]])
    turn = np.radians(-88)  # counter-clockwise on the screen, whose y runs down
    there = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]]) @ arm
    bench.hold("turn-z", round(there[0] - arm[0]), round(there[1] - arm[1]))
    browser.until(lambda: "90 °" in bench.readout() and "snapped to 15°" in bench.readout(), "a quarter turn")
    bench.let_go()
    assert bench.finish["datum"]["x_axis"] == pytest.approx([0, 0, 1], abs=1e-9)
    assert bench.finish["datum"]["z_axis"] == pytest.approx([0, -1, 0], abs=1e-9)

    browser.press("5")
    browser.settle()
    other = bench.state["finishes"][1]["datum"]["origin_mm"]
    bench.hold_to("move-origin", other)
    browser.until(lambda: "snapped to" in bench.readout(), "the other datum or the corner that it stands at")
    bench.let_go()
    assert bench.finish["datum"]["origin_mm"] == pytest.approx(other, abs=1e-3)


@pytest.mark.pixels
def test_every_projection_is_chosen_with_its_options(made, browser):
    bench = made(column(48, 600, 1500, rows=4), "Thick column")
    browser.open(f"/projects/{bench.id}")
    browser.shown()
    browser.press("3")
    browser.chord(Keys.CONTROL, "a")
    browser.until(lambda: "everything" in browser.picked(), "all")
    browser.click("Lay on the pick")
    browser.shown(1)
    seen = [browser.pixels()]
    for name, kind in (("Planar", "planar"), ("Cylindrical", "cylindrical"), ("Spherical", "spherical"),
                       ("Triplanar", "triplanar"), ("Box", "box")):  # fmt: skip
        before = bench.state["revision"]
        browser.choose("Projection of the finish", f"button[.='{name}']")
        browser.shown(before + 1)
        assert bench.finish["projection"]["kind"] == kind
        assert all(differing(browser.pixels(), old) > 0.002 for old in seen[-1:]), kind
        seen.append(browser.pixels())

    def now(**expected):
        browser.until(lambda: expected.items() <= bench.finish["projection"].items(), str(expected))

    browser.click("Wrapped")
    now(corners="wrapped")
    browser.type("Wrapped size x", "1.3m")
    browser.until(lambda: bench.finish["projection"]["size_mm"][0] == 1300, "the size")
    browser.choose("Projection of the finish", "button[.='Cylindrical']")
    now(kind="cylindrical", caps=True, whole_repeats=False)
    browser.choose("Inspector", "label[contains(., 'whole repeats')]")
    now(whole_repeats=True)
    browser.shows("scaled along by")
    browser.type("Cap angle", "30")
    now(cap_angle_deg=30.0)
    browser.choose("Inspector", "label[contains(., 'laid flat')]")
    now(caps=False)
    browser.choose("Projection of the finish", "button[.='Triplanar']")
    now(kind="triplanar")
    browser.type("Blend", "0.7")
    now(blend=0.7)
    browser.click("Mirrored")
    now(backs="mirrored")
    browser.press("9")
    browser.settle()
    before = browser.pixels()
    browser.choose("Material along z", "option[.='Terrazzo, warm white']")
    now(materials={"x": None, "y": None, "z": "terrazzo"})
    browser.shown(bench.state["revision"])
    browser.until(lambda: differing(browser.pixels(), before) > 0.01, "another material on top")

    browser.click("Flip along")
    browser.until(lambda: bench.finish["scale"] == [-1, 1], "flipped")
    browser.choose("Inspector", "label[contains(., 'show the sheet once')]")
    browser.until(lambda: bench.finish["tile"] is False, "once")
    browser.choose("One datum for", "button[.='part']")
    browser.until(lambda: bench.finish["datum"] is None, "each its own")
    browser.shows("Each part is measured from its own datum")


def test_fits_and_seams_by_a_click(made, browser):
    bench = made(cuboid(2000, 1200, 1500), "Block")
    bench.lay("planar")
    bench.open("F1")
    browser.click("To…")
    browser.item("A face")
    browser.shows("Click the face that the projection shall look at")
    x, y = bench.pixel((0, 700, 400))
    box = browser.css("[data-testid=view]").rect
    browser.click_model(round(x - box["x"] - box["width"] / 2), round(y - box["y"] - box["height"] / 2))
    browser.until(lambda: bench.finish["datum"]["z_axis"] == [-1, 0, 0], "looks along the face")
    assert "Nothing is picked" in browser.picked(), "the click was not for picking"

    round_ = made(column(24, 600, 1500), "Column")
    round_.lay("cylindrical")
    round_.open("F1")
    browser.click("To an edge…")
    browser.shows("Click the edge that the seam shall run along")
    a = -2 * np.pi * 5 / 24
    x, y = round_.pixel((600 * np.cos(a), 600 * np.sin(a), 700))
    box = browser.css("[data-testid=view]").rect
    browser.click_model(round(x - box["x"] - box["width"] / 2), round(y - box["y"] - box["height"] / 2))
    browser.until(
        lambda: np.allclose(round_.finish["datum"]["x_axis"], (-np.cos(a), -np.sin(a), 0), atol=1e-6),
        "the seam",
    )
    browser.click("Out of view")
    browser.until(lambda: np.dot(round_.finish["datum"]["x_axis"], (-0.55, -1, 0)) > 0.9, "turned away")
    browser.type("Turn the datum about x", "90")
    browser.until(lambda: abs(round_.finish["datum"]["z_axis"][2]) < 1e-9, "laid over")


@pytest.mark.pixels(0.5)
def test_looks_show_what_they_say(made, browser):
    bench = made(cuboid(2000, 1200, 1500), "Block")
    bench.lay("planar", pick={"faces": [1, 2]})
    bench.change(
        ["F1"],
        datum={"origin_mm": [0, 0, 0], "x_axis": [1, 0, 0], "z_axis": [0, -1, 1]},
    )
    bench.lay("box", "tile", pick={"faces": [1]})
    bench.lay("box", "tile", pick={"faces": [3, 4]})
    bench.edit(kind="remove", finishes=["F3"])
    bench.open()
    pictures = {}
    for key, name, legend in (("f", "Finish", None), ("o", "Color", None), ("c", "Checker", "squares of"),
                              ("s", "Stretch", "stretched"), ("e", "Seams", "open seams"),
                              ("g", "Grain", "strokes every"), ("b", "Bare", "smeared")):  # fmt: skip
        browser.press(key)
        browser.until(lambda name=name: browser.button(name).get_attribute("data-state") == "on", name)
        if legend:
            browser.until(lambda legend=legend: legend in browser.text("[data-testid=legend]"), legend)
        browser.settle()
        pictures[name] = browser.pixels()
        assert all(differing(pictures[name], other) > 0.005 for k, other in pictures.items() if k != name), (
            name
        )
    # Planar at 45 degrees draws the front out to 141 %: orange; box is true on the top: near white.
    browser.press("s")
    browser.settle()
    for place, words, ratio in (
        ((900, 0, 700), "pattern at 141.4 %", 1.2),
        ((1000, 250, 1500), "true to scale", 1.0),
    ):
        x, y = bench.pixel(place)
        box = browser.css("[data-testid=view]").rect
        canvas = browser.css("[data-testid=view] canvas")
        dx, dy = round(x - box["x"] - box["width"] / 2), round(y - box["y"] - box["height"] / 2)
        ActionChains(browser.driver).move_to_element_with_offset(canvas, dx - 4, dy).move_by_offset(
            4, 0
        ).perform()
        browser.until(lambda words=words: words in browser.text("[data-testid=under-pointer]"), words)
        r, _, b = browser.screenshot()[round(y) - 12, round(x) - 12]
        assert (r / b > ratio) if ratio > 1 else abs(r / b - 1) < 0.12, (place, r, b)


@pytest.mark.pixels
def test_trials_put_the_right_one_first_and_one_click_takes_it(browser, server, demo):
    path = f"/api/projects/{demo['lido']}"
    before = server.ask("GET", path)
    column_ = {"parts": ["Column 2"]}
    lay = {"kind": "lay", "material": "tile", "pick": column_, "projection": {"kind": "box"}}
    state = server.ask("POST", f"{path}/edits", {"revision": before["revision"], "edit": lay})
    code = state["finishes"][-1]["key"]
    browser.open(f"/projects/{demo['lido']}")
    browser.shown(state["revision"])
    browser.row(code).click()
    browser.click("Try all projections")
    cards = browser.until(lambda: browser.all("[data-testid=trial]"), "the cards")
    browser.until(lambda: len(browser.all("[data-testid=trial] img")) == len(cards), "their pictures")
    assert len(cards) >= 4
    assert cards[0].text.startswith("Cylindrical") and "best" in cards[0].text
    shots = browser.driver.execute_script(
        "return [...document.querySelectorAll('[data-testid=trial] img')].map((i) => i.src)"
    )
    assert len(set(shots)) == len(cards) and min(len(s) for s in shots) > 3000, "each has its own picture"
    browser.click("Take it: Cylindrical")
    browser.until(lambda: not browser.all("[data-testid=trials]"), "closed")
    browser.shown(state["revision"] + 1)
    taken = server.ask("GET", path)["finishes"][-1]
    assert taken["projection"]["kind"] == "cylindrical"
    browser.click("Undo")
    browser.shown(state["revision"] + 2)
    assert server.ask("GET", path)["finishes"][-1]["projection"]["kind"] == "box"


def test_placement_is_copied_and_a_pick_gets_its_own_projection(made, browser):
    bench = made(cuboid(2000, 1200, 1500), "Block")
    bench.lay("box", pick={"faces": [2, 4]})
    bench.change(["F1"], turn_deg=30, offset_mm=[50, 60])
    bench.open("F1")
    browser.press("1")
    x, y = bench.pixel((900, 600, 1500))
    box = browser.css("[data-testid=view]").rect
    click = (round(x - box["x"] - box["width"] / 2), round(y - box["y"] - box["height"] / 2))
    browser.click_model(*click)
    browser.until(lambda: "1 face" in browser.picked(), "the top")
    browser.click("The finish F1")
    browser.click("Lay the same on the pick")
    browser.until(lambda: len(bench.state["finishes"]) == 2, "laid")
    first, second = bench.state["finishes"]
    for key in ("projection", "datum", "turn_deg", "offset_mm", "scale", "material"):
        assert first[key] == second[key], key

    browser.shown(bench.state["revision"])
    browser.row("F1").click()
    x, y = bench.pixel((1000, 0, 300))
    browser.click_model(round(x - box["x"] - box["width"] / 2), round(y - box["y"] - box["height"] / 2))
    browser.until(lambda: "1 face" in browser.picked(), "the front")
    browser.click("Own projection")
    browser.until(lambda: len(bench.state["finishes"]) == 3, "split")
    rows = bench.state["finishes"]
    assert [r["key"] for r in rows] == ["F1", "F3", "F2"], "right below the row that it is a part of"
    assert [r["faces"] for r in rows] == [1, 1, 1]
    browser.choose("Projection of the finish", "button[.='Planar']")
    browser.until(lambda: bench.state["finishes"][1]["projection"]["kind"] == "planar", "its own")
    assert bench.state["finishes"][0]["projection"]["kind"] == "box"
    browser.choose("Take the placement of another finish", "option[contains(., 'F2')]")
    browser.until(lambda: bench.state["finishes"][1]["projection"] == rows[0]["projection"], "placed like F2")
    assert bench.state["finishes"][1]["turn_deg"] == 30


@pytest.mark.pixels
def test_a_single_sheet_shows_once_over_what_lies_beneath(made, browser):
    bench = made(cuboid(2000, 1200, 1500), "Block")
    bench.lay("box", "terrazzo")
    bench.lay("planar", "brick", pick={"faces": [2]})
    bench.open()
    browser.press("4")
    browser.settle()
    tiled = browser.pixels()
    bench.change(["F2"], tile=False, offset_mm=[600, 500])
    bench.open()
    browser.press("4")
    browser.settle()
    assert differing(browser.pixels(), tiled) > 0.1

    def redness(place):
        x, y = bench.pixel(place)
        spot = (
            browser.screenshot()[round(y) - 9 : round(y) + 9, round(x) - 9 : round(x) + 9]
            .reshape(-1, 3)
            .mean(axis=0)
        )
        return spot[0] / spot[2]

    assert redness((1050, 0, 800)) > 1.3, "brick within the sheet"
    for around in ((300, 0, 800), (1800, 0, 800), (1050, 0, 200), (1050, 0, 1350)):
        assert redness(around) < 1.2, "terrazzo around it"
