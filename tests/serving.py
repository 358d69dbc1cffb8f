"""A real server over a data folder, as `pivrel serve` runs it."""

from __future__ import annotations

import json
import os
import re
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from urllib3 import encode_multipart_formdata

ROOT = Path(__file__).parents[1]
WAIT_S = float(os.environ.get("PIVREL_WAIT_S", "240"))
"""How fast the machine is today must not decide a test; whoever works on one can wait for less."""


def free_port() -> int:
    """A port that nobody uses just now."""
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return int(found.getsockname()[1])


BORN = [sys.executable, "-c", "from tests.serve_born import serve; serve()"]
"""The command whose jobs are born."""


class Server:
    """Started on use; `kill` is SIGKILL, in the middle of whatever it does.

    program: the installed command, or one that stands for it.
    """

    def __init__(self, data: Path, port: int, program: Sequence[str] = ()) -> None:
        self.data, self.port = data, port
        self.program = program or (str(Path(sys.executable).parent / "pivrel"),)
        self.start()

    def start(self) -> None:
        command = [
            *self.program,
            "serve",
            "--empty",
            "--data",
            str(self.data),
            "--port",
            str(self.port),
        ]
        self.process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True, cwd=ROOT)
        assert self.process.stdout
        self.said: list[str] = []
        found = None
        while found is None:
            line = self.process.stdout.readline()
            assert line, f"the server ended after {self.said}"
            self.said.append(line)
            found = re.search(r"http://\S+", line)
        self.address = found.group().rstrip("/")
        for _ in range(100):
            try:
                self.ask("GET", "/api/projects")
                return
            except OSError:
                time.sleep(0.1)

    def kill(self) -> None:
        self.process.kill()
        self.process.wait()

    def memory(self, what: str = "VmRSS") -> int:
        """Bytes that the server's own process holds now, or has held at most ("VmHWM")."""
        found = re.search(rf"{what}:\s+(\d+) kB", Path(f"/proc/{self.process.pid}/status").read_text())
        assert found
        return int(found.group(1)) << 10

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        answer = self.bytes(method, path, body)
        return json.loads(answer) if answer else None

    def upload(self, path: str, files: dict[str, bytes]) -> Any:
        """Posts files as a page does."""
        body, kind = encode_multipart_formdata(
            [("files", (name, data, "application/octet-stream")) for name, data in files.items()]
        )
        request = urllib.request.Request(self.address + path, body, {"Content-Type": kind}, method="POST")
        with urllib.request.urlopen(request, timeout=600) as answer:
            return json.loads(answer.read())

    def bytes(self, method: str, path: str, body: Any = None) -> bytes:
        data = json.dumps(body).encode() if body is not None else None
        headers = {"Content-Type": "application/json"}
        request = urllib.request.Request(self.address + path, data, headers, method=method)
        with urllib.request.urlopen(request, timeout=600) as answer:
            return bytes(answer.read())
