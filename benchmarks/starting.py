"""How long a command takes from its start, beside loading the libraries that any of its kind would load."""

from __future__ import annotations

import subprocess
import sys
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from tempfile import TemporaryDirectory

from benchmarks.timing import Result, compare

WALL = Path(__file__).parents[1] / "docs" / "example" / "wall.obj"
LIBRARIES = "import numpy, scipy.sparse"


def running(*words: str | Path) -> Callable[[], object]:
    """A process of Python from its start to its end."""
    return lambda: subprocess.run([sys.executable, *words], stdout=subprocess.DEVNULL, check=True)


def first_page() -> None:
    """A server from its start until its page is answered."""
    with TemporaryDirectory(prefix="pivrel-bench-", ignore_cleanup_errors=True) as folder:
        command = [sys.executable, "-m", "pivrel.cli", "serve", "--empty", "--port", "0", "--data", folder]
        server = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        try:
            assert server.stdout
            line = next(line for line in server.stdout if line.startswith("Pivrel is at"))
            with urllib.request.urlopen(line.split()[3]) as answer:
                answer.read()
        finally:
            server.kill()
            server.wait()


def starting() -> Iterator[Result]:
    """Goals as ratios: an answer to `inspect` within two and a half times of loading two libraries, help in less."""
    reference, theirs = LIBRARIES, running("-c", LIBRARIES)
    yield compare(
        "a small model inspected", "six faces, from the start", running("-m", "pivrel.cli", "inspect", WALL),
        reference, theirs, at_most=2.5,
    )  # fmt: skip
    yield compare(
        "--help", "from the start", running("-m", "pivrel.cli", "--help"), reference, theirs, at_most=0.4
    )
    yield compare("the server's first page", "from the start", first_page, reference, theirs, at_most=8)
