"""The process that stands ready for the next import: taken, replaced, missed, and gone with its server."""

import contextlib
import json
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from pivrel.jobs import process
from pivrel.jobs.model_import import ModelFile, ModelImport
from pivrel.web.app import STATIC
from tests.serving import WAIT_S, Server, free_port
from tests.shapes import cuboid
from tests.web.test_imports import obj_of

pytestmark = pytest.mark.skipif(not (STATIC / "index.html").is_file(), reason="the front end is not built")


@pytest.fixture
def server(tmp_path):
    served = Server(tmp_path / "data", free_port())
    yield served
    served.kill()


def workers(server):
    """The processes of jobs that a server has started, by their number."""
    found = set()
    for status in Path("/proc").glob("[0-9]*/status"):
        with contextlib.suppress(OSError):
            lines = dict(line.split(":\t", 1) for line in status.read_text().splitlines() if ":\t" in line)
            asked = (status.parent / "cmdline").read_bytes()
            if lines["PPid"] == str(server.process.pid) and b"pivrel.jobs.worker" in asked:
                found.add(int(status.parent.name))
    return found


def alive(number):
    """Whether a thread of a process runs: what has ended is listed until somebody asks how, its last thread before it."""
    process = Path(f"/proc/{number}")
    try:
        return (
            len(list((process / "task").iterdir())) > 1
            or "\nState:\tZ" not in (process / "status").read_text()
        )
    except OSError:
        return False


def soon(condition):
    """What a condition gives as soon as it is true; processes that stand ready step back behind all others."""
    until = time.monotonic() + WAIT_S
    while time.monotonic() < until:
        found = condition()
        if found:
            return found
        time.sleep(0.05)
    raise AssertionError("it never came to be")


def imported(server):
    """The end of an import of a cube."""
    number = server.upload("/api/imports", {"cube.obj": obj_of(cuboid())})["id"]
    path = f"/api/imports/{number}?unit=mm&up=z"
    return soon(lambda: (state := server.ask("GET", path))["state"] != "working" and state)


def test_one_stands_ready_is_replaced_when_taken_or_dead_and_ends_with_its_server(server):
    (first,) = soon(lambda: workers(server))
    assert imported(server)["faces"] == 6
    (second,) = soon(lambda: len(now := workers(server)) == 1 and now - {first})
    os.kill(second, signal.SIGKILL)
    soon(lambda: not alive(second))
    state = imported(server)
    assert state["state"] == "ready", f"one that has died is not missed: {state}"
    (ready,) = soon(lambda: len(now := workers(server)) == 1 and now - {first, second})
    server.kill()
    soon(lambda: not alive(ready))


def test_one_that_dies_as_it_is_taken_is_not_missed(monkeypatch):
    """Some thirty milliseconds before an import its process could be killed, and the import failed."""

    def dying(folder):
        return subprocess.Popen(
            [sys.executable, "-c", ""], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
        )

    monkeypatch.setattr(process.__dict__["SPARE"], "take", dying)
    job = ModelImport(ModelFile("cube.obj"), {"cube.obj": obj_of(cuboid())})
    job.wait()
    assert (job.state, job.error) == ("ready", "")
    job.stop()


def test_a_job_says_that_something_is_compiled_first(tmp_path):
    """As it stands ready already, so that whoever takes it is told at once."""
    (tmp_path / "kernels").mkdir()
    worker = subprocess.Popen(
        [sys.executable, "-m", "pivrel.jobs.worker"],
        stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True,
        env=os.environ | {"PIVREL_KERNELS": str(tmp_path / "kernels"), "PIVREL_PARENT": str(os.getpid())},
    )  # fmt: skip
    try:
        said = json.loads(worker.stdout.readline())
        assert said == {"doing": "compiling what is used for the first time on this machine", "share": 0.0}
    finally:
        worker.kill()
        worker.wait()
