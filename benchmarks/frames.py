"""How many frames a second the page draws: a schedule of 300 rows that scrolls, and the demo's lido that turns.

`python -m benchmarks.frames`: a real server and headless Chromium on this machine, which may have no graphics card.
"""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

import numpy as np
from tests.browser.bench import Bench
from tests.browser.browser import Browser
from tests.browser.rows import blocks, lay_each
from tests.serving import Server, free_port

from pivrel.demo import fill
from pivrel.store.database import Database

ROWS = 300
ASKED = 30.0
"""Frames a second, of a schedule that scrolls."""

# Scrolls for six seconds at 1,000 px a second, ten notches of a wheel; gives the ms between the frames.
SCROLL = """
    const done = arguments[0], times = [], pane = document.querySelector("[data-testid=schedule-pane]");
    const next = (at) => {
        times.push(at);
        if (at - times[0] > 6000) return done(times.slice(1).map((t, k) => t - times[k]));
        pane.scrollTop = at - times[0];
        requestAnimationFrame(next);
    };
    requestAnimationFrame(next);
"""


def scrolling(browser: Browser, server: Server) -> list[float]:
    """The ms of each frame while the schedule scrolls."""
    bench = Bench(server, browser, blocks(ROWS), "Three hundred blocks")
    lay_each(bench, ROWS)
    bench.open()
    return list(map(float, browser.driver.execute_async_script(SCROLL)))


def turning(browser: Browser, server: Server, seconds: float = 10.0) -> float:
    """Frames a second that are drawn while the eye goes round the demo's largest model."""
    (lido,) = [p["id"] for p in server.ask("GET", "/api/projects") if p["demo"] == "lido"]
    browser.open(f"/projects/{lido}")
    browser.shown()
    browser.click("From around")
    browser.click("Turntable")
    first, began = browser.drawn(), time.monotonic()
    time.sleep(seconds)
    return (browser.drawn() - first) / (time.monotonic() - began)


COATS = [
    {"name": "Leak", "material": "leak", "projection": {"kind": "planar"}, "channels": {"base_color": "multiply"},
     "where": {"fade": {"from_mm": [0, 0, 200], "to_mm": [0, 0, 2000], "ease": "smooth"}}},
    {"name": "Moss", "material": "moss", "projection": {"kind": "triplanar"},
     "where": {"facing": {"direction": [0, 0, 1], "within_deg": 20, "soft_deg": 30}}, "strength": 0.8},
    {"name": "Worn", "tint": "#e0d8cc", "strength": 0.6,
     "where": {"edges": {"kind": "convex", "angle_deg": 30, "within_mm": 5, "soft_mm": 20}}},
]  # fmt: skip
"""Three coats of different kinds: an image that is laid, three that blend, and a tint along lines."""


def coat_all(server: Server) -> None:
    """Lays the three coats over everything of the demo's largest model."""
    (lido,) = [p["id"] for p in server.ask("GET", "/api/projects") if p["demo"] == "lido"]
    path = f"/api/projects/{lido}"
    state = server.ask("GET", path)
    edit = {"kind": "set_coats", "finishes": [f["key"] for f in state["finishes"]], "coats": COATS}
    server.ask("POST", f"{path}/edits", {"revision": state["revision"], "edit": edit})


def main() -> None:
    """Prints both figures, the first as a ratio of what is asked too."""
    with tempfile.TemporaryDirectory() as folder:
        list(fill(Database(Path(folder))))
        server = Server(Path(folder), free_port())
        browser = Browser(server.address)
        try:
            browser.begin()
            frames = scrolling(browser, server)
            mean, slow = 1000 / np.mean(frames), 1000 / np.percentile(frames, 95)
            print(
                f"scrolling {ROWS} rows: {mean:.0f} frames a second ({mean / ASKED:.2f} of what is asked); "
                f"one frame in twenty comes at less than {slow:.0f} a second"
            )
            plain = turning(browser, server)
            coat_all(server)
            coated = turning(browser, server)
            print(
                f"turning the lido: {plain:.1f} frames a second; with three coats on everything {coated:.1f}, "
                f"so that a frame takes {plain / coated:.2f} of the time"
            )
        finally:
            browser.close()
            server.kill()


if __name__ == "__main__":
    main()
