"""Cutting and flattening by hand, and the flat view: pieces picked, moved, turned, joined and packed."""

import io
import zipfile

import numpy as np
import PIL.Image
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from pivrel.demo import handle
from tests.bent import grid, sector
from tests.conftest import unpacked
from tests.shapes import cuboid

WIDE, DEEP, HIGH = 600.0, 400.0, 300.0


@pytest.fixture
def box(made):
    bench = made(cuboid(WIDE, DEEP, HIGH), "box (made up)")
    bench.lay("flatten", cuts="creases")
    bench.open()
    return bench


def flat_beside(bench, browser):
    browser.choose("Sheet", "button[.='+ Flat']")
    browser.row("F1").click()
    browser.css("[data-testid=flat-told]")
    browser.settle()


def told(browser):
    return browser.text("[data-testid=flat-told]")


def pieces(bench):
    return unpacked(bench.server.bytes("GET", f"{bench.path}/flat/F1"))[0]["pieces"]


def on_sheet(bench, browser, face):
    """The middle of the piece of a face, as pixels from the middle of the sheet; all pieces are in view."""
    browser.click("All")
    boxes = np.array([piece["box_mm"] for piece in pieces(bench)])
    low, high = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
    area = browser.css("[data-testid=flat-sheet]").rect
    per_pixel = 1.12 * max((high - low) / (area["width"], area["height"] - 40))
    (own,) = [piece["box_mm"] for piece in pieces(bench) if piece["face"] == face]
    middle = (np.array(own[:2]) + own[2:]) / 2 - (low + high) / 2
    return round(middle[0] / per_pixel), round(-middle[1] / per_pixel), per_pixel


def click_piece(bench, browser, face):
    right, down, _ = on_sheet(bench, browser, face)
    sheet = browser.css("[data-testid=flat-sheet]")
    ActionChains(browser.driver, duration=40).move_to_element_with_offset(
        sheet, right, down
    ).click().perform()
    browser.until(lambda: "in hand" in told(browser), "a piece in hand")


@pytest.mark.pixels
def test_the_flat_view_shows_the_pieces_on_the_material_of_the_finish(box, browser):
    flat_beside(box, browser)
    assert "6 pieces" in told(browser) and "100 % of true" in told(browser)
    picture = browser.screenshot()
    area = browser.css("[data-testid=flat-sheet]").rect
    scale = picture.shape[1] / browser.driver.execute_script("return innerWidth")
    left, top, width, height = (int(area[k] * scale) for k in ("x", "y", "width", "height"))
    sheet = picture[top : top + height, left : left + width, :3].astype(int)
    right, down, _ = on_sheet(box, browser, 1)
    middle = sheet[int(height / 2 + down * scale), int(width / 2 + right * scale)]
    # What lies beside the pieces is veiled.
    assert sheet[5, 5].mean() > middle.mean() + 15
    browser.click_model(0, 0)
    browser.until(lambda: "1 piece in hand" in told(browser), "picked on the model, in hand on the sheet")
    click_piece(box, browser, 2)
    browser.until(lambda: "1 face" in browser.picked(), "picked on the sheet, picked on the model")
    browser.choose("Sheet", "button[.='Flat']")
    browser.until(
        lambda: browser.css("[data-testid=flat-sheet]").rect["width"] > 1.4 * area["width"],
        "in the model's place",
    )
    browser.press("v")
    browser.until(lambda: not browser.all("[data-testid=flat-sheet]"), "the model alone")


