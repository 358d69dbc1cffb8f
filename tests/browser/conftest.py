"""One server with the demo for all browser tests; a fresh browser for each."""

from __future__ import annotations

import pytest

from pivrel.demo import fill
from pivrel.store.database import Database
from tests.browser.browser import Browser
from tests.serving import Server
from tests.web.test_killed import free_port


@pytest.fixture(scope="session")
def server(tmp_path_factory):
    data = tmp_path_factory.mktemp("demo")
    for _ in fill(Database(data)):
        pass
    server = Server(data, free_port())
    yield server
    server.kill()


@pytest.fixture
def browser(server):
    browser = Browser(server.address)
    yield browser
    errors = browser.errors()
    browser.close()
    assert errors == []


@pytest.fixture
def demo(server):
    """The ids of the demo projects by key."""
    return {p["demo"]: p["id"] for p in server.ask("GET", "/api/projects") if p["demo"]}
