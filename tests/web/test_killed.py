"""kill -9 in the middle of a series of edits: every confirmed edit is there afterwards."""

import sqlite3
import threading
import time
from http.client import HTTPException

import pytest

from pivrel.store import blobs, projects
from pivrel.web import server as web_server
from tests.serving import Server, free_port
from tests.shapes import cuboid


@pytest.mark.skipif(not (web_server.STATIC / "index.html").is_file(), reason="the front end is not built")
@pytest.mark.parametrize("edits", [5, 40])
def test_confirmed_edits_survive_kill_9(database, tmp_path, edits):
    with database.transaction() as db:
        facts = {"file": "cube.obj", "unit": "m", "up": "y", "found": [], "parts": 1, "triangles": 12}
        project = projects.create(db, "cube", blobs.put_mesh(db, cuboid()), facts)
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
            change = {"kind": "change", "finishes": ["F1"], "turn_deg": sent}
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
