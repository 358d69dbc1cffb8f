"""Every kind of work once, on a small model: what is compiled on its first use is compiled then, and kept on the disk.

`python -m pivrel.cli.warming`, at set-up: afterwards the first model is worked on as fast as the second. With words of
the command line (`apply …`), that command is run too. With `--beside` it leaves the processors to others and ends with
the process that began it.
"""

from __future__ import annotations

import json
import os
import sys
import time
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from contextlib import contextmanager
from dataclasses import replace
from io import BytesIO
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import numpy as np
from flask.testing import FlaskClient

from pivrel.cli.main import main
from pivrel.core.geometry.mesh import Mesh
from pivrel.demo.loading import FROM_THE_FRONT, RECTANGLE, SIZE
from pivrel.demo.shapes import Assembly, box, grid, turned
from pivrel.formats.bundle import Upload
from pivrel.formats.reading import read_model
from pivrel.jobs.worker import BEHIND
from pivrel.parent import end_with_parent, environment
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody, ModelFacts
from pivrel.web.app import create_app

WAYS: tuple[tuple[str, tuple[dict[str, Any], ...]], ...] = (
    ("planar", ({"kind": "set_datum_for", "datum_for": "side"},)),
    (
        "box",
        ({"kind": "set_datum_for", "datum_for": "board"}, {"kind": "vary", "variation": {"by": "board"}}),
    ),
    ("box", ({"kind": "run_on", "run_on": True},)),
    ("cylindrical", ()),
    ("spherical", ()),
    ("triplanar", ()),
    ("flow", ()),
    ("flatten", ()),
    ("box", ({"kind": "set_datum_for", "datum_for": "part"},)),
)
"""Projections, and what is then asked of each; the last one is drawn and handed over."""

LOOKS = ("figures", "totals", "looks/stretch", "looks/seams", "looks/grain")

CLICKS = ("face", "part", "patch", "plane", "ring", "shape", "facing")
EYE = {"matrix": FROM_THE_FRONT.T.ravel().tolist(), "size": SIZE}
READING = "unit=mm&up=z"


def boards_and_a_knob() -> Mesh:
    """A model of few faces: three boards, and something round."""
    made = Assembly()
    box(made, "Top", (0, 0, 180), (300, 150, 194))
    box(made, "Left", (0, 0, 0), (14, 150, 180))
    box(made, "Right", (286, 0, 0), (300, 150, 180))
    turned(made, "Knob", (150, 0, 90), [(0, 0), (13.5, 0), (12, 4), (11, 15), (0, 16.5)], 24, axis="-y")
    return made.mesh()


def pebble() -> Mesh:
    """One closed part that is curved everywhere."""
    along = np.linspace(0.15, np.pi - 0.15, 12)[:, None]
    round_ = np.linspace(0, 2 * np.pi, 16, endpoint=False)[None, :]
    wide = 40 * np.sin(along) * (1 + 0.15 * np.cos(3 * along))
    rings = np.stack(
        [wide * np.cos(round_), wide * np.sin(round_), -60 * np.cos(along) + 0 * round_], axis=-1
    )
    made = Assembly()
    grid(made, "Pebble", rings, close_columns=True)
    made.add("Pebble", rings[0], [tuple(range(16))])
    made.add("Pebble", rings[-1], [tuple(range(15, -1, -1))])
    return made.mesh()


def obj_of(mesh: Mesh) -> bytes:
    """A mesh as a Wavefront OBJ in mm with Z up."""
    lines = [f"v {x:.4f} {y:.4f} {z:.4f}" for x, y, z in mesh.points]
    part = -1
    for face in range(mesh.face_count):
        if mesh.face_part[face] != part:
            part = int(mesh.face_part[face])
            lines.append(f"o {mesh.part_names[part]}")
        ids = mesh.corners[mesh.face_start[face] : mesh.face_start[face + 1]] + 1
        lines.append("f " + " ".join(map(str, ids.tolist())))
    return "\n".join(lines).encode()


