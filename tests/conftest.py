"""An application over a fresh database, with one project of a cube and a made-up library."""

from __future__ import annotations

from io import BytesIO
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, settings

from pivrel.materials.images import encode
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.web.app import create_app
from tests.shapes import cuboid

# How fast the machine is today must not decide a test.
settings.register_profile("patient", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("patient")


class Asking:
    """A project's addresses, with the revision kept up to date."""

    def __init__(self, client: Any, project: int) -> None:
        self.client, self.path = client, f"/api/projects/{project}"
        self.state: dict[str, Any] = client.get(self.path).json

    def edit(self, **edit: Any) -> dict[str, Any]:
        answer = self.client.post(
            f"{self.path}/edits", json={"revision": self.state["revision"], "edit": edit}
        )
        assert answer.status_code == 200, answer.json
        self.state = answer.json
        return self.state

    def step(self, what: str) -> dict[str, Any]:
        answer = self.client.post(f"{self.path}/{what}", json={"revision": self.state["revision"]})
        assert answer.status_code == 200, answer.json
        self.state = answer.json
        return self.state

    def lay(self, pick: Any, material: str = "brick", projection: str = "box") -> dict[str, Any]:
        return self.edit(kind="lay", material=material, pick=pick, projection={"kind": projection})

    def pick(self, **asked: Any) -> dict[str, Any]:
        answer = self.client.post(f"{self.path}/pick", json=asked)
        assert answer.status_code == 200, answer.json
        return answer.json

    def st(self, key: str) -> np.ndarray:
        return np.frombuffer(self.client.get(f"{self.path}/laying/{key}").data, "<f4").reshape(-1, 2)


@pytest.fixture
def database(tmp_path):
    database = Database(tmp_path / "data")
    with database.transaction() as db:
        images = {"base_color": encode(np.full((8, 12, 3), 0.5)), "roughness": encode(np.full((8, 12), 0.5))}
        for at, (key, repeat, grain) in enumerate(
            [("brick", [900, 600], 0), ("oak", [1800, 1200], 0), ("walnut", [600, 1200], 90)]
        ):
            body = {"name": f"{key.title()}, made up", "repeat_mm": repeat, "grain_deg": grain, "metallic": 0,
                    "use": "wall", "images": blobs.put_images(db, images)}  # fmt: skip
            projects.put_library(db, key, at, body)
    return database


@pytest.fixture
def client(database):
    return create_app(database).test_client()


@pytest.fixture
def cube(database, client):
    with database.transaction() as db:
        facts = {"file": "cube.obj", "unit": "m", "up": "y", "found": [], "parts": 1, "triangles": 12}
        project = projects.create(db, "cube", blobs.put_mesh(db, cuboid()), facts)
    return Asking(client, project)


@pytest.fixture
def upload(client):
    def send(path: str, files: dict[str, bytes], **form: str) -> Any:
        data: dict[str, Any] = {"files": [(BytesIO(d), name) for name, d in files.items()], **form}
        return client.post(path, data=data, content_type="multipart/form-data")

    return send
