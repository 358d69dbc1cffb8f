"""One project of the running server, and the page that shows it."""

from __future__ import annotations

import numpy as np
from selenium.webdriver.common.action_chains import ActionChains

from pivrel.store import blobs, projects
from pivrel.store.database import Database
from tests.conftest import facts_of
from tests.edits import edits_of


class Bench:
    """One project of the running server, and the page that shows it."""

    def __init__(self, server, browser, mesh, name):
        self.server, self.browser, self.database = server, browser, Database(server.data)
        with self.database.transaction() as db:
            facts = facts_of(f"{name}.obj", parts=1, triangles=1)
            self.id = projects.create(db, name, blobs.put_mesh(db, mesh), facts)
        self.path = f"/api/projects/{self.id}"

    @property
    def state(self):
        return self.server.ask("GET", self.path)

    @property
    def finish(self):
        return self.state["finishes"][0]

    def edit(self, **edit):
        asked = {"revision": self.state["revision"], "edit": edit}
        return self.server.ask("POST", f"{self.path}/edits", asked)

    def change(self, finishes, **what):
        """Changes fields of finishes, one edit after the other."""
        for edit in edits_of(finishes, **what):
            state = self.edit(**edit)
        return state

    def lay(self, kind, material="brick", pick=None, **projection):
        stated = {"kind": kind, **projection}
        return self.edit(kind="lay", material=material, pick=pick or {"all": True}, projection=stated)

    def open(self, *rows):
        self.browser.open(f"/projects/{self.id}")
        self.browser.shown(self.state["revision"])
        for row in rows:
            self.browser.row(row).click()
            self.browser.css("[data-testid=move-origin]")
        self.browser.settle()

    def at(self, *place):
        """A place of the model as `click_model` counts: from the middle of the view."""
        (x, y), box = self.pixel(place), self.browser.css("[data-testid=view]").rect
        return round(x - box["x"] - box["width"] / 2), round(y - box["y"] - box["height"] / 2)

    def hold(self, grip, right, down):
        """Takes hold of a grip and moves the hand, without letting go."""
        chain = (
            ActionChains(self.browser.driver, duration=60).move_to_element(self.grip(grip)).click_and_hold()
        )
        chain.move_by_offset(right // 2, down // 2).move_by_offset(
            right - right // 2, down - down // 2
        ).perform()
        self.browser.css("[data-testid=readout]")

    def grip(self, name):
        return self.browser.css(f"[data-testid={name}]")

    def let_go(self):
        before = self.state["revision"]
        ActionChains(self.browser.driver).release().perform()
        self.browser.shown(before + 1)

    def readout(self):
        return self.browser.text("[data-testid=readout]")

    def previews(self):
        return int(self.browser.css("[data-testid=view]").get_attribute("data-previews"))

    def pixel(self, place):
        """Where a place of the model lies in the view, in pixels of the window."""
        view = self.browser.css("[data-testid=view]")
        matrix = np.array([float(v) for v in view.get_attribute("data-eye").split(",")]).reshape(4, 4).T
        x, y, _, w = matrix @ (*place, 1.0)
        box = view.rect
        return box["x"] + (x / w + 1) / 2 * box["width"], box["y"] + (1 - y / w) / 2 * box["height"]

    def hold_to(self, grip, place):
        """Takes hold of a grip and moves it to a place of the model."""
        rect = self.grip(grip).rect
        x, y = self.pixel(place)
        self.hold(grip, round(x - rect["x"] - rect["width"] / 2), round(y - rect["y"] - rect["height"] / 2))
