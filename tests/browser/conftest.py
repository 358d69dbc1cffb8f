"""One server with the demo and one window a process for all browser tests; each begins as a newcomer."""

from __future__ import annotations

import shutil
from pathlib import Path

import pytest

from pivrel.store import projects
from tests.browser.bench import Bench
from tests.browser.browser import COARSE, Browser
from tests.serving import BORN, Server, free_port


def pytest_collection_modifyitems(items):
    for item in items:
        if Path(__file__).parent in item.path.parents:
            item.add_marker(pytest.mark.browser)


@pytest.fixture(scope="session")
def server(tmp_path_factory, filled):
    data = shutil.copytree(filled, tmp_path_factory.mktemp("demo") / "data")
    server = Server(data, free_port(), BORN)
    yield server
    server.kill()


@pytest.fixture(scope="session")
def window(server):
    browser = Browser(server.address)
    yield browser
    browser.close()


@pytest.fixture
def browser(window, request):
    """The one window, as a newcomer finds it: nothing remembered, no button or key held down.

    The model is drawn for tests that look at its pixels, which are marked so, with the density that they ask for.
    """
    looked_at = request.node.get_closest_marker("pixels")
    window.draws(looked_at is not None)
    window.sharp(*(looked_at.args if looked_at and looked_at.args else (COARSE,)))
    window.begin()
    yield window
    assert window.errors() == []


@pytest.fixture
def demo(server):
    """The ids of the demo projects by key."""
    return {p["demo"]: p["id"] for p in server.ask("GET", "/api/projects") if p["demo"]}


@pytest.fixture
def made(server, browser):
    benches = []

    def make(mesh, name):
        benches.append(Bench(server, browser, mesh, name))
        return benches[-1]

    yield make
    browser.leave()
    for bench in benches:
        with bench.database.transaction() as db:
            projects.delete(db, bench.id)
