"""What a server holds does not grow with what it was asked: hostile requests for an hour."""

import json
import subprocess
import sys
import time
from statistics import mean

import pytest

from tests.lengths import FULL, at_length
from tests.serving import ROOT, Server, free_port
from tests.web.attacked import attacked

SECONDS = at_length(10, 3600)
EVERY_S = 5.0
GROWTH = 1.1
"""By how much a server may grow over the second half of the time."""


@pytest.fixture
def attackers_server(tmp_path, filled):
    """A server over the projects that are attacked, with their numbers."""
    app, _, ids = attacked(tmp_path / "data", filled)
    app.extensions["pivrel"].database.close()
    server = Server(tmp_path / "data", free_port())
    yield server, ids
    server.kill()


@pytest.mark.slow
@pytest.mark.timeout(2 * SECONDS + 600)
def test_hostile_requests_for_an_hour_leave_a_server_as_large_as_half_an_hour_did(attackers_server):
    server, ids = attackers_server
    attackers = [sys.executable, "-m", "tests.web.hostile_run", server.address, str(SECONDS), "1"]
    attack = subprocess.Popen([*attackers, *map(str, ids)], cwd=ROOT, stdout=subprocess.PIPE, text=True)
    begun, held = time.monotonic(), []
    while attack.poll() is None:
        held.append((time.monotonic() - begun, server.memory() / 2**20))
        if FULL:
            print(f"{held[-1][0]:5.0f} s {held[-1][1]:6.0f} MB", flush=True)
        time.sleep(EVERY_S)
    assert attack.stdout
    told = json.loads(attack.stdout.read())
    print(told["sent"], "requests")
    assert told["sent"] and told["faults"] == []
    if FULL:
        assert around(held, SECONDS) < GROWTH * around(held, SECONDS / 2)


def around(held, seconds):
    """MB that were held in the five minutes before some time."""
    return mean(megabytes for at, megabytes in held if seconds - 300 < at <= seconds)