def as_text() -> None:
    """Scans as text: a triangle as STL and as PLY."""
    corners = ("0 0 0", "1 0 0", "0 1 0")
    facet = "".join(f"vertex {corner}\n" for corner in corners)
    stl = f"solid a\nfacet normal 0 0 1\nouter loop\n{facet}endloop\nendfacet\nendsolid a\n"
    axes = "".join(f"property float {axis}\n" for axis in "xyz")
    ply = (
        f"ply\nformat ascii 1.0\nelement vertex 3\n{axes}element face 1\n"
        "property list uchar int vertex_indices\nend_header\n" + "\n".join(corners) + "\n3 0 1 2\n"
    )
    for name, text in (("a.stl", stl), ("a.ply", ply)):
        read_model(name, text.encode(), Upload({}), "mm", "z")


class Visitor:
    """Asks as a page does; what is refused is an error."""

    def __init__(self, client: FlaskClient) -> None:
        self.client = client

    def ask(self, method: str, path: str, body: object = None) -> bytes:
        answer = self.client.open(f"/api{path}", method=method, json=body)
        if answer.status_code >= 400:
            raise RuntimeError(f"{method} {path}: {answer.get_data(as_text=True)[:300]}")
        return answer.get_data()

    def imported(self, name: str, data: bytes) -> int:
        """The number of an import that was read, checked and looked at."""
        form = {"files": [(BytesIO(data), name)]}
        answer = self.client.post("/api/imports", data=form, content_type="multipart/form-data")
        number = int(answer.get_json()["id"])
        while json.loads(self.ask("GET", f"/imports/{number}?{READING}"))["state"] == "working":
            time.sleep(0.1)
        self.ask("GET", f"/imports/{number}/picture.jpg?{READING}")
        return number


class Project:
    """One project of a visitor, with the revision that its next edit is based on."""

    def __init__(self, visitor: Visitor, number: int) -> None:
        self.visitor, self.path, self.revision = visitor, f"/projects/{number}", 0

    def get(self, *paths: str) -> None:
        for path in paths:
            self.visitor.ask("GET", f"{self.path}/{path}")

    def post(self, path: str, body: object) -> bytes:
        return self.visitor.ask("POST", f"{self.path}/{path}", body)

    def edit(self, **edit: Any) -> None:
        self.post("edits?changes", {"revision": self.revision, "edit": edit})
        self.revision += 1

    def step(self, what: str) -> None:
        self.post(f"{what}?changes", {"revision": self.revision})
        self.revision += 1


@contextmanager
def visitor() -> Iterator[tuple[Visitor, Database]]:
    """A visitor of an application with a data folder of its own, in which one material is all that there is."""
    with TemporaryDirectory(prefix="pivrel-warming-") as folder:
        database = Database(Path(folder))
        with database.transaction() as db:
            body = LibraryBody(name="Oak", repeat_mm=(1800, 1200), grain_deg=0, metallic=0, images={})
            projects.put_library(db, "oak", 0, body)
        try:
            yield Visitor(create_app(database).test_client()), database
        finally:
            database.close()


def imported(guest: Visitor, mesh: Mesh) -> Project:
    """A project of a mesh that is read from a file."""
    number = guest.imported("model.obj", obj_of(mesh))
    made = guest.ask("POST", f"/imports/{number}/project", {"unit": "mm", "up": "z"})
    return Project(guest, json.loads(made)["id"])


def stored(guest: Visitor, database: Database, mesh: Mesh) -> Project:
    """A project of a mesh that is in the database already."""
    facts = ModelFacts(file="model.obj", unit="mm", up="z", found=[], parts=1, triangles=mesh.face_count)
    with database.transaction() as db:
        return Project(guest, projects.create(db, "model", blobs.put_mesh(db, mesh), facts))


