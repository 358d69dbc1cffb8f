"""The page of a server that reaches no other machine, and lacks what is optional."""

import os

import pytest

from pivrel.demo import bracket
from tests.alone_here import alone
from tests.browser.browser import Browser
from tests.browser.test_models import open_file
from tests.serving import Server, free_port
from tests.shapes import cuboid
from tests.web.test_imports import obj_of


@pytest.fixture
def tried(tmp_path, monkeypatch):
    """The file that what tries to leave would be written to, by the processes that are begun meanwhile."""
    file = tmp_path / "tried"
    for name, value in alone(file, "OCP").items():
        monkeypatch.setenv(name, value)
    return file


@pytest.fixture
def window(tmp_path, tried):
    assert os.environ["PIVREL_WITHOUT"] == "OCP"
    server = Server(tmp_path / "data", free_port())
    window = Browser(server.address)
    window.draws(False)
    yield window
    assert window.errors() == []
    window.close()
    server.kill()


def test_a_page_without_a_network_and_without_the_cad_kernel(window, tried, tmp_path):
    """A model comes in, is laid and handed over; a STEP model is answered with what it needs. Nothing is asked of others:
    what the page would load from elsewhere, its policy refuses, and the console complains of it."""
    open_file(window, tmp_path, "hook.step", bracket.step())
    needs = "STEP needs the CAD kernel, which is not installed here: pip install 'pivrel[step]'"
    assert window.text("[data-testid=missing]") == needs
    window.until(lambda: window.all("[role=dialog] [role=alert]"), "the import is refused")
    assert needs in window.text("[role=dialog]")

    open_file(window, tmp_path, "cube.obj", obj_of(cuboid(1200, 800, 500)))
    window.shows("The check")
    window.click("Open as a project")
    window.until(lambda: window.all("[data-testid=view] canvas"), "the model")
    window.settle()
    for screen in ("Materials", "Hand-over", "Workbench"):
        window.driver.find_element("link text", screen).click()
        window.settle()
    loaded = window.driver.execute_script(
        "return performance.getEntriesByType('resource').map((e) => e.name)"
    )
    assert loaded and all(name.startswith(window.address) for name in loaded), loaded
    assert not tried.exists(), tried.read_text()
