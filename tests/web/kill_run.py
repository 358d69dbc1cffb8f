"""Many lives, each killed somewhere within what it does: `python -m tests.web.kill_run FOLDER COUNT`.

After each death the data is looked through; the last line says how many of each thing were confirmed.
"""

from __future__ import annotations

import json
import os
import random
import signal
import sqlite3
import sys
import tempfile
import time
from collections import Counter
from contextlib import closing
from pathlib import Path
from typing import Any

from pivrel.store import projects
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody
from pivrel.web.app import create_app
from tests.conftest import Asking, make_cube
from tests.store.counting import named_and_kept
from tests.web.killing import begun


def warm_up() -> None:
    """Loads and compiles what every life needs, once."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder))
        with database.transaction() as db:
            make_cube(db)
            body = LibraryBody(
                name="Brick", repeat_mm=(900, 600), grain_deg=0, metallic=0, use="wall", images={}
            )
            projects.put_library(db, "brick", 0, body)
        cube = Asking(create_app(database).test_client(), 1)
        cube.lay({"all": True})
        cube.change(["F1"], turn_deg=1)
        database.close()


def life(data: Path, seed: int) -> list[dict[str, Any]]:
    """What a process said until it was killed, some moments after it had begun one of its first acts."""
    chance = random.Random(seed)
    child, said = begun(data, seed)
    acts, text = chance.randrange(1, 6), b""
    while text.count(b'"doing"') < acts:
        more = os.read(said, 1 << 16)
        assert more, text
        text += more
    time.sleep(chance.choice((0.0, 0.001, 0.003, 0.01, 0.03)))
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    while more := os.read(said, 1 << 16):
        text += more
    os.close(said)
    return [json.loads(line) for line in text.decode().splitlines()]


def look_through(data: Path, said: list[dict[str, Any]]) -> None:
    """AssertionError where something confirmed is lost, or something is left that nothing refers to."""
    # As the next start of a server does.
    opened = Database(data)
    opened.sweep()
    opened.close()
    with closing(sqlite3.connect(data / "pivrel.sqlite")) as db:
        assert db.execute("PRAGMA integrity_check").fetchone() == ("ok",)
        assert db.execute("PRAGMA foreign_key_check").fetchall() == []
        named, there = named_and_kept(db)
        assert there == named, "an orphan, or bytes that are lost"
        keys = {row[0] for row in db.execute("SELECT key FROM library_material")}
        ids = {row[0]: row[1] for row in db.execute("SELECT id, revision FROM project")}
        body = db.execute("SELECT body FROM document WHERE project_id = 1 AND key = 'F1'").fetchone()
    done = [line for line in said if "done" in line]
    begun_last = said[-1] if "doing" in said[-1] else {}
    gone = {line["id"] for line in done if line["done"] == "delete"}
    gone |= {begun_last["id"]} if begun_last.get("doing") == "delete" else set()
    for line in done:
        if line["done"] == "material":
            assert line["key"] in keys
        if line["done"] == "project" and line["id"] not in gone:
            assert line["id"] in ids
        if line["done"] == "replace" and line["id"] not in gone:
            assert ids[line["id"]] >= line["revision"]
        if line["done"] == "delete":
            assert line["id"] not in ids
    edits = [line for line in done if line["done"] == "edit"]
    if edits:
        # The edit in flight may have been written before its confirmation got out; no other.
        assert ids[1] - edits[-1]["revision"] in (0, 1)
        if ids[1] == edits[-1]["revision"]:
            assert json.loads(body[0])["turn_deg"] == edits[-1]["turn"]


def main() -> None:
    """Lives and deaths, one after the other."""
    data, count = Path(sys.argv[1]), int(sys.argv[2])
    confirmed: Counter[str] = Counter()
    warm_up()
    for seed in range(count):
        said = life(data, seed)
        look_through(data, said)
        confirmed.update(line["done"] for line in said if "done" in line)
    print(json.dumps(confirmed))


if __name__ == "__main__":
    main()
