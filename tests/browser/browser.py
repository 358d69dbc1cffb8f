"""Headless Chromium as a user's hands and eyes: click, type, and look at pixels."""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from ctypes.util import find_library
from io import BytesIO
from pathlib import Path
from typing import Any

import numpy as np
import PIL.Image
from selenium import webdriver
from selenium.common.exceptions import TimeoutException
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.actions.action_builder import ActionBuilder
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from tests.lengths import FULL
from tests.serving import WAIT_S

SIZE = (1280, 800)
# Of the view, where legends and readings may lie.
MARGIN = 60
# Pixels of the screen a pixel of the page. Where every pixel is drawn by the processor, an eighth of them takes an eighth
# of the time; whoever looks at finer things asks for more of them: `pixels(0.5)`, `pixels(1.0)`.
COARSE = 0.35
# What draws where there is no graphics card. Mesa's llvmpipe keeps what it has compiled of a page's shaders for the next
# page; the browser's own SwiftShader compiles them for each page anew, which takes most of the time of a page, but draws
# a million triangles sooner. At full length it is that one, so that pixels are held against both.
MESA = not FULL and find_library("EGL_mesa") is not None
SOFTWARE = (
    ["--use-gl=angle", "--use-angle=gl-egl", "--ignore-gpu-blocklist"]
    if MESA
    else ["--use-angle=swiftshader", "--enable-unsafe-swiftshader"]
)
FLAGS = [
    "--headless=new",
    "--no-sandbox",
    # The page itself is put together faster without it.
    "--disable-gpu-compositing",
    "--disable-gpu-rasterization",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    # Drawing in software can take longer than the browser's watchdog thinks that a drawing may, and may
    # come down more than once in a session; the page is to recover from that each time.
    "--disable-gpu-watchdog",
    "--disable-domain-blocking-for-3d-apis",
    "--disable-gpu-process-crash-limit",
]
# Idle moments come after whatever the page has been told to do; a picture is asked for in one, drawn in the next.
# Beside another tab, a browser without a graphics card now and then gives one no frames any more: then a clock goes on.
SETTLED = """
    const done = arguments[0];
    let still = 0, before = "";
    const look = () => {
        const canvas = document.querySelector("canvas");
        const now = canvas ? canvas.dataset.drawn ?? "0" : "0";
        const lost = now !== "0" && canvas.getContext("webgl2")?.isContextLost();
        const busy = lost || document.documentElement.hasAttribute("data-underway");
        still = !busy && now === before ? still + 1 : 0;
        before = now;
        if (still >= 4) setTimeout(done, 0);
        else next();
    };
    const next = () => {
        let looked = false;
        const once = () => { if (!looked) { looked = true; look(); } };
        requestAnimationFrame(() => requestIdleCallback(once));
        setTimeout(once, 10000);
    };
    look();
"""
# The workbench as most tests work with it: everything open, so that each control can be reached at once.
OPEN = """
    const panes = {panelOpen: true, panelPx: 320, list: "schedule", listPx: 190, folded: [], columnsAway: [],
                   quality: "by itself"};
    localStorage.setItem("pivrel.panes", JSON.stringify({state: panes, version: 0}));
"""
# Draws nothing: a page is laid out, asks and answers as ever, and no pixel of the model is computed. Without a graphics
# card that takes most of the time of a page, and most tests look at words, figures and what the server was told.
BLIND = """
    const nothing = ["drawArrays", "drawElements", "drawArraysInstanced", "drawElementsInstanced", "drawRangeElements",
                     "clear", "generateMipmap", "texImage2D", "texSubImage2D", "texImage3D", "texSubImage3D"];
    for (const name of nothing) WebGL2RenderingContext.prototype[name] = () => {};
"""
# Where a window waits for its next page.
AWAY = "/mark.svg"
# What a page that does not settle waits for.
STATE = """
    const canvas = document.querySelector("canvas");
    return {
        visible: document.visibilityState, underway: document.documentElement.hasAttribute("data-underway"),
        drawn: canvas?.dataset.drawn, lost: canvas?.getContext("webgl2")?.isContextLost(),
    };
"""
# Holds the page's questions whether anything has changed back, and answers them when it is let go on.
DEAF = """
    const ask = window.fetch, held = [];
    window.unheard = 0;
    window.fetch = (where, ...how) => {
        if (!String(where.url ?? where).endsWith("/pulse")) return ask(where, ...how);
        window.unheard += 1;
        return new Promise((answered) => held.push(() => answered(ask(where, ...how))));
    };
    window.hearAgain = () => { window.fetch = ask; held.forEach((go) => go()); };
"""


