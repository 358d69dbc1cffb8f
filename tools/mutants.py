"""A mutation run: faults drawn by a seed, each put into a copy and met by the tests that reach its line.

    python -m tools.mutants              # measures what reaches what, then goes on where it was
    python -m tools.mutants again        # forgets what was found for faults that stayed alive

The faults that were drawn, and what came out of each, are kept in `.mutants/`, so that a run goes on while tests are written
and lines move; the table stands in `docs/soak.md`. A fault that changes nothing that anybody could see is named, with the
reason, in `tools/equivalent.json`.
"""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from dataclasses import astuple
from datetime import date
from functools import cache
from pathlib import Path
from queue import SimpleQueue
from typing import Any

from coverage import CoverageData

from tools.check import known_seconds
from tools.mutations import Fault, drawn
from tools.parts import BIN, ROOT, SHARED
from tools.reaching import Reaching
from tools.report import put

SEED = 33
COUNTS = {"core": 55, "recipe": 30, "project": 32, "store": 33}
LONGEST_S = 120
FOLDER = ROOT / ".mutants"
STATE, COVERED, DRAWN = FOLDER / "found.json", FOLDER / "covered", FOLDER / "drawn.json"
EQUIVALENT = ROOT / "tools" / "equivalent.json"
COPIED = ("src", "tests", "benchmarks", "tools", "docs", "pyproject.toml", "Makefile", "README.md", "CONTRIBUTING.md",
          "requirements.txt", "requirements-dev.txt")  # fmt: skip
MEASURED = """
[run]
source_pkgs = pivrel
data_file = {data}
dynamic_context = test_function
concurrency = thread
"""


def measure() -> None:
    """Runs the tests once, one after the other in two processes, and keeps which of them reach which lines."""
    rc = FOLDER / "coveragerc"
    rc.write_text(MEASURED.format(data=COVERED))
    halves = [["tests/core", "tests/materials"], ["tests/cli", "tests/formats", "tests/store", "tests/web",
              *(str(p.relative_to(ROOT)) for p in sorted((ROOT / "tests").glob("test_*.py")))]]  # fmt: skip
    running = []
    for at, half in enumerate(halves):
        command: list[str | Path] = [
            BIN / "python",
            "-m",
            "coverage",
            "run",
            "-p",
            f"--rcfile={rc}",
            "-m",
            "pytest",
            "-m",
            "not soak",
            *half,
        ]
        with (FOLDER / f"measured-{at}.txt").open("w") as printed:
            running.append(subprocess.Popen(command, cwd=ROOT, stdout=printed))
    # A test that fails as it is would find every fault.
    codes = [process.wait() for process in running]
    if any(codes):
        raise SystemExit(f"tests fail as they are: {FOLDER}/measured-*.txt")
    subprocess.run([BIN / "python", "-m", "coverage", "combine", f"--rcfile={rc}"], cwd=FOLDER, check=True)


def node_of(context: str) -> str:
    """A test by its address, from the name that it was measured under."""
    module, _, function = context.rpartition(".")
    return f"{module.replace('.', '/')}.py::{function}"


@cache
def costs() -> dict[str, float]:
    """What each test is known to cost, all its cases together."""
    out: dict[str, float] = {}
    for node, seconds in known_seconds().items():
        test = node.split("[")[0]
        out[test] = out.get(test, 0.0) + max(seconds, 0.0)
    return out


def ordered(contexts: set[str], file: str) -> list[str]:
    """Tests of a file of code: those that bear its name first, then by what they are known to cost, the quickest first."""
    cost, own = costs(), f"/test_{Path(file).stem}.py::"
    nodes = {node_of(context) for context in contexts if context.startswith("tests.")}
    return sorted(nodes, key=lambda node: (own not in node, cost.get(node, 0.0), node))


