"""Renews docs/screenshots from a fresh demo: one picture of each main view."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

from selenium.webdriver.common.keys import Keys

from pivrel.demo import fill
from pivrel.store.database import Database
from tests.browser.browser import Browser
from tests.serving import Server
from tests.web.test_killed import free_port

SHOTS = Path(__file__).parents[2] / "docs" / "screenshots"


def take(browser: Browser, name: str) -> None:
    time.sleep(1)
    browser.driver.save_screenshot(str(SHOTS / f"{name}.png"))
    print(name)


def main() -> None:
    SHOTS.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        for _ in fill(Database(Path(folder))):
            pass
        server = Server(Path(folder), free_port())
        browser = Browser(server.address)
        ids = {p["demo"]: p["id"] for p in server.ask("GET", "/api/projects")}
        try:
            browser.open("/")
            browser.until(
                lambda: browser.driver.execute_script("return [...document.images].every((i) => i.complete)"),
                "pictures",
            )
            take(browser, "projects")
            browser.open(f"/projects/{ids['lido']}")
            browser.shown()
            browser.click("Got it")
            browser.click_model(80, -98)
            browser.until(lambda: "1 patch" in browser.picked(), "the drum")
            browser.click("Square glazed tile")
            browser.css("[data-testid=row-F2] td").click()
            browser.settle()
            take(browser, "workbench")
            browser.press(Keys.ESCAPE, "c")
            browser.settle()
            take(browser, "checker")
            browser.open(f"/projects/{ids['radio']}")
            browser.shown()
            browser.css("[data-testid=row-F1] td").click()
            browser.settle()
            take(browser, "radio")
            browser.open(f"/projects/{ids['lido']}/materials")
            browser.click("Red stock brick")
            take(browser, "materials")
            browser.open(f"/projects/{ids['lido']}/hand-over")
            browser.shows("What will be written")
            browser.shows("is smeared")
            take(browser, "hand-over")
        finally:
            browser.close()
            server.kill()


if __name__ == "__main__":
    main()