class Browser:
    """One window of 1280 x 800."""

    def __init__(self, address: str) -> None:
        options = webdriver.ChromeOptions()
        self.profile = tempfile.TemporaryDirectory(ignore_cleanup_errors=True)
        self.downloads = Path(self.profile.name) / "downloads"
        self.downloads.mkdir()
        for flag in (
            *FLAGS,
            *SOFTWARE,
            f"--user-data-dir={self.profile.name}/profile",
            "--window-size=1280,940",
        ):
            options.add_argument(flag)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
        # Mesa is told so by the environment of the browser's processes.
        drawn_by = {"LIBGL_ALWAYS_SOFTWARE": "1", "EGL_PLATFORM": "surfaceless"} if MESA else {}
        service = Service("/usr/bin/chromedriver", env={**os.environ, **drawn_by})
        self.driver = webdriver.Chrome(options, service)
        self.density = COARSE
        self.blind: str | None = None
        self.size(*SIZE)
        where = {"behavior": "allow", "downloadPath": str(self.downloads)}
        self.driver.execute_cdp_cmd("Browser.setDownloadBehavior", where)
        self.driver.set_script_timeout(WAIT_S)
        self.address = address

    def size(self, width: int, height: int) -> None:
        """How large the window is, in pixels of the page; the screen may have fewer (`sharp`)."""
        metrics = {"width": width, "height": height, "deviceScaleFactor": self.density, "mobile": False}
        self.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)

    def sharp(self, density: float = 1.0) -> None:
        """From the next page on, this many pixels of the screen a pixel of the page."""
        self.density = density
        self.size(*SIZE)

    def draws(self, whether: bool) -> None:
        """Whether the pages that are opened from now on draw their models."""
        if whether and self.blind:
            self.driver.execute_cdp_cmd(
                "Page.removeScriptToEvaluateOnNewDocument", {"identifier": self.blind}
            )
            self.blind = None
        elif not whether and not self.blind:
            added = self.driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": BLIND})
            self.blind = added["identifier"]

    def close(self) -> None:
        self.driver.quit()
        self.profile.cleanup()

    def begin(self) -> None:
        """Lets go of everything and forgets what the page had remembered; the workbench has its panes open."""
        ActionBuilder(self.driver).clear_actions()
        self.leave()
        self.driver.execute_script("localStorage.clear(); sessionStorage.clear();" + OPEN)
        for file in self.downloads.iterdir():
            file.unlink()
        self.errors()

    def row(self, key: str) -> WebElement:
        """The name of a row of the schedule, wherever it lies: rows out of sight are not there to be clicked."""
        self.css("[data-testid=schedule-pane]")
        further = """
            const pane = document.querySelector("[data-testid=schedule-pane]");
            const last = pane.scrollTop + pane.clientHeight >= pane.scrollHeight - 1;
            pane.scrollTop = last ? 0 : pane.scrollTop + pane.clientHeight / 2;
        """

        def found() -> WebElement | None:
            there = self.all(f"[data-testid=row-{key}] td:nth-child(2)")
            return there[0] if there else self.driver.execute_script(further)

        return self.until(found, f"row {key}")

    def errors(self) -> list[str]:
        """What the console has complained of since the last time."""
        return [e["message"] for e in self.driver.get_log("browser") if e["level"] == "SEVERE"]

    def server_is_back(self) -> None:
        """Passes what the browser itself says of a server that was gone; anything else is an error still."""
        assert [line for line in self.errors() if "net::ERR_" not in line] == []

    @contextmanager
    def hearing_nothing(self) -> Iterator[None]:
        """The page does not hear meanwhile of what others change: its question about it stays on its way."""
        self.driver.execute_script(DEAF)
        self.until(
            lambda: self.driver.execute_script("return window.unheard > 0"), "the page's next question"
        )
        yield
        self.driver.execute_script("window.hearAgain()")

    def look_at(self, window: str) -> None:
        """Brings a tab to the front."""
        self.driver.switch_to.window(window)
        self.driver.execute_cdp_cmd("Page.bringToFront", {})

    def open(self, path: str) -> None:
        self.driver.get(self.address + path)

    def leave(self) -> None:
        """Goes away from the page, which would ask after its project when that is gone.

        To a small file of the server's, for what a page remembers belongs to its address.
        """
        if self.driver.current_url != self.address + AWAY:
            self.open(AWAY)

    def until(self, ask: Callable[[], Any], what: str, seconds: float = WAIT_S) -> Any:
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            try:
                found = ask()
            except Exception as error:
                found, what = None, f"{what} ({type(error).__name__})" if "(" not in what else what
            if found:
                return found
            time.sleep(0.1)
        raise AssertionError(f"never came: {what}")

    def css(self, selector: str) -> WebElement:
        return self.until(lambda: self.driver.find_element(By.CSS_SELECTOR, selector), selector)

    def all(self, selector: str) -> list[WebElement]:
        return self.driver.find_elements(By.CSS_SELECTOR, selector)

    def button(self, words: str) -> WebElement:
        """The button, link or radio with these words on it, or with them as its label."""
        path = f"//*[self::button or self::a][starts-with(normalize-space(.), '{words}') or @aria-label='{words}']"
        return self.until(lambda: self.driver.find_element(By.XPATH, path), f"button {words}")

    def uppermost(self, element: WebElement) -> bool:
        """Whether a click in the middle of something meets it, and nothing that lies over it."""
        meets = """
            const box = arguments[0].getBoundingClientRect();
            return arguments[0].contains(document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2));
        """
        return bool(self.driver.execute_script(meets, element))

    def pressed(self, find: Callable[[], WebElement], what: str) -> None:
        """Clicks something as soon as it can be clicked."""

        def press() -> bool:
            found = find()
            # A click on what is disabled does nothing, and would not be told.
            if not found.is_enabled():
                return False
            found.click()
            return True

        self.until(press, what)

    def click(self, words: str) -> None:
        self.pressed(lambda: self.button(words), f"click {words}")

    def word(self, label: str, words: str) -> None:
        """Chooses another word of the sentence over the model."""
        self.pressed(lambda: self.css(f"[data-word='{label}']"), label)
        path = f"//*[@role='menuitemradio'][starts-with(normalize-space(.), '{words}') or starts-with(normalize-space(.), '•{words}')]"
        self.pressed(lambda: self.driver.find_element(By.XPATH, path), f"{words} of {label}")

    def item(self, words: str) -> None:
        """Clicks the item of the open menu that begins with these words."""
        path = f"//*[@role='menuitem'][starts-with(normalize-space(.), '{words}')]"
        self.pressed(lambda: self.driver.find_element(By.XPATH, path), f"item {words}")

    def choose(self, group: str, what: str) -> None:
        """Clicks something within a labelled group; the page may be drawn anew meanwhile."""
        self.pressed(
            lambda: self.css(f"[aria-label='{group}']").find_element(By.XPATH, f".//{what}"),
            f"{what} in {group}",
        )

    def field(self, label: str) -> WebElement:
        path = f"//input[@id=//label[normalize-space(.)='{label}']/@for]"
        return self.until(lambda: self.driver.find_element(By.XPATH, path), f"field {label}")

    def type(self, label: str, text: str, key: str = Keys.ENTER) -> None:
        field = self.field(label)
        field.click()
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(text, key)

    def type_into(self, label: str, text: str, key: str = Keys.ENTER) -> None:
        """Types into a field that carries its own label."""
        field = self.css(f"[aria-label='{label}']")
        field.click()
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(text, key)

    def value(self, label: str) -> str:
        return self.field(label).get_attribute("value") or ""

    def text(self, selector: str = "body") -> str:
        """The words that are seen of something, as the browser itself tells them.

        WebDriver's own way asks for the style of every element, which takes half a second for the workbench.
        """
        words = "return (arguments[0].innerText ?? arguments[0].textContent).replaceAll('\\u00a0', ' ')"
        return str(self.driver.execute_script(words, self.css(selector)))

    def shows(self, words: str, seconds: float = WAIT_S) -> None:
        """Waits for words, which may begin a sentence on the page and so be seen with a capital there."""

        def there() -> bool:
            told = self.text()
            return words in told or words[:1].upper() + words[1:] in told

        self.until(there, f"text {words!r}", seconds)

    def press(self, *keys: str) -> None:
        ActionChains(self.driver).send_keys(*keys).perform()

    def chord(self, held: str, key: str) -> None:
        """Presses a key while another is held."""
        ActionChains(self.driver).key_down(held).send_keys(key).key_up(held).perform()

    def crease(self, text: str) -> None:
        """Types the angle at which patches end."""
        self.pressed(lambda: self.css("[data-word='Crease angle']"), "the angle")
        self.type("Crease angle", text)
        self.press(Keys.ESCAPE)

    def shown(self, revision: int | None = None) -> int:
        """Waits until the view shows a revision (any, or at least this one), and what it is."""

        def ask() -> bool:
            now = self.css("[data-testid=view]").get_attribute("data-shown")
            return bool(now) and (revision is None or int(now or 0) >= revision)

        self.until(ask, f"revision {revision} in the view")
        self.settle()
        return int(self.css("[data-testid=view]").get_attribute("data-shown") or 0)

    def settle(self) -> None:
        """Waits until nothing is on its way and the view has drawn all that it was asked to."""
        try:
            self.driver.execute_async_script(SETTLED)
        except TimeoutException:
            raise AssertionError(f"the page never settled: {self.driver.execute_script(STATE)}") from None

    def drawn(self) -> int:
        """How often the view has been drawn since the page was opened."""
        return int(self.css("[data-testid=view] canvas").get_attribute("data-drawn") or 0)

    def screenshot(self) -> np.ndarray:
        """(H, W, 3) of the whole window, in pixels of the page."""
        assert not self.blind, "who looks at pixels is marked so: @pytest.mark.pixels"
        picture = PIL.Image.open(BytesIO(self.driver.get_screenshot_as_png())).convert("RGB")
        size = (round(picture.width / self.density), round(picture.height / self.density))
        return np.asarray(picture.resize(size, PIL.Image.Resampling.NEAREST)).astype(int)

    def pixels(self) -> np.ndarray:
        """(H, W, 3) of the view's middle, without what may lie at its borders."""
        box = self.css("[data-testid=view]").rect
        left, top, width, height = (int(box[name]) for name in ("x", "y", "width", "height"))
        return self.screenshot()[top + MARGIN : top + height - MARGIN, left : left + width]

    def patch(self, right: int, down: int, size: int = 44) -> np.ndarray:
        """Pixels of a square about a place, counted from the middle of the view."""
        box = self.css("[data-testid=view]").rect
        middle = self.pixels()
        x = int(box["width"] / 2) + right
        y = int(box["height"] / 2) + down - MARGIN
        return middle[y - size // 2 : y + size // 2, x - size // 2 : x + size // 2]

    def click_model(self, right: int, down: int, *held: str) -> None:
        chain = ActionChains(self.driver)
        for key in held:
            chain.key_down(key)
        chain.move_to_element_with_offset(self.css("[data-testid=view] canvas"), right, down).click()
        for key in held:
            chain.key_up(key)
        chain.perform()

    def click_place(self, x: float, y: float, z: float, *held: str) -> None:
        """Clicks a place of the model, in mm of the view."""
        matrix = self.css("[data-testid=view]").get_attribute("data-eye") or ""
        u, v, _, w = np.array(matrix.split(","), float).reshape(4, 4).T @ (x, y, z, 1)
        box = self.css("[data-testid=view] canvas").rect
        self.click_model(round(u / w * box["width"] / 2), round(-v / w * box["height"] / 2), *held)

    def drag_model(self, across: int, down: int) -> None:
        canvas = self.css("[data-testid=view] canvas")
        ActionChains(self.driver).move_to_element(canvas).click_and_hold().move_by_offset(
            across, down
        ).release().perform()

    def picked(self) -> str:
        return self.text("[data-testid=picked]")

    def downloaded(self, name: str) -> bytes:
        path = self.downloads / name
        self.until(path.is_file, f"download of {name}")
        return path.read_bytes()
