"""Broken model files through a real server: each is a model or one sentence, takes little, and ends nothing but its reader."""

import json
import os
import time
from pathlib import Path
from urllib.error import HTTPError

import pytest

from tests.formats import handmade
from tests.formats.hostile import broken
from tests.formats.test_hostile import FORMATS
from tests.lengths import FULL, at_length
from tests.serving import WAIT_S, Server, free_port
from tests.web.test_spare import soon, workers

MUTANTS, BY_HAND = at_length(18, 600), at_length(24, len(handmade.every()))
MOST_CPU_S, MEMORY_MB = 15.0, 3000


def cases():
    """Mutants of each format in turn, and files written by hand, evenly spread over all of those."""
    out = []
    for at in range(MUTANTS):
        name = FORMATS[at % len(FORMATS)]
        out.append((f"mutant {at} of {name}", {name.replace("text", "a"): broken(name, 1000 + at)}))
    every = handmade.every()
    return out + [every[at * len(every) // BY_HAND] for at in range(BY_HAND)]


class Inside:
    """An application of this process in the place of a server: its jobs are born, and not begun from nothing."""

    def __init__(self, client, upload):
        self._client, self._upload = client, upload

    def upload(self, path, files):
        return self._upload(path, files).json

    def ask(self, method, path):
        return self._client.open(path, method=method).json


@pytest.fixture
def asked(tmp_path, monkeypatch, client, upload):
    """What is asked: a real server in `make soak`, whose processes each take seconds to begin."""
    monkeypatch.setenv("PIVREL_MEMORY_MB", str(MEMORY_MB))
    if not FULL:
        yield Inside(client, upload)
        return
    server = Server(tmp_path / "served", free_port())
    yield server
    server.kill()


def processor_s(asked):
    """Seconds that the processes of a server took which have ended (proc(5): cutime, cstime)."""
    if isinstance(asked, Inside):
        return 0.0
    fields = Path(f"/proc/{asked.process.pid}/stat").read_text().rpartition(")")[2].split()
    return sum(map(int, fields[13:15])) / os.sysconf("SC_CLK_TCK")


def ended(server, number):
    """The state of an import once it is over."""
    until = time.monotonic() + WAIT_S
    while time.monotonic() < until:
        state = server.ask("GET", f"/api/imports/{number}")
        if state["state"] != "working":
            return state
        time.sleep(0.02)
    raise AssertionError("it never ended")


def come_of(server, files):
    """The state of an import of files once it is over; one of nothing that could be a model is refused at once."""
    try:
        begun = server.upload("/api/imports", files)
    except HTTPError as refused:
        assert refused.code == 422
        begun = json.loads(refused.read())
    if "id" not in begun:
        return {"state": "failed", **begun}
    state = ended(server, begun["id"])
    server.ask("DELETE", f"/api/imports/{begun['id']}")
    return state


@pytest.mark.slow
@pytest.mark.timeout(at_length(900, 4 * 3600))
def test_each_is_a_model_or_one_sentence(asked):
    came: dict[str, int] = {}
    for what, files in cases():
        before = processor_s(asked)
        state = come_of(asked, files)
        came[state["state"]] = came.get(state["state"], 0) + 1
        said = state.get("error") or ""
        if state["state"] == "failed":
            assert said and "\n" not in said and "Traceback" not in said, (what, said)
            assert "has taken" not in said, (what, said)
        else:
            assert state["state"] == "ready" and state["faces"] > 0, (what, state)
        assert processor_s(asked) - before < MOST_CPU_S, what
    assert came["failed"] > len(cases()) / 3 and came["ready"] > 3, came
    assert asked.ask("GET", "/api/projects") == []


def test_a_file_that_ends_its_reader_is_told_so(tmp_path):
    """What brings a CAD library down depends on the memory of its process; here it is ended from outside."""
    server = Server(tmp_path / "data", free_port())
    try:
        soon(lambda: workers(server))
        large = b"".join(b"v %d %d 0\n" % (k % 400, k // 400) for k in range(160_000))
        large += b"".join(b"f %d %d %d\n" % (k, k + 1, k + 400) for k in range(1, 159_000))
        number = server.upload("/api/imports", {"a.obj": large})["id"]
        reading = soon(
            lambda: (
                (state := server.ask("GET", f"/api/imports/{number}"))["doing"] == "reading the file"
                and state
            )
        )
        assert reading["state"] == "working"
        for pid in workers(server):
            os.kill(pid, 9)
        state = ended(server, number)
        assert state["state"] == "failed" and "stopped its reader; export it anew" in state["error"]
    finally:
        server.kill()
