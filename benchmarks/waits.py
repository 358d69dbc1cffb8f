"""How long an edit of another project waits beside each heavy operation on a model of a million triangles.

`python -m benchmarks.waits`: a real server, one client that works and one that edits a small project all the while;
then edits over a pick of 900,000 faces, beside idle connections, and of eight projects at once beside bakes.
"""

from __future__ import annotations

import socket
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Sequence
from contextlib import ExitStack
from functools import partial
from io import BytesIO
from pathlib import Path
from typing import Any

import numpy as np
from tests.conftest import facts_of
from tests.serving import Server, free_port
from tests.shapes import cuboid

from pivrel.core.geometry.mesh import Mesh
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.library import fill_library
from pivrel.web.server import TURN_S

SIDE = 708
PICKED = 900_000
EDITS = 200
IDLE = 250
PROJECTS = 8


def hill(side: int = SIDE, lift: float = 0.0) -> Mesh:
    """A wavy ground of 2 side² triangles, 100 m wide."""
    x, y = np.meshgrid(np.linspace(0, 1e5, side + 1), np.linspace(0, 1e5, side + 1), indexing="ij")
    z = 2000 * np.sin(x / 9000) * np.cos(y / 7000) + lift * (x > 5e4)
    a = (np.arange(side)[:, None] * (side + 1) + np.arange(side)).reshape(-1)
    quads = np.stack([a, a + side + 1, a + side + 2, a, a + side + 2, a + 1], axis=1).reshape(-1)
    count = 2 * side * side
    return Mesh(
        points=np.stack([x, y, z], axis=2).reshape(-1, 3),
        corners=quads.astype(np.int32),
        face_start=np.arange(0, 3 * count + 1, 3, dtype=np.int32),
        face_part=np.zeros(count, np.int32),
        part_names=("Ground",),
    )


def obj_of(mesh: Mesh) -> bytes:
    out = BytesIO()
    out.write(b"o Ground\n")
    np.savetxt(out, mesh.points, "v %.3f %.3f %.3f")
    np.savetxt(out, mesh.corners.reshape(-1, 3) + 1, "f %d %d %d")
    return out.getvalue()


class Editing(threading.Thread):
    """Edits a project again and again, and notes how long each edit takes."""

    def __init__(self, server: Server, project: int, most: float = float("inf")) -> None:
        super().__init__(daemon=True)
        self.server, self.path, self.most = server, f"/api/projects/{project}", most
        self.over, self.waits = threading.Event(), list[float]()
        self.revision = server.ask("GET", self.path)["revision"]

    def run(self) -> None:
        while not self.over.is_set() and len(self.waits) < self.most:
            turn = len(self.waits)
            # Every other one with a fit, as laying has it.
            edit: dict[str, Any] = {"kind": "turn_to", "finishes": ["F1"], "turn_deg": turn % 360}
            if turn % 2:
                edit = {"kind": "fit_datum", "finishes": ["F1"]}
            begun = time.perf_counter()
            state = self.server.ask("POST", f"{self.path}/edits", {"revision": self.revision, "edit": edit})
            self.revision = state["revision"]
            self.waits.append(time.perf_counter() - begun)
            time.sleep(0.02)


def beside(server: Server, edited: Sequence[int], work: Callable[[], object]) -> tuple[float, list[float]]:
    """(seconds of the work, how long each edit of these projects waited meanwhile)."""
    editing = [Editing(server, project) for project in edited]
    for one in editing:
        one.start()
    begun = time.perf_counter()
    work()
    took = time.perf_counter() - begun
    for one in editing:
        one.over.set()
        one.join()
    return took, [wait for one in editing for wait in one.waits]


def told(name: str, took: float, waits: Sequence[float]) -> None:
    """Prints a row."""
    half, most, longest = (1e3 * float(v) for v in (*np.percentile(waits, [50, 99]), max(waits)))
    print(
        f"{name:>26} takes {took:6.1f} s; {len(waits):5} edits: "
        f"median {half:6.1f}, 99 of 100 within {most:7.1f}, longest {longest:7.1f}",
        flush=True,
    )


def at_once(*works: Callable[[], object]) -> None:
    """Everything side by side, until all of it is done."""
    running = [threading.Thread(target=work) for work in works]
    for thread in running:
        thread.start()
    for thread in running:
        thread.join()


def main(names: Sequence[str]) -> None:
    """Prints a row for each operation, or for those of these names."""
    # The clients share one Python: the one that works must not keep the one that edits from its turn.
    sys.setswitchinterval(TURN_S)
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder))
        list(fill_library(database))
        with database.transaction() as db:
            facts = facts_of("a.obj", triangles=12)
            cube = blobs.put_mesh(db, cuboid())
            smalls = [projects.create(db, f"small {k}", cube, facts) for k in range(PROJECTS)]
            large = projects.create(
                db, "large", blobs.put_mesh(db, hill()), facts_of("a.obj", triangles=2 * SIDE**2)
            )
        database.close()
        server = Server(Path(folder), free_port())
        try:
            # Until what a server loads beside its first answers is loaded.
            time.sleep(6)
            measure(server, smalls, large, names)
        finally:
            server.kill()


