"""Grain, set-out, running on, no two alike, the tape and swapping, as a user does them."""

from __future__ import annotations

import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.support.select import Select

from pivrel.core.geometry.mesh import Mesh, merged
from pivrel.core.geometry.surface import Surface
from pivrel.materials.reading import read_grain
from pivrel.store import blobs, projects
from tests.core.test_by_face import grain_on, off_deg, turned
from tests.shapes import cuboid


def final_of(bench, key="F1"):
    """(C, 2) mm by corner id as the server lays a finish, NaN elsewhere; and the surface."""
    with bench.database.reading() as db:
        surface = Surface(blobs.get_mesh(db, projects.get(db, bench.id).mesh))
    state = bench.state
    row = [f["key"] for f in state["finishes"]].index(key)
    cover = bench.server.bytes("GET", f"{bench.path}/cover?key={state['cover_key']}")
    from tests.conftest import unpacked

    _, arrays = unpacked(cover)
    faces = np.flatnonzero(arrays["base"] == row).astype(np.int32)
    st = np.frombuffer(bench.server.bytes("GET", f"{bench.path}/laying/{key}"), "<f4").reshape(-1, 2)
    out = np.full((surface.mesh.corner_count, 2), np.nan)
    out[surface.corners_of(faces)] = st
    return surface, out


def click_place(bench, place):
    bench.browser.click_model(*bench.at(*place))


def waited(bench, revision):
    bench.browser.until(lambda: bench.state["revision"] > revision, "the edit")
    bench.browser.shown(bench.state["revision"])


