"""Processes of jobs that are born with their modules loaded, for applications that a test asks in its own process, and for
the server of the page's tests (`serve_born`).

A job is a process of its own, as ever. Only its birth differs: Python's fork server has loaded what all jobs need, and
gives each of them a copy. That takes a tenth of a second instead of two. Tests of how a process is begun, and of kills
and starts of a server, have the application's own.
"""

from __future__ import annotations

import json
import multiprocessing
import os
import sys
import threading
from multiprocessing import connection
from multiprocessing.reduction import DupFd
from pathlib import Path

from pivrel.jobs.spare import started as begun

FORK_SERVER = multiprocessing.get_context("forkserver")
FORK_SERVER.set_forkserver_preload(["tests.born_ready"])


class End:
    """The end of a pipe, on its way to a process that is being born, where it is a file descriptor."""

    def __init__(self, number):
        self.number = number

    def __reduce__(self):
        return detached, (DupFd(self.number),)


def detached(end):
    return end.detach()


def born(given, told, folder, environment):
    """What a newborn process does: the pipes become its input and output, and it is a worker from then on."""
    from pivrel.jobs import worker

    os.dup2(given, 0)
    os.dup2(told, 1)
    os.environ.clear()
    os.environ.update(environment)
    sys.argv = ["worker", folder]
    worker.main()


def started(folder):
    """A process for the job of a folder. A bake computes in several threads, which what was born here cannot."""
    kind = json.loads((Path(folder) / "request.json").read_text())["kind"]
    return begun(folder) if kind == "bake" else Born(folder)


class Born:
    """A process, as the application handles one that it has begun (`subprocess.Popen`)."""

    def __init__(self, folder):
        given, to_it = os.pipe()
        from_it, told = os.pipe()
        self._process = FORK_SERVER.Process(
            target=born, args=(End(given), End(told), folder, dict(os.environ)), daemon=True
        )
        self._process.start()
        os.close(given)
        os.close(told)
        self.stdin, self.stdout = os.fdopen(to_it, "w"), os.fdopen(from_it)
        self.pid = self._process.pid
        self._one_at_a_time = threading.Lock()

    def poll(self):
        # Its exit code can be read once, and several threads ask for it.
        with self._one_at_a_time:
            return self._process.exitcode

    def wait(self):
        connection.wait([self._process.sentinel])
        return self.poll()

    def kill(self):
        self._process.kill()
