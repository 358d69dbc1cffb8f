"""Renews docs/screenshots from a fresh demo: one picture of each main view."""

from __future__ import annotations

import json
import sys
import tempfile
import time
from pathlib import Path

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from pivrel.demo import fill
from pivrel.store.database import Database
from tests.browser.browser import Browser
from tests.browser.test_readme import on_drum
from tests.serving import Server, free_port
from tests.shapes import lido_obj

SHOTS = Path(__file__).parents[2] / "docs" / "screenshots"


class Taker:
    """A browser on a fresh demo; each method takes the pictures of one part of the work."""

    def __init__(self, server: Server, browser: Browser, folder: Path) -> None:
        self.server, self.browser, self.folder = server, browser, folder
        self.ids = {p["demo"]: p["id"] for p in server.ask("GET", "/api/projects")}

    def take(self, name: str) -> None:
        time.sleep(1)
        self.browser.driver.save_screenshot(str(SHOTS / f"{name}.png"))
        print(name, flush=True)

    def edit(self, project: str, **edit: object) -> dict:
        path = f"/api/projects/{self.ids[project]}"
        state = self.server.ask("GET", path)
        return self.server.ask("POST", f"{path}/edits", {"revision": state["revision"], "edit": edit})

    def open(self, project: str, screen: str = "") -> None:
        self.browser.open(f"/projects/{self.ids[project]}{screen}")
        if not screen:
            self.browser.shown()

    def arrange(self, **panes: object) -> None:
        """Has the panes so on the pages that are opened from now on."""
        state = {"list": "schedule", "listPx": 139, "panelPx": 320, "quality": "fine", **panes}
        kept = json.dumps({"state": state, "version": 0})
        self.browser.open("/")
        self.browser.driver.execute_script("localStorage.setItem('pivrel.panes', arguments[0])", kept)

    def near(self, row: str) -> None:
        """Goes close to what a row covers, with the row in hand and nothing picked."""
        browser = self.browser
        browser.row(row).click()
        browser.click("Pick these faces")
        browser.until(lambda: "Picked" in browser.picked(), "its faces")
        browser.press("z", Keys.ESCAPE)
        browser.until(lambda: "Nothing is picked" in browser.picked(), "put down")
        browser.settle()

    def start(self) -> None:
        browser = self.browser
        browser.open("/")
        browser.until(
            lambda: browser.driver.execute_script("return [...document.images].every((i) => i.complete)"),
            "pictures",
        )
        self.take("projects")
        (self.folder / "lido-2 (made up).obj").write_bytes(lido_obj(2))
        browser.css("[data-testid=model-files]").send_keys(str(self.folder / "lido-2 (made up).obj"))
        browser.shows("The check")
        browser.choose("Upward axis", "button[.='Z up']")
        browser.until(lambda: "25,000 × 22,100" in browser.text("[data-testid=import-size]"), "Z up")
        self.take("import-check")
        browser.click("Cancel")

    def place(self) -> None:
        browser = self.browser
        self.arrange(list=None)
        self.open("lido")
        self.take("opened")
        browser.chord(Keys.CONTROL, "k")
        browser.press("turn")
        self.take("search")
        browser.press(Keys.ESCAPE)
        self.arrange()
        self.open("lido")
        browser.click_model(*on_drum(browser))
        browser.until(lambda: "1 patch" in browser.picked(), "the drum")
        browser.css("[role=radio][aria-label^='Square glazed tile']").click()
        browser.settle()
        self.take("workbench")
        browser.click("Try all")
        browser.until(lambda: len(browser.all("[data-testid=trial] img")) >= 4, "the trials")
        self.take("trials")
        browser.press(Keys.ESCAPE)
        browser.until(lambda: not browser.all("[data-testid=trials]"), "closed")
        browser.press("z")
        browser.settle()
        browser.click("Cylindrical")
        browser.click("Lay on the pick")
        browser.css("[data-testid=move-z]")
        browser.settle()
        self.take("datum")

    def look(self) -> None:
        browser = self.browser
        self.arrange()
        self.open("lido")
        browser.press("5", "s")
        time.sleep(2)
        browser.settle()
        self.take("stretch")
        browser.press("f")
        state = self.edit("lido", kind="lay", material="terrazzo", pick={"parts": ["Boulder *"]},
                          projection={"kind": "triplanar"})  # fmt: skip
        self.open("lido")
        self.near(state["finishes"][-1]["key"])
        self.take("triplanar")

    def joints(self) -> None:
        """The boards with grain along their length and no two alike, and a tape over the brick beside them."""
        browser = self.browser
        self.open("lido")
        self.near("F4")
        browser.press("d", "m")
        browser.click_model(260, 60)
        browser.shows("Click where the tape ends")
        browser.click_model(400, 10)
        browser.until(lambda: browser.all("[data-testid=tape]"), "the tape")
        inspector = "document.querySelector('[aria-label=Inspector]')"
        browser.driver.execute_script(
            f"{inspector}.scrollTop = [...{inspector}.querySelectorAll('h3')].find((h) => h.textContent === 'Grain').offsetTop - 150"
        )
        self.take("boards")
        browser.press(Keys.ESCAPE)

    def coats(self) -> None:
        """A coat over the brick with its grips and its panel, and the bake that carries it to a file."""
        browser = self.browser
        self.arrange(panelPx=340)
        self.open("lido")
        self.near("F2")
        browser.click("Leaks under the eaves")
        browser.css("[data-testid=mask-grip-0-0]")
        browser.settle()
        inspector = "document.querySelector('[aria-label=Inspector]')"
        browser.driver.execute_script(
            f"{inspector}.scrollTop = [...{inspector}.querySelectorAll('h3')].find((h) => h.textContent === 'Coats').offsetTop - 20"
        )
        self.take("coats")
        self.open("lido", "/hand-over")
        browser.click("Bake to images…")
        browser.css("[data-testid=bake-plan]")
        self.take("bake")

    def following(self) -> None:
        """What follows the surface: a roof between its borders, and grain along a line."""
        browser = self.browser
        self.arrange()
        self.open("lido")
        self.near("F3")
        browser.css("[data-testid=frame]")
        browser.settle()
        self.take("flow")
        self.open("seat")
        browser.row("F1").click()
        browser.css("[data-testid=line-0-2]")
        browser.settle()
        self.take("seat")
        self.open("handle")
        browser.choose("Sheet", "button[.='+ Flat']")
        browser.row("F1").click()
        browser.css("[data-testid=flat-told]")
        sheet = browser.css("[data-testid=flat-sheet]")
        ActionChains(browser.driver).move_to_element(sheet).click().perform()
        browser.until(lambda: "1 piece in hand" in browser.text("[data-testid=flat-told]"), "a piece")
        ActionChains(browser.driver).move_to_element_with_offset(sheet, -150, 60).perform()
        browser.settle()
        self.take("flat")
        browser.choose("Sheet", "button[.='Model']")

    def renew(self) -> None:
        browser = self.browser
        self.open("lido")
        browser.css("[data-testid=newer-files]").send_keys(str(self.folder / "lido-2 (made up).obj"))
        browser.shows("The check")
        browser.choose("Upward axis", "button[.='Z up']")
        browser.until(lambda: "25,000 × 22,100" in browser.text("[data-testid=import-size]"), "Z up")
        browser.click("Replace the model")
        browser.shows("of the covered area keeps its finish")
        browser.settle()
        self.take("revision")
        browser.click("Undo")
        browser.settle()

    def materials(self) -> None:
        browser = self.browser
        self.open("lido", "/materials")
        browser.click("Red stock brick")
        browser.shows("Its borders meet")
        browser.click("Calibrate")
        box = browser.css("[data-testid=repeat]")
        for down in (-0.25, 0.25):
            down_px = round(box.rect["height"] * down)
            ActionChains(browser.driver).move_to_element_with_offset(box, 60, down_px).click().perform()
        browser.choose("Distance measured", "button[.='up']")
        self.take("calibrate")
        browser.click("Leave it")
        browser.click("Ball, slab, corner")
        browser.until(lambda: "mm" in browser.text("[data-testid=preview]"), "its marks")
        time.sleep(2)
        self.take("materials")
        self.open("lido", "/hand-over")
        browser.shows("What will be written")
        browser.shows("does not run on")
        self.take("hand-over")


def main() -> None:
    """Takes all of them, or those of the methods named on the command line."""
    SHOTS.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        for _ in fill(Database(Path(folder))):
            pass
        server = Server(Path(folder), free_port())
        browser = Browser(server.address)
        browser.sharp()
        taker = Taker(server, browser, Path(folder))
        every = ("start", "place", "look", "joints", "coats", "following", "renew", "materials")
        try:
            for step in sys.argv[1:] or every:
                getattr(taker, step)()
        finally:
            browser.close()
            server.kill()


if __name__ == "__main__":
    main()
