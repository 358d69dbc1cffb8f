"""Pages on one project follow each other; one that lost its server says so and goes on by itself."""

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from pivrel.store import projects
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody
from tests.browser.browser import Browser
from tests.conftest import make_cube
from tests.serve_failing import COMMAND as FAILING
from tests.serving import Server, free_port
from tests.shapes import cuboid


def turn_of(browser):
    return browser.value("Turn")


def test_two_tabs_follow_each_other_and_a_refused_value_goes_back(made, browser, server):
    bench = made(cuboid(2000, 1200, 900), "Block")
    bench.lay("box")
    bench.open("F1")
    first = browser.driver.current_window_handle
    browser.driver.switch_to.new_window("tab")
    browser.size(1280, 800)
    second = browser.driver.current_window_handle
    try:
        bench.open("F1")
        browser.type("Turn", "30")
        browser.until(lambda: bench.finish["turn_deg"] == 30, "turned in the second tab")
        browser.look_at(first)
        browser.until(lambda: turn_of(browser) == "30", "the first tab follows")

        # An edit elsewhere, and a figure typed before this page can have heard of it.
        with browser.hearing_nothing():
            bench.change(["F1"], turn_deg=45)
            browser.type("Turn", "60")
            browser.shows("“60” was not taken: the project was changed elsewhere meanwhile")
        assert all("409" in line for line in browser.errors())
        browser.until(lambda: turn_of(browser) == "45", "the value that counts is back in the field")
        # Leaving the field keeps nothing of what was refused.
        browser.field("Turn").send_keys(Keys.TAB)
        browser.settle()
        assert bench.finish["turn_deg"] == 45
        # An edit that succeeds leaves no old reason and no banner behind.
        browser.type("Turn", "90")
        browser.until(lambda: bench.finish["turn_deg"] == 90, "taken")
        browser.until(lambda: not browser.all("[role=alert]"), "no stale banner")
    finally:
        for handle in browser.driver.window_handles:
            if handle == second:
                browser.driver.switch_to.window(handle)
                browser.driver.close()
        browser.driver.switch_to.window(first)


def test_a_view_kept_elsewhere_comes_too_and_is_no_edit(made, browser):
    bench = made(cuboid(900, 700, 500), "Block")
    bench.lay("box")
    bench.open()
    bench.edit(
        kind="keep_view", name="From the quay", position_mm=[0, -3000, 900], target_mm=[0, 0, 0], up=[0, 0, 1],
        height_mm=None,
    )  # fmt: skip
    browser.until(lambda: "Undo" in browser.button("Undo").text, "undo")
    browser.click("From around")
    browser.shows("From the quay")
    assert "lay" in browser.button("Undo").text, "undo is still for the laying"
    browser.click("Forget From the quay")
    browser.shows("is forgotten")
    browser.click("Take it back")
    browser.until(lambda: [v["name"] for v in bench.state["views"]] == ["From the quay"], "taken back")


def test_a_page_that_lost_its_server_says_so_and_recovers_by_itself(made, browser, server):
    bench = made(cuboid(900, 700, 500), "Block")
    bench.lay("box")
    bench.open("F1")
    server.kill()
    browser.css("[data-testid=server-gone]")
    browser.type("Turn", "30")
    browser.shows("the server does not answer")
    server.start()
    browser.until(lambda: not browser.all("[data-testid=server-gone]"), "the page goes on by itself")
    browser.server_is_back()
    assert turn_of(browser) == "0", "nothing that was not confirmed stays in the field"
    browser.type("Turn", "40")
    browser.until(lambda: bench.finish["turn_deg"] == 40, "edits are taken again")


def test_a_page_whose_project_was_deleted_elsewhere_says_so(made, browser, server):
    bench = made(cuboid(900, 700, 500), "Block")
    bench.lay("box")
    bench.open("F1")
    server.bytes("DELETE", bench.path)
    browser.shows("This project was deleted elsewhere.")
    assert not browser.all("[data-testid=server-gone]")
    assert all("404" in line for line in browser.errors()), "only the browser's own line about what is gone"
    browser.click("See the projects that there are")
    browser.until(lambda: browser.all("h2"), "the projects")
    assert "Block" not in [h.text for h in browser.all("h2")]


def test_a_page_that_is_closed_in_the_middle_of_a_drag_loses_nothing(made, browser):
    bench = made(cuboid(900, 700, 500), "Block")
    bench.lay("planar")
    bench.open("F1")
    before = bench.state
    bench.hold("move-origin", 60, -30)
    browser.leave()
    ActionChains(browser.driver).release().perform()
    assert bench.state == before, "what was not let go of is no edit"
    bench.open("F1")
    browser.type("Turn", "30")
    browser.until(lambda: bench.finish["turn_deg"] == 30, "the next edit is taken")


def test_a_row_that_fails_says_why_and_the_rest_of_the_page_goes_on(tmp_path):
    database = Database(tmp_path / "data")
    with database.transaction() as db:
        body = LibraryBody(name="Brick", repeat_mm=(300, 200), grain_deg=0, metallic=0, images={})
        projects.put_library(db, "brick", 0, body)
        make_cube(db)
    database.close()
    server = Server(tmp_path / "data", free_port(), FAILING)
    browser = Browser(server.address)
    try:
        path, state = "/api/projects/1", {"revision": 0}
        for face, name in enumerate(("Struck", "Unmeasured", "Whole")):
            lay = {
                "kind": "lay",
                "material": "brick",
                "pick": {"faces": [face]},
                "projection": {"kind": "box"},
            }
            named = {"kind": "rename", "finishes": [f"F{face + 1}"], "name": name}
            for edit in (lay, named):
                state = server.ask("POST", f"{path}/edits", {"revision": state["revision"], "edit": edit})
        for key in ("F1", "F2"):
            turn = {"kind": "turn_datum", "finishes": [key], "axis": "z", "turn_by": 10}
            state = server.ask("POST", f"{path}/edits", {"revision": state["revision"], "edit": turn})
        browser.draws(False)
        browser.begin()
        browser.open("/projects/1")
        browser.row("F1").click()
        browser.shows("could not be laid")
        browser.shows("Nothing of this finish is laid: it could not be laid, by a fault of Pivrel's own")
        browser.shows("none of it could be laid")
        browser.row("F2").click()
        browser.shows("This finish could not be measured")
        browser.row("F3").click()
        browser.type("Turn", "30")
        browser.until(
            lambda: server.ask("GET", path)["finishes"][2]["turn_deg"] == 30, "the others are edited"
        )
        browser.open("/projects/1/hand-over")
        browser.shows("is left out of the files")
        assert browser.errors() == []
    finally:
        browser.close()
        server.kill()
