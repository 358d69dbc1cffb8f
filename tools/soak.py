"""Every test at its full length, file by file: stopped and begun again, it goes on where it was.

What a file came to is kept in `.soak/` for as long as no code has changed; the last whole result stands in
`docs/soak.md`. Names of files after the command run those alone.
"""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
import time
from datetime import date
from typing import Any

from tools.made_from import digest, files_below
from tools.parts import BIN, ROOT, SHARED
from tools.report import put

STATE = ROOT / ".soak" / "parts.json"
ROUTES = ROOT / ".soak" / "routes.json"
"""Seconds of processor time that the dearest of the hostile requests to each route took, as its test writes them."""

COUNTS = re.compile(r"(\d+) (passed|failed|skipped|error)")


def code() -> str:
    """What the results hold for: all code, the page's and the tests'."""
    roots = (ROOT / "src" / "pivrel", ROOT / "tests", ROOT / "frontend" / "src", ROOT / "requirements.txt")
    return digest(ROOT, files_below(*roots))


def parts(wanted: list[str]) -> list[str]:
    """The files of tests, those named or all."""
    every = sorted(str(path.relative_to(ROOT)) for path in (ROOT / "tests").rglob("test_*.py"))
    return [name for name in every if not wanted or any(word in name for word in wanted)]


def known() -> dict[str, Any]:
    """What is known of this code, by file."""
    if STATE.is_file():
        state: dict[str, Any] = json.loads(STATE.read_text())
        if state["code"] == code():
            return state
    return {"code": code(), "parts": {}}


def run(name: str) -> dict[str, Any]:
    """One file at full length: how many passed and failed, and the seconds that it took."""
    begun = time.monotonic()
    done = subprocess.run(
        [BIN / "python", "-m", "pytest", "-p", "no:cacheprovider", "-m", "", "-v", "--tb=short", name],
        cwd=ROOT,
        env={**os.environ, "PIVREL_FULL": "1", **SHARED},
        capture_output=True,
        text=True,
    )
    counts = {what: int(number) for number, what in COUNTS.findall(done.stdout.splitlines()[-1])}
    if done.returncode:
        print(done.stdout[-6000:])
    return {"counts": counts, "seconds": round(time.monotonic() - begun), "code": done.returncode}


def table(state: dict[str, Any]) -> str:
    """The results as a page has them."""
    rows = state["parts"]
    total = {what: sum(row["counts"].get(what, 0) for row in rows.values()) for what in ("passed", "failed")}
    lines = [
        f"{date.today()}: {total['passed']} passed, {total['failed']} failed, in {len(rows)} files, "
        f"{sum(row['seconds'] for row in rows.values()) / 60:.0f} minutes one after the other.",
        "",
        "| file | passed | failed | s |",
        "|---|---|---|---|",
    ]
    for name, row in sorted(rows.items(), key=lambda pair: -pair[1]["seconds"])[:25]:
        passed, failed = row["counts"].get("passed", 0), row["counts"].get("failed", 0)
        lines.append(f"| {name} | {passed} | {failed} | {row['seconds']} |")
    return "\n".join([*lines, "", "The 25 that took longest; the others took less each."])


def routes(costs: dict[str, float]) -> str:
    """The same as a page has it, the dearest first."""
    rows = sorted(costs.items(), key=lambda pair: -pair[1])
    dear = [f"| {name} | {seconds:.2f} |" for name, seconds in rows if seconds >= 0.1]
    rest = len(rows) - len(dear)
    head = [
        f"{date.today()}: the dearest request to each of {len(rows)} routes.",
        "",
        "| route | processor s |",
        "|---|---|",
    ]
    return "\n".join([*head, *dear, "", f"The other {rest} took less than 0.1 s each."])


def main() -> int:
    """0 where every file passed."""
    wanted = parts(sys.argv[1:])
    state = known()
    for at, name in enumerate(wanted, 1):
        if state["parts"].get(name, {}).get("code") == 0:
            continue
        print(f"{at:3} of {len(wanted)}  {name}", flush=True)
        state["parts"][name] = run(name)
        print(f"             {state['parts'][name]}", flush=True)
        STATE.parent.mkdir(exist_ok=True)
        STATE.write_text(json.dumps(state, indent=1))
    if ROUTES.is_file():
        put("routes", routes(json.loads(ROUTES.read_text())))
    if set(parts([])) <= state["parts"].keys():
        put("soak", table(state))
    return int(any(state["parts"][name]["code"] for name in wanted))


if __name__ == "__main__":
    sys.exit(main())