def pick(project: Project) -> None:
    """Every way to pick."""
    base = {"patches": [0, 1]}
    project.post("pick", {"how": "largest"})
    for how in ("grow", "shrink", "invert"):
        project.post("pick", {"how": how, "base": base})
    for level in CLICKS:
        project.post("pick", {"how": "add", "base": base, "clicked": {"face": 5, "level": level}})
    for through in (False, True):
        for whole in (False, True):
            region = {"outline": RECTANGLE.tolist(), "eye": EYE, "through": through, "whole": whole}
            project.post("pick", {"how": "replace", "region": region})
    project.post("unseen", {"pick": {"all": True}, "eye": EYE})
    project.post("pick", {"how": "remove", "base": {"all": True}, "pick": base})


def lay(project: Project) -> None:
    """Ways to lay, each over all that was laid before, measured and looked at."""
    for row, (projection, then) in enumerate(WAYS, 1):
        key = f"F{row}"
        project.edit(kind="lay", material="oak", pick={"all": True}, projection={"kind": projection})
        for edit in then:
            project.edit(finishes=[key], **edit)
        project.edit(kind="turn_by", finishes=[key], turn_by=30)
        project.get("cover", f"laying/{key}", f"datum/{key}", *LOOKS)
        if projection != "triplanar":
            project.get(f"flat/{key}")
    project.step("undo")
    project.step("redo")


def try_out(project: Project) -> None:
    """Trials, and a datum under the hand."""
    project.post("trials", {"pick": {"all": True}, "material": "oak"})
    project.edit(kind="lay", material="oak", pick={"all": True}, projection={"kind": "cylindrical"})
    project.post("preview/F1", {"datum": {"origin_mm": [1, 2, 3], "x_axis": [1, 0, 0], "z_axis": [0, 0, 1]}})
    project.get(*LOOKS)


def hand_over(project: Project) -> None:
    """The picture and the files."""
    project.get("picture.jpg", "handover/glb", "handover/obj", "handover/project")


def renew(project: Project, mesh: Mesh) -> None:
    """A newer model, of which some stands elsewhere."""
    points = mesh.points.copy()
    points[len(points) // 2 :] += [0.0, 0.0, 25.0]
    number = project.visitor.imported("model.obj", obj_of(replace(mesh, points=points)))
    asked = {"import_id": number, "revision": project.revision, "unit": "mm", "up": "z"}
    project.post("model", asked)


def from_a_file() -> None:
    """A model that comes as a file: checked, picked in and renewed."""
    as_text()
    mesh = boards_and_a_knob()
    with visitor() as (guest, _):
        project = imported(guest, mesh)
        project.get("geometry", "edges")
        pick(project)
        project.edit(kind="lay", material="oak", pick={"all": True}, projection={"kind": "box"})
        renew(project, mesh)


def laid_and_handed_over() -> None:
    """A model of boxes and boards, and one of a single curved part."""
    with visitor() as (guest, database):
        project = stored(guest, database, boards_and_a_knob())
        lay(project)
        hand_over(project)
        try_out(stored(guest, database, pebble()))


def commanded(words: tuple[str, ...]) -> None:
    """Runs a command of the command line; RuntimeError where it fails."""
    if main(words):
        raise RuntimeError(f"pivrel {' '.join(words)} did not work")


def warm(*words: str) -> None:
    """Does all of it, in two processes: compiling takes one core each."""
    with ProcessPoolExecutor(2) as pool:
        doing = [pool.submit(laid_and_handed_over), pool.submit(from_a_file)]
        if words:
            doing.append(pool.submit(commanded, words))
        for done in doing:
            done.result()


def beside() -> None:
    """The same as long as the process that began it lives, and behind what others want of the processors."""
    end_with_parent()
    os.nice(BEHIND)
    os.environ |= environment()
    with ProcessPoolExecutor(1, initializer=end_with_parent) as pool:
        for kind in (from_a_file, laid_and_handed_over):
            pool.submit(kind).result()


if __name__ == "__main__":
    beside() if sys.argv[1:] == ["--beside"] else warm(*sys.argv[1:])