def copy(number: int) -> Path:
    """A copy of the project for one of the runners."""
    folder = FOLDER / f"copy-{number}"
    shutil.rmtree(folder, ignore_errors=True)
    folder.mkdir(parents=True)
    for name in COPIED:
        place = ROOT / name
        if place.is_dir():
            shutil.copytree(place, folder / name, ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
        else:
            shutil.copy(place, folder / name)
    (folder / "frontend").symlink_to(ROOT / "frontend")
    return folder


def told(command: list[Any], folder: Path) -> tuple[int | None, str]:
    """The exit code of a run of tests, None where it took too long, and what it printed; its processes end with it."""
    environment = {**os.environ, **SHARED, "PYTHONPATH": str(folder / "src")}
    with tempfile.TemporaryFile("w+") as printed:
        process = subprocess.Popen(
            command,
            cwd=folder,
            env=environment,
            stdout=printed,
            stderr=subprocess.STDOUT,
            start_new_session=True,
        )
        code: int | None = None
        with contextlib.suppress(subprocess.TimeoutExpired):
            code = process.wait(LONGEST_S)
        with contextlib.suppress(ProcessLookupError):
            os.killpg(process.pid, signal.SIGKILL)
        process.wait()
        printed.seek(0)
        return code, printed.read()


def outcome_of(code: int | None, said: str) -> str:
    """What a run of tests says of a fault.

    One that comes down, or cannot even begin, has found it; one that has no test to run, or is given the address of a test
    that is there no more, has not met it.
    """
    gone = any(line.startswith("ERROR: ") and "not found: " in line for line in said.splitlines())
    if gone or code == 5:
        return "error"
    return {None: "over time", 0: "alive"}.get(code, "found")


def equivalent() -> dict[str, str]:
    """Why each of some faults changes nothing that anybody could see, by its name."""
    out: dict[str, str] = json.loads(EQUIVALENT.read_text())
    return out


def faults_kept() -> list[Fault]:
    """The faults of this run, drawn at its beginning."""
    if not DRAWN.is_file():
        found = drawn(ROOT / "src" / "pivrel", COUNTS, SEED)
        DRAWN.write_text(json.dumps([astuple(fault) for fault in found], indent=1))
    return [Fault(*row) for row in json.loads(DRAWN.read_text())]


def met(folder: Path, fault: Fault, tests: list[str]) -> dict[str, Any]:
    """What comes of a fault: found by a test, alive, or not told within the time."""
    path = folder / "src" / "pivrel" / fault.file
    good = path.read_text()
    path.write_text(fault.put_into(good))
    # Python takes a module for changed by the time that its file bears, in whole seconds.
    os.utime(path, (fault.line, fault.line))
    begun = time.monotonic()
    command = [
        BIN / "python",
        "-m",
        "pytest",
        "-x",
        "-q",
        "--tb=line",
        "-p",
        "no:cacheprovider",
        "-m",
        "not soak",
        *tests,
    ]
    try:
        code, said = told(command, folder)
        outcome = outcome_of(code, said)
        if outcome == "over time" and sum(costs().get(test, LONGEST_S) for test in tests) < LONGEST_S / 10:
            outcome, said = "found", "ERROR the tests, which end soon without the fault, do not end with it"
        by = next((line for line in said.splitlines() if line.startswith(("FAILED", "ERROR"))), "")
    finally:
        path.write_text(good)
    return {
        "outcome": outcome,
        "by": by[:160],
        "tests": len(tests),
        "seconds": round(time.monotonic() - begun),
    }


def table(state: dict[str, Any], faults: list[Fault]) -> str:
    """The results as a page has them."""
    equal = equivalent()
    told = f"{date.today()}, seed {SEED}: {len(faults)} faults, each met by the tests that reach it, {LONGEST_S} s at most."
    outcomes = ("found", "over time", "equivalent", "rewritten", "alive")
    lines = [told, "", f"| package | faults | {' | '.join(outcomes)} |", "|---" * (len(outcomes) + 2) + "|"]
    total: Counter[str] = Counter()
    for package in COUNTS:
        own = [fault for fault in faults if fault.file.startswith(f"{package}/")]
        count = Counter("equivalent" if f.name in equal and state[f.name]["outcome"] != "found"
                        else state[f.name]["outcome"] for f in own)  # fmt: skip
        total += count
        row = (len(own), *(count[what] for what in outcomes))
        lines.append(f"| {package} | {' | '.join(map(str, row))} |")
    real = sum(total.values()) - total["equivalent"] - total["rewritten"]
    lines += [
        "",
        f"Of the {real} that are not equivalent, in lines that are there still, "
        f"{100 * total['found'] / max(real, 1):.1f} % are found.",
        "",
    ]
    for fault in faults:
        if state[fault.name]["outcome"] != "found":
            why = equal.get(fault.name, state[fault.name]["outcome"])
            lines.append(f"- `{fault.name}`: {why}")
    return "\n".join(lines)


def main() -> int:
    """0 where every fault was met."""
    FOLDER.mkdir(exist_ok=True)
    if not COVERED.is_file():
        measure()
    data = CoverageData(str(COVERED))
    data.read()
    reaching = Reaching(ROOT / "src" / "pivrel", data)
    faults = faults_kept()
    state: dict[str, Any] = json.loads(STATE.read_text()) if STATE.is_file() else {}
    if "again" in sys.argv:
        equal = equivalent()
        state = {name: row for name, row in state.items() if row["outcome"] == "found" or name in equal}
    copies: SimpleQueue[Path] = SimpleQueue()
    for number in range(2):
        copies.put(copy(number))

    def meet(fault: Fault) -> None:
        if fault.name in state:
            return
        now = fault.within((ROOT / "src" / "pivrel" / fault.file).read_text())
        tests = ordered(reaching.of_line(now.file, now.line), now.file) if now else []
        folder = copies.get()
        try:
            found = (
                met(folder, now, tests)
                if now and tests
                else {"outcome": "alive" if now else "rewritten", "by": "", "tests": 0, "seconds": 0}
            )
        finally:
            copies.put(folder)
        state[fault.name] = found
        print(
            f"{found['outcome']:9} {found['seconds']:4} s {found['tests']:4} tests  {fault.name}", flush=True
        )
        STATE.write_text(json.dumps(dict(state), indent=1))

    with ThreadPoolExecutor(2) as pool:
        list(pool.map(meet, faults))
    put("mutants", table(state, faults))
    return 0


if __name__ == "__main__":
    sys.exit(main())
