"""kill -9 in the middle of a series of edits: every confirmed edit is there afterwards."""

import contextlib
import json
import os
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
from http.client import HTTPException
from pathlib import Path

import pytest

from pivrel.jobs import leftovers
from pivrel.store.database import Database
from pivrel.web.app import STATIC, create_app
from tests.conftest import Asking, make_cube
from tests.lengths import at_length, some
from tests.serving import Server, free_port

KILLS = at_length(5, 100)
"""How many lives there are."""

ACTS = {"edit", "material", "project", "replace", "delete", "bake"}


@pytest.mark.skipif(not (STATIC / "index.html").is_file(), reason="the front end is not built")
@pytest.mark.parametrize("edits", some([5, 40], 1))
def test_confirmed_edits_survive_kill_9(database, tmp_path, edits):
    with database.transaction() as db:
        project = make_cube(db)
    server = Server(tmp_path / "data", free_port())
    path = f"/api/projects/{project}"
    edit = {"kind": "lay", "material": "brick", "pick": {"all": True}, "projection": {"kind": "box"}}
    confirmed = server.ask("POST", f"{path}/edits", {"revision": 0, "edit": edit})
    begun = threading.Event()
    killer = threading.Thread(target=lambda: (begun.wait(), time.sleep(0.004), server.kill()))
    killer.start()
    sent = 0
    try:
        while True:
            sent += 1
            if sent == edits:
                begun.set()
            change = {"kind": "turn_to", "finishes": ["F1"], "turn_deg": sent}
            confirmed = server.ask(
                "POST", f"{path}/edits", {"revision": confirmed["revision"], "edit": change}
            )
    except (OSError, HTTPException):
        killer.join()
    assert confirmed["revision"] >= edits - 1, "the series had begun"

    check = sqlite3.connect(tmp_path / "data" / "pivrel.sqlite")
    assert check.execute("PRAGMA integrity_check").fetchone() == ("ok",)
    check.close()
    server.start()
    try:
        state = server.ask("GET", path)
        # The one edit in flight may have been written before its answer got out; no other.
        assert state["revision"] - confirmed["revision"] in (0, 1)
        turn = confirmed["finishes"][0]["turn_deg"]
        assert state["finishes"][0]["turn_deg"] in (turn, turn + 1)
        undone = server.ask("POST", f"{path}/undo", {"revision": state["revision"]})
        assert undone["finishes"][0]["turn_deg"] == state["finishes"][0]["turn_deg"] - 1
    finally:
        server.kill()


@pytest.mark.slow
def test_many_kills_in_the_middle_of_everything(database, tmp_path, monkeypatch):
    """Edits, uploads, imports, replacements, bakes and deletes, each cut off somewhere within."""
    with database.transaction() as db:
        project = make_cube(db)
    cube = Asking(create_app(database).test_client(), project)
    cube.lay({"all": True})
    database.close()
    folder = tmp_path / "tmp"
    folder.mkdir()
    run = subprocess.run(
        [sys.executable, "-m", "tests.web.kill_run", str(tmp_path / "data"), str(KILLS)],
        # The one threading layer of numba that a process may be forked with.
        env={**os.environ, "TMPDIR": str(folder), "NUMBA_THREADING_LAYER": "workqueue"},
        capture_output=True,
        text=True,
    )
    assert run.returncode == 0, run.stderr[-3000:]
    confirmed = json.loads(run.stdout.splitlines()[-1])
    assert confirmed["edit"] > KILLS / 2
    assert confirmed.keys() <= ACTS and len(confirmed) >= at_length(3, len(ACTS)), confirmed
    # What was confirmed can be taken back, step by step.
    after = Asking(create_app(Database(tmp_path / "data")).test_client(), project)
    undone = 0
    while after.state["undo"] and undone < 3:
        after.step("undo")
        undone += 1
    assert undone, "it was laid at least"
    monkeypatch.setattr(tempfile, "tempdir", str(folder))
    assert leftovers.sweep() > 0 and list(folder.glob("pivrel-import-*")) == []
    assert not [p for p in running("pivrel.jobs.worker") if str(folder) in p], "readers end with their server"


def running(what):
    """The command lines of processes that have a word in them."""
    found = []
    for line in Path("/proc").glob("[0-9]*/cmdline"):
        with contextlib.suppress(OSError):
            found.append(line.read_bytes().replace(b"\0", b" ").decode())
    return [words for words in found if what in words]