def test_a_piece_is_moved_turned_flipped_sized_and_taken_back(box, browser):
    flat_beside(box, browser)
    click_piece(box, browser, 2)
    right, down, per_pixel = on_sheet(box, browser, 2)
    before = {piece["face"]: np.array(piece["box_mm"]) for piece in pieces(box)}
    revision = box.state["revision"]
    sheet = browser.css("[data-testid=flat-sheet]")
    ActionChains(browser.driver, duration=60).move_to_element_with_offset(
        sheet, right, down
    ).click_and_hold().move_by_offset(-20, -30).move_by_offset(-20, -30).release().perform()
    browser.shown(revision + 1)
    after = {piece["face"]: np.array(piece["box_mm"]) for piece in pieces(box)}
    moved = after[2] - before[2]
    # Within what it is drawn to on its way.
    np.testing.assert_allclose(moved[:2], [-40 * per_pixel, 60 * per_pixel], atol=9 * per_pixel)
    np.testing.assert_allclose(moved[:2], moved[2:], atol=1e-3)
    assert all(np.allclose(after[face], before[face], atol=1e-3) for face in before if face != 2)
    browser.click("Turn 90°")
    browser.shown(revision + 2)
    browser.click("Flip")
    browser.shown(revision + 3)
    (adjusted,) = box.finish["adjust"]
    assert adjusted["turn_deg"] in (90, -90) and adjusted["mirrored"]
    browser.type("Size for true", "92")
    browser.until(lambda: box.finish["adjust"][0]["size"] == pytest.approx(0.92), "its size")
    browser.until(lambda: "92 % of true" in told(browser), "its size, told")
    for back in range(4):
        browser.chord("\ue009", "z")
        browser.shown(revision + 5 + back)
    assert box.finish["adjust"] == []


def test_the_grip_turns_what_is_in_hand(box, browser):
    flat_beside(box, browser)
    click_piece(box, browser, 1)
    grip = browser.css("[data-testid=turn-grip]")
    revision = box.state["revision"]
    right, down, _ = on_sheet(box, browser, 1)
    sheet = browser.css("[data-testid=flat-sheet]").rect
    middle = sheet["x"] + sheet["width"] / 2 + right, sheet["y"] + sheet["height"] / 2 + down
    grip = browser.css("[data-testid=turn-grip]")
    reach = middle[1] - (grip.rect["y"] + grip.rect["height"] / 2)
    assert reach > 20
    # A quarter round to the left, by way of the diagonal.
    ActionChains(browser.driver, duration=60).move_to_element(grip).click_and_hold().move_by_offset(
        round(-0.7 * reach), round(0.3 * reach)
    ).move_by_offset(round(-0.3 * reach), round(0.7 * reach)).release().perform()
    browser.shown(revision + 1)
    (adjusted,) = box.finish["adjust"]
    assert abs(adjusted["turn_deg"]) == pytest.approx(90, abs=5.1)


def test_pieces_are_joined_laid_level_stacked_and_packed(box, browser):
    flat_beside(box, browser)
    revision = box.state["revision"]
    browser.click("Edges ▾")
    browser.item("Join along an edge…")
    browser.click_place(WIDE / 2, 1.0, HIGH)
    browser.shown(revision + 1)
    browser.shows("moved against the other")
    browser.until(lambda: "5 pieces" in told(browser), "two of them are one")
    browser.click("Arrange ▾")
    browser.item("Stack those of one shape")
    browser.shown(revision + 2)
    browser.until(lambda: "shared" in told(browser), "what lies over another is told")
    browser.click("Arrange ▾")
    browser.item("Pack")
    browser.shown(revision + 3)
    browser.until(lambda: "shared" not in told(browser), "apart again")
    browser.click("Edges ▾")
    browser.item("Lay an edge plumb…")
    browser.click_place(WIDE / 2, 1.0, HIGH)
    browser.shown(revision + 4)


def test_the_pieces_are_cut_out_as_they_lie_and_on_boards(box, browser):
    flat_beside(box, browser)
    browser.click("Cut out…")
    browser.until(lambda: browser.all("[data-testid=pattern-preview] svg #OUTLINE path"), "the pattern drawn")
    browser.click("Save SVG, true mm")
    data = browser.downloaded("box (made up) F1.svg")
    assert data.startswith(b"<?xml") and b'id="OUTLINE"' in data
    browser.choose("Pieces laid", "button[.='On boards']")
    browser.type("Width of a board", "1.3 m")
    browser.type("Height of a board", "820")
    browser.choose("How pieces may be turned", "button[.='Any quarter']")
    browser.until(lambda: "2 boards" in browser.text("[data-testid=boards-told]"), "two boards")
    browser.choose("Files", "button[.='One a board (ZIP)']")
    browser.choose("Kind of file", "button[.='DXF']")
    browser.click("Save DXF, true mm")
    each = zipfile.ZipFile(io.BytesIO(browser.downloaded("box (made up) F1 boards.zip")))
    assert len(each.namelist()) == 2 and all(name.endswith(".dxf") for name in each.namelist())
    browser.choose("Pieces laid", "button[.='As on the sheet']")
    browser.choose("Kind of file", "button[.='PDF, A3']")
    browser.click("Save PDF, A3, true mm")
    assert browser.downloaded("box (made up) F1 A3.pdf").startswith(b"%PDF")
    browser.press(Keys.ESCAPE)
    browser.click("Arrange ▾")
    browser.item("Stack those of one shape")
    browser.until(lambda: "shared" in told(browser), "one over the other")
    browser.click("Cut out…")
    browser.shows("set them apart first")
    assert all("pattern/F1/svg" in complaint and "422" in complaint for complaint in browser.errors())


