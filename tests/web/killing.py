"""A process that edits, uploads, imports, replaces, bakes and deletes until it is killed: `fork` starts one from a parent that
has loaded everything and computed nothing, so that many of them take no time to start.

Each line that it writes says what is being done, or what has been confirmed.
"""

from __future__ import annotations

import json
import os
import random
import time
from io import BytesIO
from pathlib import Path
from typing import Any

from pivrel.store.database import Database
from pivrel.web.app import create_app
from tests.formats.test_sources import picture, png

OBJ = b"o Part\nv 0 0 0\nv %d 0 0\nv 1 2 0\nv 0 1 1\nf 1 2 3\nf 1 2 4\n"


REMARK = b"#" + b"-" * (3 << 20) + b"\n"
"""Before some of the files: what is long is kept in pieces."""


class Busy:
    """One life of the application: everything through its routes, as a page asks."""

    def __init__(self, data: Path, out: int, seed: int) -> None:
        self.client = create_app(Database(data)).test_client()
        self.out, self.random = out, random.Random(seed)

    def say(self, **what: Any) -> None:
        os.write(self.out, json.dumps(what).encode() + b"\n")

    def post(self, path: str, body: Any) -> Any:
        return self.client.post(path, json=body)

    def upload(self, path: str, name: str, data: bytes) -> Any:
        return self.client.post(
            path, data={"files": [(BytesIO(data), name)]}, content_type="multipart/form-data"
        )

    def live(self) -> None:
        acts = (
            self.edit,
            self.edit,
            self.edit,
            self.material,
            self.project,
            self.replace,
            self.delete,
            self.undo,
            self.bake,
        )
        self.say(ready=True)
        while True:
            self.random.choice(acts)()

    def edit(self) -> None:
        state = self.client.get("/api/projects/1").get_json()
        turn = self.random.randrange(360)
        self.say(doing="edit", revision=state["revision"] + 1)
        change = {"kind": "turn_to", "finishes": ["F1"], "turn_deg": turn}
        done = self.post("/api/projects/1/edits", {"revision": state["revision"], "edit": change}).json
        self.say(done="edit", revision=done["revision"], turn=turn)

    def undo(self) -> None:
        state = self.client.get("/api/projects/1").get_json()
        if state["undo"] and state["finishes"][0]["turn_deg"]:
            self.say(doing="edit", revision=state["revision"] + 1)
            done = self.post("/api/projects/1/undo", {"revision": state["revision"]}).json
            if done["finishes"]:
                self.say(done="edit", revision=done["revision"], turn=done["finishes"][0]["turn_deg"])

    def material(self) -> None:
        self.say(doing="material")
        made = self.upload(
            "/api/library", f"m{self.random.randrange(10**6)}.png", png(picture(self.random.randrange(99)))
        )
        self.say(done="material", key=made.json["key"])

    def imported(self) -> int:
        data = self.random.choice((b"", REMARK)) + OBJ % self.random.randrange(1, 99)
        number = self.upload("/api/imports", "a.obj", data).json["id"]
        while self.client.get(f"/api/imports/{number}?unit=mm&up=z").get_json()["state"] == "working":
            time.sleep(0.02)
        return int(number)

    def project(self) -> None:
        number = self.imported()
        self.say(doing="project")
        made = self.post(f"/api/imports/{number}/project", {"unit": "mm", "up": "z"})
        self.say(done="project", id=made.json["id"])

    def bake(self) -> None:
        """Begins a bake and goes on; its process is somewhere within it when this one is killed."""
        self.say(doing="bake")
        asked = {"px_per_m": 20, "size": 64}
        self.say(done="bake", id=self.post("/api/projects/1/bakes", asked).json["id"])

    def others(self) -> list[int]:
        return [p["id"] for p in self.client.get("/api/projects").get_json() if p["id"] != 1]

    def replace(self) -> None:
        number = self.imported()
        for project in self.others()[:1]:
            revision = self.client.get(f"/api/projects/{project}").get_json()["revision"]
            self.say(doing="replace", id=project)
            asked = {"import_id": number, "revision": revision, "unit": "mm", "up": "z"}
            done = self.post(f"/api/projects/{project}/model", asked).json
            self.say(done="replace", id=project, revision=done["revision"])

    def delete(self) -> None:
        for project in self.others()[:1]:
            self.say(doing="delete", id=project)
            self.client.delete(f"/api/projects/{project}")
            self.say(done="delete", id=project)


def begun(data: Path, seed: int) -> tuple[int, int]:
    """(process, what it says): a child that lives until it is killed."""
    read, write = os.pipe()
    child = os.fork()
    if child:
        os.close(write)
        return child, read
    try:
        os.close(read)
        Busy(data, write, seed).live()
    finally:
        os._exit(1)
