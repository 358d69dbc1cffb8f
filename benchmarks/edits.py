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
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody
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


def edit_to_picture() -> Iterator[Result]:
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder))
        project = bench_project(database, TRIANGLES)
        client = Client(serve(create_app(database)))
        path = f"/api/projects/{project}"
        state: dict[str, Any] = {"revision": 0}

        def edit(what: dict[str, Any]) -> None:
            state.update(
                json.loads(client.ask("POST", f"{path}/edits", {"revision": state["revision"], "edit": what}))
            )

        # Eleven rows of stripes under one that covers everything: the largest laying there is.
        box = {"kind": "box"}
        for stripe in np.array_split(np.arange(TRIANGLES), 11):
            ends = [int(stripe[0]), int(stripe[-1])]
            edit({"kind": "lay", "material": "brick", "pick": {"faces": ends}, "projection": box})
        edit({"kind": "lay", "material": "brick", "pick": {"all": True}, "projection": box})

        def turn() -> None:
            edit({"kind": "turn_by", "finishes": ["F12"], "turn_by": 7})
            key = state["finishes"][-1]["laying_key"]
            client.ask("GET", f"{path}/laying/F12?key={key}")

        size = TRIANGLES * 3 * 8
        plain = sending(size)

        yield compare(
            "edit to picture",
            f"turn, 200 k triangles, {size / 1e6:.1f} MB",
            turn,
            "sending the same bytes from memory",
            lambda: plain.ask("GET", "/"),
            at_most=3,
            runs=15,
        )


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