@pytest.mark.pixels
def test_a_picture_goes_out_is_painted_and_lies_on_the_model_again(box, browser, tmp_path):
    flat_beside(box, browser)
    browser.click("Paint…")
    browser.type("Pixels of the longest side", "1200")
    browser.choose("What the picture shows", "button[.='Plain grey']")
    browser.until(lambda: "1200" in browser.button("Save").text, "as many pixels as were asked for")
    browser.click("Save")
    data = browser.downloaded("box (made up) F1 flat.png")
    picture = PIL.Image.open(io.BytesIO(data))
    assert max(picture.size) == 1200
    # Every grey is painted red: all of the box.
    pixels = np.asarray(picture).copy()
    pixels[(pixels == [200, 200, 196]).all(axis=2)] = [220, 20, 30]
    note = PIL.PngImagePlugin.PngInfo()
    note.add_text("Pivrel", picture.info["Pivrel"])
    PIL.Image.fromarray(pixels).save(tmp_path / "red.png", pnginfo=note)
    browser.css("[aria-label='A painted picture']").send_keys(str(tmp_path / "red.png"))
    browser.until(lambda: box.finish["material"] != "brick" and not box.finish["tile"], "the picture laid")
    browser.shows("where it was taken out")
    browser.until(lambda: _red(browser) > 0.05, "the box is red")


def _red(browser):
    """The share of the model's view that is red."""
    seen = browser.pixels()
    return float(((seen[..., 0] > 120) & (seen[..., 1] < 90) & (seen[..., 2] < 90)).mean())


def test_a_box_is_drawn_round_a_knot_and_its_piece_moves_off(box, browser):
    flat_beside(box, browser)
    before = {p["face"]: p["box_mm"] for p in pieces(box)}
    right, down, per_pixel = on_sheet(box, browser, 2)
    browser.click("Arrange ▾")
    browser.item("Avoid an area…")
    browser.shows("Draw a box on the sheet")
    sheet = browser.css("[data-testid=flat-sheet]")
    ActionChains(browser.driver, duration=40).move_to_element_with_offset(
        sheet, right - 8, down - 6
    ).click_and_hold().move_by_offset(9, 8).move_by_offset(8, 7).release().perform()
    browser.until(lambda: box.state["materials"][box.finish["material"]]["avoid_mm"], "the area marked")
    ((s0, _t0, s1, _t1),) = box.state["materials"][box.finish["material"]]["avoid_mm"]
    assert (s1 - s0) == pytest.approx(17 * per_pixel, abs=2.5 * per_pixel)
    after = {p["face"]: p["box_mm"] for p in pieces(box)}
    assert after[2] != before[2]
    header = unpacked(box.server.bytes("GET", f"{box.path}/flat/F1"))[0]
    assert header["touching"] == [] or "cannot lie clear" in browser.driver.page_source
    browser.press(Keys.ESCAPE)
    browser.click("Arrange ▾")
    browser.item("Forget what is marked")
    browser.until(lambda: not box.state["materials"][box.finish["material"]]["avoid_mm"], "forgotten")


def test_a_strip_is_straightened_and_let_be_again(made, browser):
    bench = made(grid(sector(900, 1000, 1.2), 40, 4).mesh, "arc (made up)")
    bench.lay("flatten", cuts={"edges": []})
    bench.open()
    flat_beside(bench, browser)

    def straight():
        return bench.finish["projection"]["straight"]

    def height():
        (piece,) = pieces(bench)
        return piece["box_mm"][3] - piece["box_mm"][1]

    assert height() > 150, "an arc"
    browser.chord(Keys.CONTROL, "a")
    browser.until(lambda: "1 piece in hand" in told(browser), "the strip in hand")
    browser.click("Edges ▾")
    browser.item("Straighten the strip in hand")
    browser.until(lambda: len(straight()) == 2, "its two long borders")
    browser.until(lambda: height() == pytest.approx(100, abs=8), "as wide as it is")
    browser.shows("2 borders")
    browser.click("All off")
    browser.until(lambda: straight() == [] and height() > 150, "an arc again")


