"""Commands run in parts, some side by side: each says when it is done and how long it took; what fails is shown whole."""

from __future__ import annotations

import os
import subprocess
import time
from collections.abc import Iterable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path

ROOT = Path(__file__).parents[1]
BIN = ROOT / ".venv" / "bin"
FRONTEND = ROOT / "frontend"
TYPES = "frontend/src/api/wire.gen.ts"


@dataclass(frozen=True)
class Part:
    """A command with a name. shown: what it prints is shown as it comes, and not only where it fails."""

    name: str
    command: Sequence[str | Path]
    folder: Path = ROOT
    shown: bool = False
    environment: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Done:
    """How a part ended: its exit code, its seconds, and what it printed."""

    name: str
    code: int
    seconds: float
    said: str


def run(part: Part) -> Done:
    """Runs a part to its end."""
    begun = time.monotonic()
    pipe = None if part.shown else subprocess.PIPE
    ended = subprocess.run(
        [str(word) for word in part.command],
        cwd=part.folder,
        env={**os.environ, "PATH": f"{BIN}{os.pathsep}{os.environ['PATH']}", **part.environment},
        stdout=pipe,
        stderr=None if part.shown else subprocess.STDOUT,
        text=True,
    )
    done = Done(part.name, ended.returncode, time.monotonic() - begun, ended.stdout or "")
    if done.code and done.said:
        print(done.said, flush=True)
    print(f"{done.seconds:5.0f} s  {done.name}{'' if not done.code else ': FAILED'}", flush=True)
    return done


def side_by_side(parts: Iterable[Part], width: int = 2) -> list[Done]:
    """Runs parts, as many at a time as there are processors to use."""
    with ThreadPoolExecutor(width) as pool:
        return list(pool.map(run, parts))


SHARED = {"OMP_WAIT_POLICY": "PASSIVE", "OPENBLAS_NUM_THREADS": "1"}
"""Where several processes of tests share two processors, threads that wait for work must not turn in circles for it."""

LINT = (
    Part("mypy", ["mypy"]),
    Part("oxlint, with types", ["npm", "run", "--silent", "lint:rules"], FRONTEND),
    Part("tsc", ["npm", "run", "--silent", "lint:types"], FRONTEND),
    Part("oxfmt", ["npm", "run", "--silent", "lint:format"], FRONTEND),
    Part("ruff", ["ruff", "check", "."]),
    Part("ruff format", ["ruff", "format", "--check", "."]),
    Part(
        "wire's types are fresh ('make types')",
        ["bash", "-c", f"python -m pivrel.web.wire.schema | (cd frontend && node types.mjs) | diff -q - {TYPES}"],
    ),
)  # fmt: skip
"""What is wrong without running anything; the longest first."""

COMPONENTS = Part("component tests", ["npm", "run", "--silent", "test"], FRONTEND)
"""The page's own tests, without a browser."""