def measure(server: Server, smalls: Sequence[int], large: int, names: Sequence[str]) -> None:
    path = f"/api/projects/{large}"
    lay = {"kind": "lay", "pick": {"all": True}, "projection": {"kind": "box"}}
    for project, material in (*((small, "brick") for small in smalls), (large, "oak")):
        revision = server.ask("GET", f"/api/projects/{project}")["revision"]
        server.ask(
            "POST",
            f"/api/projects/{project}/edits",
            {"revision": revision, "edit": {**lay, "material": material}},
        )
    archive = server.bytes("GET", f"{path}/handover/project")
    ground = obj_of(hill())
    newer = server.upload("/api/imports", {"hill.obj": obj_of(hill(lift=500.0))})["id"]
    while server.ask("GET", f"/api/imports/{newer}?unit=mm&up=z")["state"] == "working":
        time.sleep(0.2)

    def got(*what: str) -> None:
        for name in what:
            server.bytes("GET", f"{path}/{name}")

    def trials() -> None:
        server.bytes("POST", f"{path}/trials", {"finish": "F1"})

    def imported() -> None:
        number = server.upload("/api/imports", {"hill.obj": ground})["id"]
        while server.ask("GET", f"/api/imports/{number}?unit=mm&up=z")["state"] == "working":
            time.sleep(0.1)
        server.bytes("GET", f"/api/imports/{number}/picture.jpg?unit=mm&up=z")
        server.ask("POST", f"/api/imports/{number}/project", {"unit": "mm", "up": "z"})

    def replaced() -> None:
        revision = server.ask("GET", path)["revision"]
        asked = {"import_id": newer, "revision": revision, "unit": "mm", "up": "z"}
        server.ask("POST", f"{path}/model", asked)

    def edited() -> None:
        revision = server.ask("GET", path)["revision"]
        edit = {
            "kind": "set_projection",
            "finishes": ["F1"],
            "projection": {"kind": "cylindrical"},
        }
        server.ask("POST", f"{path}/edits", {"revision": revision, "edit": edit})

    def picked() -> None:
        """Lays on a pick of many faces, and edits over it."""
        revision = server.ask("GET", path)["revision"]
        edit = {**lay, "material": "oak", "pick": {"faces": list(range(PICKED))}}
        server.ask("POST", f"{path}/edits", {"revision": revision, "edit": edit})
        editing = Editing(server, large, EDITS)
        begun = time.perf_counter()
        editing.run()
        told("those edits themselves", time.perf_counter() - begun, editing.waits)

    def idle() -> None:
        with ExitStack() as held:
            for _ in range(IDLE):
                held.enter_context(socket.create_connection(("127.0.0.1", server.port)))
            time.sleep(10)

    def bake(project: int) -> None:
        asked = {"px_per_m": 200.0, "size": 4096, "finishes": ["F1"]}
        bake = f"/api/bakes/{server.ask('POST', f'/api/projects/{project}/bakes', asked)['id']}"

        def until_ready() -> None:
            while (state := server.ask("GET", bake))["state"] == "working":
                time.sleep(0.1)
            assert state["state"] == "ready", state

        until_ready()
        server.ask("POST", f"{bake}/begin")
        until_ready()
        server.bytes("DELETE", bake)

    def baked() -> None:
        at_once(*[partial(bake, small) for small in smalls[:3]])

    one = smalls[:1]
    work: dict[str, tuple[Sequence[int], Callable[[], object]]] = {
        "nothing": (one, lambda: time.sleep(10)),
        "idle connections": (one, idle),
        "eight projects and bakes": (smalls, baked),
        "the first page": (one, lambda: got("geometry", "cover", "laying/F1", "figures")),
        "looks": (one, lambda: got("looks/stretch", "looks/seams", "looks/grain")),
        "a pick of 900,000 faces": (one, picked),
        "an edit with a fit": (one, edited),
        "trials": (one, trials),
        "eight trials at once": (one, lambda: at_once(*[trials] * 8)),
        "hand-over as OBJ": (one, lambda: got("handover/obj")),
        "hand-over as GLB": (one, lambda: got("handover/glb")),
        "hand-over as a project": (one, lambda: got("handover/project")),
        "opening a project file": (one, lambda: server.upload("/api/projects", {"a.pivrel": archive})),
        "the picture": (one, lambda: got("picture.jpg?r=9")),
        "an import": (one, imported),
        "import, trials, hand-over": (one, lambda: at_once(imported, trials, lambda: got("handover/glb"))),
        "a newer model": (one, replaced),
        "deleting": (one, lambda: server.bytes("DELETE", path)),
    }
    print(f"archive {len(archive) / 1e6:.0f} MB; an edit meanwhile, in ms:")
    for name, (edited_meanwhile, doing) in work.items():
        if not names or name in names:
            told(name, *beside(server, edited_meanwhile, doing))


if __name__ == "__main__":
    main(sys.argv[1:])
