"""Triplanar's normals in the view: light falls on a mapped slope as on a real one, on every side."""

from __future__ import annotations

import json

import numpy as np
import pytest

from pivrel.core.geometry.frames import Datum
from pivrel.core.laying.sampling import Channel, blended_normals
from pivrel.core.projection import Triplanar
from pivrel.core.sheet import Placement
from pivrel.materials.images import encode
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody
from tests.conftest import facts_of
from tests.shapes import mesh_of

SIDES = {"4": (0, -1, 0), "6": (1, 0, 0), "7": (0, 1, 0), "8": (-1, 0, 0), "9": (0, 0, 1), "0": (0, 0, -1)}
"""The straight view that looks at each side."""

SLOPE = np.array([0.45, -0.25])
TURN = 30.0


def mapped_pixel() -> np.ndarray:
    """A normal map's stored value where the sheet slopes up by SLOPE along s and t."""
    n = np.array([-SLOPE[0], -SLOPE[1], 1.0])
    return np.round((n / np.linalg.norm(n) / 2 + 0.5) * 255) / 255


def quad(centre, normal, size=150.0):
    normal = np.asarray(normal, float) / np.linalg.norm(normal)
    u = np.cross(normal, [0, 0, 1.0] if abs(normal[2]) < 0.9 else [1.0, 0, 0])
    u /= np.linalg.norm(u)
    v = np.cross(normal, u)
    return [np.asarray(centre) + size * (a * u + b * v) for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))]


@pytest.fixture
def sides_project(server, browser):
    """On each side a quad that shall be mapped, and beside it one that really leans the same way."""
    image = np.broadcast_to(mapped_pixel(), (8, 8, 3))
    sheets = np.stack([Placement(TURN).matrix] * 3)
    channel = Channel((image, image, image), sheets, ((100.0, 100.0),) * 3)
    points, faces, places = [], [], {}
    for key, normal in SIDES.items():
        n = np.array(normal, float)
        right = np.cross([0, 1.0, 0] if abs(n[2]) else [0, 0, 1.0], n)
        bent = blended_normals(Triplanar(), Datum(), channel, n[None] * 3000, n[None])[0]
        places[key] = [n * 3000 - right * 400, n * 3000 + right * 400]
        for centre, looks in zip(places[key], (n, bent), strict=True):
            faces.append(range(len(points), len(points) + 4))
            points += quad(centre, looks)
    mesh = mesh_of(points, [tuple(f) for f in faces])
    database = Database(server.data)
    with database.transaction() as db:
        white = encode(np.full((8, 8, 3), 0.75))
        for key, images in (
            ("mapped", {"base_color": white, "normal": encode(image)}),
            ("even", {"base_color": white}),
        ):
            body = {"name": f"White {key}, made up", "repeat_mm": [100, 100], "grain_deg": 0.0, "metallic": 0,
                    "use": "test", "images": blobs.put_images(db, images)}  # fmt: skip
            projects.put_library(db, key, 91, LibraryBody.model_validate(body))
        facts = facts_of("sides.obj", parts=1, triangles=24)
        project = projects.create(db, "Sides", blobs.put_mesh(db, mesh), facts)
    yield project, places
    browser.leave()
    with database.transaction() as db:
        projects.delete(db, project)
        db.execute("DELETE FROM library_material WHERE key IN ('mapped', 'even')")


@pytest.mark.pixels
def test_light_on_a_mapped_slope_is_that_on_a_real_one(browser, server, sides_project):
    project, places = sides_project
    path, revision = f"/api/projects/{project}", 0
    for material, first in (("mapped", 0), ("even", 1)):
        lay = {"kind": "lay", "material": material, "pick": {"faces": list(range(first, 12, 2))},
               "projection": {"kind": "triplanar"},
               "datum": {"origin_mm": [0, 0, 0], "x_axis": [1, 0, 0], "z_axis": [0, 0, 1]}}  # fmt: skip
        revision = server.ask("POST", f"{path}/edits", {"revision": revision, "edit": lay})["revision"]
    turn = {"kind": "turn_to", "finishes": ["F1"], "turn_deg": TURN}
    revision = server.ask("POST", f"{path}/edits", {"revision": revision, "edit": turn})["revision"]
    browser.open(f"/projects/{project}")
    browser.shown(revision)
    seen = {}
    for key, pair in places.items():
        browser.press(key)
        browser.settle()
        view = browser.css("[data-testid=view]")
        matrix = np.array([float(v) for v in view.get_attribute("data-eye").split(",")]).reshape(4, 4).T
        box, picture = view.rect, browser.screenshot()
        spots = []
        for place in pair:
            x, y, _, w = matrix @ (*place, 1.0)
            px = int(box["x"] + (x / w + 1) / 2 * box["width"])
            py = int(box["y"] + (1 - y / w) / 2 * box["height"])
            spots.append(picture[py - 2 : py + 3, px - 2 : px + 3].reshape(-1, 3).mean(axis=0))
        seen[key] = spots
    told = json.dumps({k: [s.round(1).tolist() for s in v] for k, v in seen.items()})
    for key, (mapped, real) in seen.items():
        assert np.abs(mapped - real).max() <= 4, (key, told)
    lights = np.array([real for _, real in seen.values()])
    assert np.ptp(lights[:, 0]) > 15, "the sides are lit differently, so a wrong normal would show"
