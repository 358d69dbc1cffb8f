"""What hostile requests are sent to: projects with a bit of everything, and all that can be asked of one."""

from __future__ import annotations

import shutil
from typing import Any

import numpy as np
from flask import Flask

from pivrel.materials.images import encode
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody
from pivrel.web.app import create_app
from tests.bent import grid, winding_wall
from tests.conftest import Asking, facts_of, make_cube

FINISHED = ("flow", "drape", "camera", "lines", "flatten", "roll", "triplanar", "spherical")
"""How the rows of the finished project are laid, each on a strip of faces of its own."""

COATS = ("all over", "fade", "seams", "edges", "noise", "image")

CUBES_FIRST = 2
"""Beside a cube of two rows and a project with a row of each kind, what the demo has."""


def attacked(folder: Any, filled: Any) -> tuple[Flask, Any, list[int]]:
    """An application with its client, and the numbers of its projects, the small ones first."""
    shutil.copytree(filled, folder)
    database = Database(folder)
    with database.transaction() as db:
        demo = [project.id for project in projects.get_all(db)]
        images = blobs.put_images(db, {"base_color": encode(np.full((32, 48, 3), 0.5))})
        body = {"name": "own", "repeat_mm": [900, 600], "grain_deg": 0, "metallic": 0, "use": "wall", "own": True, "images": images}  # fmt: skip
        projects.put_library(db, "own", 99, LibraryBody.model_validate(body))
        cube = make_cube(db)
        bent = projects.create(
            db, "finished", blobs.put_mesh(db, grid(winding_wall(), 32, 8).mesh), facts_of("wall.obj")
        )
    app = create_app(database)
    client = app.test_client()
    plain = Asking(client, cube)
    plain.lay({"all": True})
    plain.lay({"faces": [1, 2]}, "oak", "planar")
    plain.edit(kind="keep_pick", name="top", pick={"faces": [1]})
    _finish(Asking(client, bent))
    # As a server that was started anew: what is kept in memory is made from what was written.
    database.close()
    app = create_app(Database(folder))
    return app, app.test_client(), [cube, bent, *demo]


def _finish(project: Asking) -> None:
    """A project as it is handed over: every kind of projection, coats, cells, tones, single sheets, views."""
    count = project.client.get(project.path).json["model"]["faces"]
    strip = max(count // len(FINISHED), 1)
    project.lay({"all": True}, "own")
    for row, kind in enumerate(FINISHED):
        faces = list(range(row * strip, (row + 1) * strip))
        stated: dict[str, Any] = {"kind": kind}
        if kind == "drape":
            stated["over"] = {"faces": list(range(strip))}
        if kind == "camera":
            stated |= {"eye_mm": [0, -9000, 1500], "target_mm": [0, 0, 1000]}
        project.edit(kind="lay", material="own", pick={"faces": faces}, projection=stated)
    for row, start in enumerate(COATS):
        project.edit(kind="add_coat", finish=f"F{row + 2}", start=start)
    project.edit(kind="vary", finishes=["F1"], variation={"by": "patch"})
    project.edit(kind="set_cells", finishes=["F2"], cells={"size_mm": 300})
    project.edit(kind="set_tone", finishes=["F3"], tint="#c08040")
    project.edit(kind="tile", finishes=["F6"], tile=False)
    project.edit(kind="run_on", finishes=["F1"], run_on=True)
    project.edit(
        kind="keep_view",
        name="view",
        position_mm=[0, -5000, 2000],
        target_mm=[0, 0, 0],
        up=[0, 0, 1],
        height_mm=None,
    )


def addresses(app: Flask, client: Any, project: int) -> list[str]:
    """Every address of a project, with each of its rows and each kind of file."""
    state = client.get(f"/api/projects/{project}").json
    rows = [row["key"] for row in state["finishes"]]
    values = {
        "finish": rows, "face": ["0", str(state["model"]["faces"] - 1)], "number": ["0"], "row": ["0"], "called": ["x"],
        "by": ["parts", "storeys", "elements", "sources"],
    }  # fmt: skip
    kinds = {"handover": ["glb", "obj", "gltf"], "pattern": ["svg", "dxf", "a3", "obj"]}
    out = []
    for rule in app.url_map.iter_rules():
        if "project_id" not in rule.arguments or "GET" not in (rule.methods or ()):
            continue
        paths = [rule.rule.replace("<int:project_id>", str(project))]
        for name in rule.arguments - {"project_id"}:
            own = kinds[rule.endpoint.split(".")[0]] if name == "kind" else values[name]
            paths = [
                path.replace(f"<int:{name}>", value).replace(f"<{name}>", value)
                for path in paths
                for value in own
            ]
        # A picture to paint on is as large as is asked for.
        out += [f"{path}?longest=256" if path.endswith(".png") else path for path in paths]
    return out


def what_fails(app: Flask, client: Any, project: int) -> list[tuple[str, int, Any]]:
    """The addresses of a project that are answered with a fault of the server's own, with the answer."""
    answers = (
        (path, client.get(path)) for path in [f"/api/projects/{project}", *addresses(app, client, project)]
    )
    return [(path, answer.status_code, answer.json) for path, answer in answers if answer.status_code >= 500]