@pytest.mark.pixels
def test_boards_by_their_length_no_two_alike_and_the_same_after_a_restart(made, browser, server):
    rng = np.random.default_rng(5)
    boards = []
    for k in range(12):
        board = cuboid(rng.uniform(900, 1600), 140, 28)
        board = turned(board, rng)
        points = board.points - board.points.mean(axis=0) + (k % 4 * 1500, k // 4 * 1500, 0)
        boards.append(Mesh(points, board.corners, board.face_start, board.face_part, (f"Board {k:02}",)))
    bench = made(merged(boards), "Boards")
    bench.lay("box", "oak")
    bench.open()
    browser.row("F1").click()
    before = bench.state["revision"]
    browser.choose("Inspector", "button[@title='Which way the grain runs on each face']")
    browser.item("Each board")
    waited(bench, before)
    assert bench.finish["grain"]["along"] == "length" and bench.finish["datum_for"] == "board"
    before = bench.state["revision"]
    browser.driver.find_element("xpath", "//label[normalize-space(.)='each']/input").click()
    waited(bench, before)
    surface, final = final_of(bench)
    for number in range(12):
        corners = surface.mesh.points[number * 8 : number * 8 + 8]
        long = np.linalg.svd(corners - corners.mean(axis=0))[2][0]
        for face in range(number * 6, number * 6 + 6):
            normal = surface.normals[face] / np.linalg.norm(surface.normals[face])
            if abs(normal @ long) < 0.5:
                assert off_deg(grain_on(surface, final, face, 0.0), long) < 0.5
    browser.press("d")
    browser.settle()
    picture = browser.pixels()
    server.kill()
    server.start()
    browser.server_is_back()
    bench.open()
    browser.row("F1").click()
    browser.press("d")
    browser.settle()
    assert np.abs(browser.pixels() - picture).mean() < 0.5, "the same seed gives the same picture"


def test_turning_turns_the_pick_alone_where_it_lies_within_the_finish(made, browser):
    bench = made(cuboid(2000, 1200, 1500), "Block")
    bench.lay("box")
    bench.open("F1")
    browser.press("1")
    click_place(bench, (900, 600, 1500))
    browser.until(lambda: "1 face" in browser.picked(), "the top")
    before = bench.state["revision"]
    _, was = final_of(bench)
    browser.press("t")
    waited(bench, before)
    surface, now = final_of(bench)
    top = int(np.argmax(surface.normals[:, 2]))
    others = np.delete(np.arange(24), range(top * 4, top * 4 + 4))
    assert np.array_equal(was[others], now[others])
    assert bench.finish["turn_deg"] == 0 and bench.finish["adjust"][0]["turn_deg"] == 90
    # It is listed, and can be put back like the rest.
    browser.shows("top, 2.40 m²")
    browser.choose("Faces that lie otherwise", "button[contains(@aria-label, 'like the rest')]")
    browser.until(lambda: bench.finish["adjust"] == [], "put back")
    # With nothing picked the whole finish turns.
    browser.css("[data-testid=view] canvas")
    browser.press("\ue00c")
    browser.until(lambda: "Nothing is picked" in browser.picked(), "put down")
    browser.press("t")
    browser.until(lambda: bench.finish["turn_deg"] == 90, "all of it")


def test_tiles_meet_at_a_picked_corner_of_three_faces(made, browser):
    bench = made(cuboid(1777, 1234, 1500), "Block")
    bench.lay("box", "tile")
    bench.change(["F1"], offset_mm=[37, 61])
    bench.open("F1")
    browser.press("d")
    before = bench.state["revision"]
    browser.click("corner…")
    browser.shows("Click the corner that a joint shall fall on")
    # On the front, a little inside its lower left corner.
    click_place(bench, (60, 0, 60))
    waited(bench, before)
    surface, final = final_of(bench)
    at = np.flatnonzero(np.abs(surface.mesh.points[surface.mesh.corners] - (0, 0, 0)).max(axis=1) < 1e-6)
    assert len(at) == 3
    assert np.abs(final[at] - np.round(final[at] / 150) * 150).max() < 0.1


def test_balance_names_the_cuts_and_the_tape_reads_them(made, browser):
    bench = made(cuboid(1777, 1234, 1500), "Block")
    bench.lay("planar", "tile", pick={"facing": [0, -1, 0], "within_deg": 5})
    bench.open("F1")
    browser.press("d")
    before = bench.state["revision"]
    browser.click("Every side of it")
    waited(bench, before)
    browser.shows("cuts of")
    told = browser.text("[data-testid=notice]")
    # 1777 = 10 whole of 150 and two of 138.5 with their joints: 137 mm of tile at each end.
    assert "cuts of 137.0 mm at both ends, 10 whole between along" in told
    browser.click("Close")
    _, final = final_of(bench)
    low, high = np.nanmin(final, axis=0), np.nanmax(final, axis=0)
    assert (-low[0]) % 150 == pytest.approx(high[0] % 150, abs=0.05)
    browser.press("4")
    browser.settle()
    browser.press("m")
    browser.shows("Click where the tape begins")
    click_place(bench, (200, 0, 300))
    browser.shows("Click where the tape ends")
    click_place(bench, (1100, 0, 300))
    browser.until(lambda: browser.all("[data-testid=tape]"), "the tape")
    words = browser.text("[data-testid=tape]")
    length = float(words.split(" mm")[0].replace(",", ""))
    assert length == pytest.approx(900, abs=8) and "over the surface" in words
    units = float(words.split(": ")[1].split(" units along")[0])
    assert units == pytest.approx(length / 150, abs=0.01)
    browser.press("\ue00c")
    browser.until(lambda: not browser.all("[data-testid=tape]"), "put away")


def test_running_on_over_an_edge_and_everywhere(made, browser):
    bench = made(cuboid(1777, 1234, 700), "Block")
    bench.lay("box", "oak", pick={"facing": [0, -1, 0], "within_deg": 5})
    bench.lay("box", "oak", pick={"facing": [0, 0, 1], "within_deg": 5})
    bench.change(["F2"], turn_deg=20, offset_mm=[33, 44])
    bench.open("F1")
    browser.press("d")
    before = bench.state["revision"]
    browser.click("Over edge…")
    browser.shows("the other side runs on from it")
    click_place(bench, (900, 0, 660))
    waited(bench, before)
    browser.shows("the pattern runs on across this edge")
    browser.click("Close")
    surface, front = final_of(bench, "F1")
    _, top = final_of(bench, "F2")
    for x in (0, 1777):
        at = np.abs(surface.mesh.points[surface.mesh.corners] - (x, 0, 700)).max(axis=1) < 1e-6
        ends = [np.nanmax(np.where(at[:, None], st, np.nan), axis=0) for st in (front, top)]
        assert ends[0] == pytest.approx(ends[1], abs=0.05)

    bench.edit(kind="remove", finishes=["F2"])
    bench.change(["F1"], pick={"all": True})
    bench.open("F1")
    seams = float(bench.server.ask("GET", f"{bench.path}/figures")["F1"]["seams_m"])
    before = bench.state["revision"]
    browser.driver.find_element("xpath", "//label[normalize-space(.)='everywhere']/input").click()
    waited(bench, before)
    left = float(bench.server.ask("GET", f"{bench.path}/figures")["F1"]["seams_m"])
    # Twelve edges, of which a tree of five can run on: the longest that show.
    total = 4 * (1.777 + 1.234 + 0.7)
    assert left == pytest.approx(total - 2 * (1.777 + 1.234) - 1.777, abs=0.01) and left < seams
    browser.press("e")
    browser.shows(f"{left:.2f} m of open seams")


@pytest.mark.pixels
def test_a_swap_keeps_the_grain_and_a_line_parts_two_materials(browser, server, demo):
    path = f"/api/projects/{demo['radio']}"
    browser.open(f"/projects/{demo['radio']}")
    browser.shown()
    browser.row("F1").click()
    browser.press("d", "9", "o")
    browser.settle()

    def strokes():
        from tests.conftest import unpacked

        _, arrays = unpacked(server.bytes("GET", f"{path}/looks/grain?spacing=20"))
        lines = arrays["lines"].reshape(-1, 2, 3).astype(float)
        # On the cabinet alone: the round parts in front have other finishes.
        x, _, z = lines.mean(axis=1).T
        lines = lines[(x < 1) | (x > 339) | (z < 9) | (z > 197)]
        middle, along = lines.mean(axis=1), lines[:, 1] - lines[:, 0]
        return middle, along / np.linalg.norm(along, axis=1, keepdims=True)

    def seen():
        view = browser.css("[data-testid=view]").rect
        middle = browser.screenshot()[int(view["y"] + view["height"] / 2) - 60 :, :][:120, 300:620]
        return read_grain(middle / 255.0)

    _, before = strokes()
    was = seen()
    assert was.grain_deg is not None
    select = browser.css("[aria-label='Compare with another material']")
    Select(select).select_by_value("oak")
    browser.until(lambda: browser.all("[data-testid=split]"), "the line")
    browser.settle()
    picture = browser.screenshot()
    view = browser.css("[data-testid=view]").rect
    y = int(view["y"] + view["height"] / 2)
    half = int(view["width"] / 2)
    left, right = (
        picture[y - 20 : y + 20, half - 160 : half - 60],
        picture[y - 20 : y + 20, half + 60 : half + 160],
    )
    assert right.mean() > left.mean() + 25, "oak is lighter than walnut"
    handle = browser.css("[data-testid=split]")
    ActionChains(browser.driver, duration=60).move_to_element(handle).click_and_hold().move_by_offset(
        -200, 0
    ).release().perform()
    browser.settle()
    moved = browser.screenshot()[y - 20 : y + 20, half - 160 : half - 60]
    assert moved.mean() > left.mean() + 25, "the line was drawn to the left"
    revision = server.ask("GET", path)["revision"]
    browser.click("Take it")
    browser.until(lambda: server.ask("GET", path)["finishes"][0]["material"] == "oak", "taken")
    browser.shown(revision + 1)
    browser.settle()
    _, after = strokes()
    # The sheet is another, the direction is not: on every side of the cabinet it is what it was.
    assert same_directions(before, after) < 0.1
    now = seen()
    assert now.grain_deg is not None
    assert abs((now.grain_deg - was.grain_deg + 90) % 180 - 90) < 2
    browser.click("Undo")
    browser.until(lambda: server.ask("GET", path)["finishes"][0]["material"] == "walnut", "undone")


def same_directions(one, other):
    """The largest angle in degrees from a direction of one set to the nearest of the other, both ways."""
    worst = 0.0
    for a, b in ((one, other), (other, one)):
        cosine = np.abs(np.unique(np.round(a, 5), axis=0) @ np.unique(np.round(b, 5), axis=0).T).max(axis=1)
        worst = max(worst, float(np.degrees(np.arccos(np.clip(cosine, 0, 1))).max()))
    return worst


@pytest.mark.pixels
def test_one_channel_alone_is_shown_as_it_is_stored(made, browser):
    bench = made(cuboid(900, 900, 900), "Cube")
    bench.lay("box", "tile")
    bench.open()
    browser.press("n")
    browser.until(lambda: "channel" in browser.text("[data-testid=legend]"), "the legend")
    browser.settle()
    normal = browser.patch(0, 0, 60).reshape(-1, 3).mean(axis=0)
    assert normal[2] > 200 and abs(normal[0] - 128) < 30, "the blue of a normal map"
    browser.choose("Channel", "button[.='Roughness']")
    browser.settle()
    rough = browser.patch(0, 0, 60).reshape(-1, 3)
    assert np.ptp(rough, axis=1).max() <= 3, "grey"
    browser.choose("Channel", "button[.='Height']")
    browser.settle()
    assert browser.patch(0, 0, 60).reshape(-1, 3).std(axis=0).max() < 2, "there is no such image"
