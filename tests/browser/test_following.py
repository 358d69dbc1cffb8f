"""Pages on one project follow each other; one that lost its server says so and goes on by itself."""

from selenium.webdriver.common.keys import Keys

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
