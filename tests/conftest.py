"""An application over a fresh database, with one project of a cube and a made-up library."""

from __future__ import annotations

import json
import os
import pickle
import shutil
import sqlite3
from contextlib import closing
from io import BytesIO
from typing import Any

import numpy as np
import pytest
from filelock import FileLock
from hypothesis import HealthCheck, settings

from pivrel.demo import fill
from pivrel.jobs import spare
from pivrel.materials.channels import Channel
from pivrel.materials.fields import Canvas
from pivrel.materials.images import Image, encode
from pivrel.materials.library import KEYS, make
from pivrel.store import blobs, library, projects
from pivrel.store.connection import Connection
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody, ModelFacts
from pivrel.web.app import create_app
from tests import nursery
from tests.edits import edits_of
from tests.lengths import at_length
from tests.shapes import cuboid

pytest_plugins = ("tests.costs",)

# How fast the machine is today must not decide a test.
settings.register_profile(
    "patient", deadline=None, max_examples=at_length(30, 100), suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("patient")


def unpacked(data: bytes) -> tuple[dict[str, Any], dict[str, np.ndarray]]:
    """A packet as the browser reads it."""
    size = int.from_bytes(data[:4], "little")
    header = json.loads(data[4 : 4 + size])
    arrays = {
        name: np.frombuffer(data, p["type"], p["length"], 4 + size + p["at"])
        for name, p in header.pop("arrays").items()
    }
    return header, arrays


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

    def refused(self, **edit: Any) -> str:
        """Why an edit is refused."""
        answer = self.client.post(
            f"{self.path}/edits", json={"revision": self.state["revision"], "edit": edit}
        )
        assert answer.status_code in (400, 422), answer.json
        error: str = answer.json["error"]
        return error

    def change(self, finishes: list[str], **what: Any) -> dict[str, Any]:
        """Changes fields of finishes, one edit after the other."""
        for edit in edits_of(finishes, **what):
            self.edit(**edit)
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

    def packet(self, path: str, **body: Any) -> tuple[dict[str, Any], dict[str, np.ndarray]]:
        """The header and the arrays of a packet; a body is posted."""
        where = f"{self.path}/{path}"
        answer = self.client.post(where, json=body) if body else self.client.get(where)
        assert answer.status_code == 200, answer.json
        return unpacked(answer.data)

    def st(self, key: str) -> np.ndarray:
        return np.frombuffer(self.client.get(f"{self.path}/laying/{key}").data, "<f4").reshape(-1, 2)


COARSER = at_length(2, 1)
"""How many times fewer pixels along a side the built-in materials have in tests: making them takes long, and so does a
browser without a graphics card for each."""


def small_images(patch):
    """From now on, as long as the patch lasts, built-in materials are made with fewer pixels."""
    plain = Canvas.__init__

    def coarse(self, repeat_mm, pixels):
        plain(self, repeat_mm, (pixels[0] // COARSER, pixels[1] // COARSER))

    patch.setattr(Canvas, "__init__", coarse)


def made_once(tmp_path_factory, name, fill):
    """A folder that is filled by whichever process of the tests needs it first."""
    base = tmp_path_factory.getbasetemp()
    folder = (base.parent if "PYTEST_XDIST_WORKER" in os.environ else base) / name
    with FileLock(f"{folder}.lock"):
        if not folder.exists():
            making = folder.with_name(f"{name}-making")
            shutil.rmtree(making, ignore_errors=True)
            making.mkdir()
            fill(making)
            making.rename(folder)
    return folder


@pytest.fixture(scope="session")
def made_materials(tmp_path_factory):
    """The built-in materials by key, made once for all tests."""

    def make_all(folder):
        with pytest.MonkeyPatch.context() as patch:
            small_images(patch)
            for key in KEYS:
                (folder / key).write_bytes(pickle.dumps(make(key)))

    folder = made_once(tmp_path_factory, "built-in", make_all)
    return {key: pickle.loads((folder / key).read_bytes()) for key in KEYS}


@pytest.fixture(scope="session")
def filled(tmp_path_factory, made_materials):
    """A data folder with the library and the demo, to be copied and not written to."""

    def fill_in(folder):
        database = Database(folder)
        with pytest.MonkeyPatch.context() as patch:
            patch.setattr(library, "make", made_materials.__getitem__)
            list(fill(database))
        with closing(sqlite3.connect(database.path)) as db:
            db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        database.close()

    return made_once(tmp_path_factory, "filled", fill_in)


@pytest.fixture
def database(tmp_path):
    database = Database(tmp_path / "data")
    with database.transaction() as db:
        images: dict[Channel, Image] = {
            "base_color": encode(np.full((8, 12, 3), 0.5)),
            "roughness": encode(np.full((8, 12), 0.5)),
        }
        for at, (key, repeat, grain) in enumerate(
            [("brick", (900, 600), 0), ("oak", (1800, 1200), 0), ("walnut", (600, 1200), 90)]
        ):
            body = LibraryBody(
                name=f"{key.title()}, made up", repeat_mm=repeat, grain_deg=grain, metallic=0, use="wall",
                images=blobs.put_images(db, images),
            )  # fmt: skip
            projects.put_library(db, key, at, body)
    return database


@pytest.fixture(scope="session", autouse=True)
def jobs_are_born():
    """Jobs of this process are born, and not begun from nothing."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(spare, "started", nursery.started)
        yield


@pytest.fixture
def client(database):
    return create_app(database).test_client()


def facts_of(file: str, unit: str = "mm", up: str = "z", **more: Any) -> ModelFacts:
    """What a project keeps of a made-up model."""
    return ModelFacts(
        **{"file": file, "unit": unit, "up": up, "found": [], "parts": 1, "triangles": 1, **more}
    )


def make_cube(db: Connection) -> int:
    """Adds a project of a cube with a side of a metre; its id."""
    facts = facts_of("cube.obj", unit="m", up="y", triangles=12)
    return projects.create(db, "cube", blobs.put_mesh(db, cuboid()), facts)


@pytest.fixture
def cube(database, client):
    with database.transaction() as db:
        project = make_cube(db)
    return Asking(client, project)


@pytest.fixture
def upload(client):
    def send(path: str, files: dict[str, bytes], **form: str) -> Any:
        data: dict[str, Any] = {"files": [(BytesIO(d), name) for name, d in files.items()], **form}
        return client.post(path, data=data, content_type="multipart/form-data")

    return send
