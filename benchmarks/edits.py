"""From an edit to the bytes that the view draws, over HTTP, on 200,000 triangles and 12 finishes."""

from __future__ import annotations

import http.client
import json
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import waitress
from flask import Flask, Response
from tests.conftest import facts_of

from benchmarks.models import rolling
from benchmarks.timing import Result, compare
from pivrel.recipe import FinishModel
from pivrel.store import blobs, journal, projects
from pivrel.store.database import Database
from pivrel.store.documents import Contents, Document, LibraryBody
from pivrel.web.app import create_app

TRIANGLES = 200_000


def serve(app: Flask) -> int:
    server = waitress.create_server(
        app, host="127.0.0.1", port=0, threads=4, send_bytes=1 << 18, outbuf_overflow=1 << 26
    )
    threading.Thread(target=server.run, daemon=True).start()
    return int(server.effective_port)


class Client:
    def __init__(self, port: int) -> None:
        self.connection = http.client.HTTPConnection("127.0.0.1", port)

    def ask(self, method: str, path: str, body: Any = None) -> bytes:
        text = json.dumps(body) if body is not None else None
        self.connection.request(method, path, text, {"Content-Type": "application/json"})
        answer = self.connection.getresponse()
        data = answer.read()
        assert answer.status < 300, data[:300]
        return data


def sending(size: int) -> Client:
    """A server that has so many bytes in memory and sends them at "/"."""
    memory = Flask("memory")
    held = np.random.default_rng(2).bytes(size)
    memory.add_url_rule("/", "held", lambda: Response(held, mimetype="application/octet-stream"))
    return Client(serve(memory))


def bench_project(database: Database, triangles: int) -> int:
    """A project of a rolling surface, with one material to lay."""
    with database.transaction() as db:
        body = LibraryBody(name="brick", repeat_mm=(900, 600), grain_deg=0, metallic=0, images={})
        projects.put_library(db, "brick", 0, body)
        facts = facts_of("made up", parts=1, triangles=triangles)
        return projects.create(db, "bench", blobs.put_mesh(db, rolling(triangles)), facts)


class Editing:
    """Edits of a project over HTTP, each on what the one before has left."""

    def __init__(self, client: Client, project: int, revision: int = 0) -> None:
        self.client, self.path, self.revision = client, f"/api/projects/{project}", revision

    def edit(self, what: dict[str, Any]) -> int:
        """Carries out an edit; the bytes of its answer, with which the view can be drawn anew."""
        asked = {"revision": self.revision, "edit": what}
        answer = self.client.ask("POST", f"{self.path}/edits?changes", asked)
        self.revision += 1
        return len(answer)


def edit_to_picture() -> Iterator[Result]:
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder))
        project = bench_project(database, TRIANGLES)
        client = Client(serve(create_app(database)))
        editing, steps = Editing(client, project), iter(range(1, 1_000_000))

        # Eleven rows of stripes under one that covers everything: the largest laying there is.
        box = {"kind": "box"}
        for stripe in np.array_split(np.arange(TRIANGLES), 11):
            ends = [int(stripe[0]), int(stripe[-1])]
            editing.edit({"kind": "lay", "material": "brick", "pick": {"faces": ends}, "projection": box})
        editing.edit({"kind": "lay", "material": "brick", "pick": {"all": True}, "projection": box})

        def moved() -> int:
            datum = {"origin_mm": [float(next(steps)), 0, 0], "x_axis": [1, 0, 0], "z_axis": [0, 0, 1]}
            return editing.edit({"kind": "set_datum", "finishes": ["F12"], "datum": datum})

        def turned() -> int:
            return editing.edit({"kind": "turn_by", "finishes": ["F12"], "turn_by": 7})

        size = TRIANGLES * 3 * 8
        plain = sending(size)
        assert moved() > size > 1000 * turned()
        for what, doing, times in (("new corners", moved, 2.0), ("a turn", turned, 1.2)):
            yield compare(
                "edit to picture",
                f"{what}, 200 k triangles, {size / 1e6:.1f} MB",
                doing,
                "sending the same bytes from memory",
                lambda: plain.ask("GET", "/"),
                at_most=times,
                runs=25,
            )