def test_bare_faces_are_told_shown_aside_and_picked(box, browser):
    box.edit(kind="set_pick", finishes=["F1"], pick={"faces": [0, 2, 4]})
    browser.driver.refresh()
    flat_beside(box, browser)
    browser.click("3 faces bare")
    browser.until(lambda: "3 faces" in browser.picked(), "picked")
    # Nothing of the finish is in hand: there is no size to tell, and nothing to turn.
    browser.until(lambda: "bare faces in hand" in told(browser), "bare")
    assert not browser.button("Turn 90°").is_enabled()


def test_edges_are_cut_by_clicks_twice_and_with_shift(made, browser):
    rings = handle.body()
    bench = made(handle.build(), "handle (made up)")
    bench.lay("flatten", material="walnut", cuts={"edges": []})
    bench.open()
    browser.row("F1").click()
    assert "closes on itself" in bench.finish["troubles"]
    browser.click("Pick edges…")

    def cuts():
        return bench.finish["projection"]["cuts"]["edges"]

    # An edge along the front that faces the eye: as a run from end to end.
    row, column = 30, _seen(bench, browser, rings)
    middle = (rings[row, column] + rings[row + 1, column]) / 2
    browser.click_place(*middle)
    browser.until(lambda: len(cuts()) == 1 and len(cuts()[0]) == 2, "one edge")
    browser.click_place(*middle)
    browser.until(lambda: cuts() == [], "closed again")
    right, down = bench.at(*middle)
    view = browser.css("[data-testid=view]")
    ActionChains(browser.driver, duration=20).move_to_element_with_offset(
        view, right, down
    ).double_click().perform()
    browser.until(lambda: len(cuts()) == 1 and len(cuts()[0]) > 20, "its whole run")
    end = cuts()[0][-1]
    other = (rings[20, (column + 3) % handle.COLUMNS] + rings[21, (column + 3) % handle.COLUMNS]) / 2
    browser.click_place(*other, "\ue008")
    browser.until(lambda: len(cuts()) == 2, "the way there")
    assert cuts()[1][0] == end and len(cuts()[1]) > 2
    assert browser.driver.find_element(By.CSS_SELECTOR, "[role=status]").text.startswith(
        "Click an edge to cut"
    )


def _seen(bench, browser, rings):
    """The column of the handle that lies nearest to the eye halfway along."""
    eye = (
        np.array(browser.css("[data-testid=view]").get_attribute("data-eye").split(","), float)
        .reshape(4, 4)
        .T
    )
    origin = np.array(bench.state["model"]["view_origin_mm"])
    places = np.column_stack([rings[30] - origin, np.ones(len(rings[30]))])
    clip = places @ eye.T
    return int(np.argmin(clip[:, 2] / clip[:, 3]))


def test_another_wood_runs_the_same_way_on_the_handle(browser, demo, server):
    path = f"/api/projects/{demo['handle']}"

    def grain():
        return unpacked(server.bytes("GET", f"{path}/looks/grain"))[1]

    state = server.ask("GET", path)
    before = grain()
    edit = {"kind": "set_material", "finishes": ["F1"], "material": "oak"}
    server.ask("POST", f"{path}/edits", {"revision": state["revision"], "edit": edit})
    after = grain()
    lines = [np.asarray(found["lines"], float).reshape(-1, 2, 3) for found in (before, after)]
    along = [
        np.diff(line, axis=1)[:, 0] / np.linalg.norm(np.diff(line, axis=1)[:, 0], axis=1)[:, None]
        for line in lines
    ]
    cosine = np.abs(np.einsum("ij,ij->i", *along))
    assert np.degrees(np.arccos(np.clip(cosine, -1, 1))).max() < 0.1
    state = server.ask("GET", path)
    server.ask("POST", f"{path}/undo", {"revision": state["revision"]})
