"""Whatever a server has begun ends with it: looked at from outside, by processes and files alone."""

import contextlib
import io
import os
import random
import subprocess
import sys
import threading
import time
import uuid
from pathlib import Path

import PIL.Image
import pytest

from pivrel.store.database import Database
from tests.conftest import make_cube
from tests.lengths import at_length
from tests.serving import Server, free_port

KILLS = at_length(4, 60)
WITHIN_S = 2.0

LARGE = b"".join(b"v %d %d 0\n" % (k % 400, k // 400) for k in range(160_000)) + b"".join(
    b"f %d %d %d\n" % (k, k + 1, k + 400) for k in range(1, 159_000)
)
"""A model whose reading takes seconds."""


def with_mark(mark):
    """The processes whose environment holds a word, by their numbers, and what each was begun with."""
    found = {}
    for folder in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            if mark.encode() in (folder / "environ").read_bytes():
                state = (folder / "stat").read_text().rpartition(")")[2].split()[0]
                if state != "Z":
                    words = (folder / "cmdline").read_bytes().replace(b"\0", b" ").decode()
                    found[int(folder.name)] = words
    return found


def busy(server):
    """Asks for long work of several kinds, and waits for none of it."""

    def ask(*what):
        with contextlib.suppress(Exception):
            server.upload(*what) if len(what) == 2 else server.ask(*what)

    path = "/api/projects/1"
    asked = [
        ("/api/imports", {"large.obj": LARGE}),
        ("POST", f"{path}/bakes", {"px_per_m": 200.0, "size": 512, "finishes": ["F1"]}),
        ("/api/library", {"wide.tif": TIFF}),
    ]
    threads = [threading.Thread(target=ask, args=what, daemon=True) for what in asked]
    for thread in threads:
        thread.start()


def tiff():
    out = io.BytesIO()
    PIL.Image.new("RGB", (6000, 6000), (90, 20, 20)).save(out, "TIFF", compression="tiff_lzw")
    return out.getvalue()


TIFF = tiff()


@pytest.mark.skipif(not Path("/proc").is_dir(), reason="processes are looked at where Linux shows them")
def test_processes_end_with_their_server_and_their_files_with_the_next(tmp_path, monkeypatch):
    folder = tmp_path / "tmp"
    folder.mkdir()
    monkeypatch.setenv("TMPDIR", str(folder))
    database = Database(tmp_path / "data")
    with database.transaction() as db:
        make_cube(db)
    database.close()
    chance = random.Random(6)
    most = 0
    for kill in range(KILLS):
        mark = f"pivrel-mark-{uuid.uuid4().hex}"
        monkeypatch.setenv("PIVREL_TEST_MARK", mark)
        server = Server(tmp_path / "data", free_port())
        if kill % 3 < 2:
            busy(server)
        # Some at once, while the first process that stands ready is still beginning.
        time.sleep(chance.choice((0.0, 0.05, 0.4, 1.5)))
        most = max(most, len(with_mark(mark)))
        server.kill()
        until = time.monotonic() + WITHIN_S
        while (left := with_mark(mark)) and time.monotonic() < until:
            time.sleep(0.05)
        assert not left, (kill, left)
    assert most > 1, "there was something to end"
    server = Server(tmp_path / "data", free_port())
    try:
        assert list(folder.glob("pivrel-import-*")) == [] or all(
            str(server.process.pid) in p.name for p in folder.glob("pivrel-import-*")
        )
    finally:
        server.kill()


def test_a_process_whose_parent_is_gone_already_ends_at_once():
    """The parent may die before its child has asked to be told of that: the child asks for it once more."""
    environment = {**os.environ, "PIVREL_PARENT": "1" if os.getpid() != 1 else "2"}
    for module in (["pivrel.jobs.worker"], ["pivrel.materials.limited_worker", "convert"]):
        done = subprocess.run(
            [sys.executable, "-m", *module],
            stdin=subprocess.PIPE,
            env=environment,
            timeout=60,
            capture_output=True,
        )
        assert done.returncode == 1 and done.stdout == b"", module