def many_rows() -> Iterator[Result]:
    """A turn of one row of a thousand beside one of ten."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder))
        few, many = (
            Editing(Client(serve(create_app(database))), _with_rows(database, rows), 1) for rows in (10, 1000)
        )
        step = iter(range(1, 1_000_000))

        def turned(editing: Editing) -> Callable[[], int]:
            return lambda: editing.edit({"kind": "turn_to", "finishes": ["F3"], "turn_deg": next(step) % 360})

        yield compare(
            "a turn among 1,000 rows", "200 k triangles", turned(many), "among 10 rows", turned(few), at_most=2, runs=25
        )  # fmt: skip


def _with_rows(database: Database, rows: int) -> int:
    """A project with so many finishes, each on its own faces."""
    project = bench_project(database, TRIANGLES)
    with database.transaction() as db:
        body = projects.library(db)["brick"].body.for_project()
        contents = Contents(materials={"brick": Document("brick", 0, body)})
        for row, faces in enumerate(np.array_split(np.arange(TRIANGLES), rows), 1):
            stated = {
                "name": f"row {row}", "material": "brick", "pick": {"faces": faces.tolist()},
                "projection": {"kind": "box"}, "turn_deg": 0.0,
            }  # fmt: skip
            contents.finishes[f"F{row}"] = Document(f"F{row}", row, FinishModel.model_validate(stated))
        journal.write(db, project, 0, "rows", journal.changes_between(Contents(), contents))
    return project


DRAGGED = 100_000
DRAWN = 20_000


def dragging() -> Iterator[Result]:
    """A datum dragged over a pick of 100,000 triangles: each place asked for, laid and sent, one at a time."""
    step = iter(range(1_000_000))

    def place() -> dict[str, Any]:
        at = float(next(step))
        return {"datum": {"origin_mm": [at, -at, 0.0], "x_axis": [1.0, 0.0, 0.0], "z_axis": [0.0, 0.2, 1.0]}}

    names = "one place of a dragged datum", "applied updates of a drag"
    yield from _previewed(names, DRAGGED, "cylindrical", place, at_most=10, a_second=20)


def drawing() -> Iterator[Result]:
    """A stroke drawn on 20,000 triangles whose pattern follows it: each length asked for, solved and sent."""
    points = rolling(DRAWN).points
    side = round(len(points) ** 0.5)
    row = points.reshape(side, side, 3)[side // 2]
    length = iter(5 + k % (side - 10) for k in range(1_000_000))

    def stroke() -> dict[str, Any]:
        points = row[3 : 3 + next(length)].tolist()
        return {"projection": {"kind": "lines", "lines": [{"points": points}]}}

    names = "one step of a drawn stroke", "updates of a drawn stroke"
    yield from _previewed(names, DRAWN, "lines", stroke, at_most=30, a_second=30)


def _previewed(
    names: tuple[str, str],
    triangles: int,
    projection: str,
    asked: Callable[[], dict[str, Any]],
    at_most: float,
    a_second: float,
) -> Iterator[Result]:
    """Previews of a finish on everything, one at a time: beside sending the same bytes, and how many a second."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder))
        project = bench_project(database, triangles)
        client = Client(serve(create_app(database)))
        path = f"/api/projects/{project}"
        kind = {"kind": projection}
        lay = {"kind": "lay", "material": "brick", "pick": {"all": True}, "projection": kind}
        client.ask("POST", f"{path}/edits", {"revision": 0, "edit": lay})
        size = triangles * 3 * 8
        plain = sending(size)

        def preview() -> None:
            assert len(client.ask("POST", f"{path}/preview/F1", asked())) == size

        on = f"{triangles // 1000} k triangles"
        yield compare(
            names[0], f"{on}, {size / 1e6:.1f} MB", preview,
            "sending the same bytes from memory", lambda: plain.ask("GET", "/"), at_most=at_most, runs=31,
        )  # fmt: skip
        begin, count = time.perf_counter(), 60
        for _ in range(count):
            preview()
        found = count / (time.perf_counter() - begin)
        goal = f"{a_second:g} a second"
        yield Result(
            names[1],
            on,
            found,
            f"goal: {goal}",
            a_second,
            goal,
            found / a_second,
            found >= a_second,
            "a second",
        )
