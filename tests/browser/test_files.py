"""Files in and out through the page: what was handed over opens again, and what is deleted is asked about."""

from __future__ import annotations

import zipfile
from io import BytesIO

import numpy as np
import pytest

from pivrel.core.geometry.surface import Surface
from pivrel.formats.bundle import Upload
from pivrel.formats.reading import read_model
from tests.shapes import cuboid
from tests.web.test_imports import obj_of


def names(server):
    return [p["name"] for p in server.ask("GET", "/api/projects")]


def test_handed_over_and_opened_again(browser, demo, server, tmp_path):
    before = server.ask("GET", f"/api/projects/{demo['radio']}")
    browser.open(f"/projects/{demo['radio']}/hand-over")
    browser.shows("What will be written")
    browser.css("[data-testid=download-glb]").click()
    browser.css("[data-testid=download-obj]").click()
    browser.css("[data-testid=download-project]").click()
    glb = browser.downloaded("Table_radio.glb")
    packed = browser.downloaded("Table_radio.pivrel")
    with zipfile.ZipFile(BytesIO(browser.downloaded("Table_radio_obj.zip"))) as archive:
        files = {name: archive.read(name) for name in archive.namelist()}
    bounds = np.array(before["model"]["bounds_mm"])
    for name, data, asked in (
        ("Table_radio.glb", glb, ()),
        ("Table_radio.obj", files["Table_radio.obj"], ("mm", "z")),
    ):
        mesh = read_model(name, data, Upload(files), *asked).mesh
        np.testing.assert_allclose(mesh.bounds(), bounds, atol=1e-2)
        assert Surface(mesh).area_m2 == pytest.approx(before["model"]["area_m2"], rel=1e-5)
        assert len(mesh.part_names) == before["model"]["parts"]

    (tmp_path / "again.glb").write_bytes(glb)
    browser.open("/")
    browser.css("[data-testid=model-files]").send_keys(str(tmp_path / "again.glb"))
    browser.shows("What Pivrel found in it")
    assert "state neither unit" not in browser.driver.page_source, "glTF states its unit"
    browser.click("Open as a project")
    browser.shown()
    browser.shows("The schedule is empty")

    (tmp_path / "radio.pivrel").write_bytes(packed)
    browser.open("/")
    browser.css("[data-testid=model-files]").send_keys(str(tmp_path / "radio.pivrel"))
    browser.shown()
    browser.css("[data-testid=row-F2]")
    newest = server.ask("GET", "/api/projects")[0]
    copy = server.ask("GET", f"/api/projects/{newest['id']}")
    assert copy["finishes"] == before["finishes"]


def test_deleting_is_asked_about_first(browser, server):
    path = f"/api/imports/{server.upload('/api/imports', {'spare.obj': obj_of(cuboid())})['id']}"
    browser.until(lambda: server.ask("GET", path)["state"] != "working", "it is read")
    server.ask("POST", f"{path}/project", {"unit": "mm", "up": "z"})
    browser.open("/")
    browser.until(lambda: browser.all("[aria-label='Delete spare']"), "the card")
    browser.driver.execute_script("document.querySelector(\"[aria-label='Delete spare']\").click()")
    browser.shows("The project goes with its model, its schedule and its undo history")
    browser.click("Keep it")
    assert "spare" in names(server)
    browser.driver.execute_script("document.querySelector(\"[aria-label='Delete spare']\").click()")
    browser.click("Delete the project")
    browser.until(lambda: "spare" not in names(server), "gone")
    browser.until(lambda: not browser.all("[aria-label='Delete spare']"), "its card")


def test_rows_are_moved_and_removed_and_come_back(browser, demo, server):
    path = f"/api/projects/{demo['lido']}"
    codes = lambda: [f["key"] for f in server.ask("GET", path)["finishes"]][:5]  # noqa: E731
    browser.open(f"/projects/{demo['lido']}")
    browser.shown()
    browser.row("F1").click()
    browser.click("Move down the schedule")
    browser.until(lambda: codes() == ["F2", "F1", "F3", "F4", "F5"], "moved down")
    browser.click("Move up the schedule")
    browser.until(lambda: codes() == ["F1", "F2", "F3", "F4", "F5"], "moved up")
    browser.row("F4").click()
    browser.click("Remove from the schedule")
    browser.until(lambda: codes() == ["F1", "F2", "F3", "F5", "F6"], "removed")
    browser.until(lambda: not browser.all("[data-testid=row-F4]"), "its row")
    browser.click("Undo")
    browser.until(lambda: codes() == ["F1", "F2", "F3", "F4", "F5"], "back again")
    revision = server.ask("GET", path)["revision"]
    browser.row("F9").click()
    browser.click("To the pick")
    browser.click("Planar")
    browser.click("Unmirrored")
    browser.until(
        lambda: server.ask("GET", path)["finishes"][8]["projection"]["backs"] == "unmirrored", "backs"
    )
    browser.type("Origin z", "1' 6\"")
    browser.until(lambda: server.ask("GET", path)["finishes"][8]["datum"]["origin_mm"][2] == 457.2, "origin")
    while server.ask("GET", path)["revision"] > revision and server.ask("GET", path)["undo"]:
        server.ask("POST", f"{path}/undo", {"revision": server.ask("GET", path)["revision"]})


def test_figures_in_the_schedule_lead_to_their_faces(browser, demo, server):
    state = server.ask("GET", f"/api/projects/{demo['lido']}")
    bare = state["bare"]["faces"]
    edit = {"kind": "set_projection", "finishes": ["F3"], "projection": {"kind": "planar"}}
    asked = {"revision": state["revision"], "edit": edit}
    server.ask("POST", f"/api/projects/{demo['lido']}/edits", asked)
    browser.open(f"/projects/{demo['lido']}")
    browser.shown()
    browser.until(lambda: "1.94 m²" in browser.text("[data-testid=row-F3]"), "the smeared area")
    browser.css("[data-testid=row-F3] button[title='Pick the smeared faces']").click()
    browser.until(lambda: "1.94 m²" in browser.picked(), "those faces are picked")
    browser.css("h1").click()
    browser.press("q")
    browser.click("bare ")
    browser.until(lambda: f"{bare:,} faces" in browser.picked(), "the bare faces")
    browser.click("From around")
    browser.choose("Views", "button[starts-with(., 'Top')]")
    browser.css("section[aria-label=View] button[title^=Where]")
    browser.until(lambda: "Top" in browser.text("section[aria-label=View]"), "from above")
    browser.settle()
