"""The view's triplanar shader against the core's own evaluation, pixel by pixel."""

from __future__ import annotations

import json

import numpy as np
import pytest

from pivrel.core.geometry.surface import Surface
from pivrel.core.laying.finish import Finish
from pivrel.core.laying.sampling import Channel, blended
from pivrel.core.picks import All
from pivrel.core.projection import Triplanar
from pivrel.materials.images import decode, encode
from pivrel.recipe import read_recipe
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody
from tests.browser.pixels import POINTS, linear, rounded_body, seen, soft_image, stored
from tests.conftest import facts_of
from tests.edits import edits_of
from tests.lengths import some
from tests.shapes import mesh_of

REPEAT = (900.0, 650.0)


@pytest.fixture
def body_project(server, browser):
    shape = rounded_body()
    mesh = mesh_of(shape.vertices, shape.faces)
    images = {key: encode(soft_image(seed)) for key, seed in (("soft", 1), ("soft2", 2))}
    database = Database(server.data)
    with database.transaction() as db:
        for key, image in images.items():
            body = LibraryBody(
                name=f"Soft waves {key}, made up", repeat_mm=REPEAT, grain_deg=0.0, metallic=0, use="test",
                images=blobs.put_images(db, {"base_color": image}),
            )  # fmt: skip
            projects.put_library(db, key, 90, body)
        facts = facts_of("body.obj", triangles=len(shape.faces))
        project = projects.create(db, "Rounded body", blobs.put_mesh(db, mesh), facts)
    yield project, Surface(mesh), images
    browser.leave()
    with database.transaction() as db:
        projects.delete(db, project)
        db.execute("DELETE FROM library_material WHERE key IN ('soft', 'soft2')")


@pytest.mark.pixels
@pytest.mark.parametrize(
    "projection, placed",
    some(
        [
            pytest.param(
                {"kind": "triplanar", "blend": 0.8, "backs": "mirrored"},
                {"turn_deg": 25, "scale": [1.4, -0.8]},
            ),
            pytest.param({"kind": "triplanar"}, {}),
            pytest.param(
                {"kind": "triplanar", "blend": 0.15, "materials": {"x": None, "y": "soft2", "z": None}},
                {"offset_mm": [120, -60], "turn_deg": 90},
            ),
        ],
        2,
    ),
)
def test_pixels_of_the_view_are_the_cores_own_blend(browser, server, body_project, projection, placed):
    project, surface, images = body_project
    path = f"/api/projects/{project}"
    datum = {"origin_mm": [30, -20, 10], "x_axis": [1, 0.3, 0], "z_axis": [0.1, 0, 1]}
    lay = {"kind": "lay", "material": "soft", "pick": {"all": True}, "projection": projection, "datum": datum}
    state = server.ask("POST", f"{path}/edits", {"revision": 0, "edit": lay})
    if placed:
        for change in edits_of(["F1"], **placed):
            state = server.ask("POST", f"{path}/edits", {"revision": state["revision"], "edit": change})

    browser.open(f"/projects/{project}")
    browser.shown(state["revision"])
    browser.press("o")
    browser.until(lambda: browser.button("Color").get_attribute("data-state") == "on", "the look")
    shown = seen(browser, surface)
    points, normals = shown.points, shown.normals

    recipe = {
        "recipe": 1,
        "materials": {k: {"name": k, "repeat_mm": REPEAT} for k in images},
        "finishes": [{"name": "f", "material": "soft", "pick": {"all": True}, "projection": projection,
                      "datum": datum, **placed}],
    }  # fmt: skip
    (finish,) = read_recipe(json.dumps(recipe)).to_core()
    assert isinstance(finish, Finish) and finish.pick == All() and finish.datum
    assert isinstance(finish.projection, Triplanar)
    used = [(projection.get("materials") or {}).get(axis) or "soft" for axis in "xyz"]
    x, y, z = (linear(decode(images[key])) for key in used)
    channel = Channel((x, y, z), finish.sheets, (REPEAT,) * 3)
    want = blended(finish.projection, finish.datum, channel, points, normals)
    got = shown.colors
    difference = np.abs(got - stored(want))
    assert len(difference) == POINTS
    assert difference.mean(axis=0).max() <= 2
    assert difference.max() <= 12
    assert got.std(axis=0).min() > 15, "there is a pattern to compare"
