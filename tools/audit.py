"""Known flaws of what is pinned: `python -m tools.audit` asks the databases that pip-audit and npm ask.

Where none answers, it says so, and that nothing is known thereby. pip-audit has an environment of its own, for it brings
much that is of no other use.
"""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path

from tools.parts import FRONTEND, ROOT

ENVIRONMENT = ROOT / ".venv" / "audit"
AUDITOR = "pip-audit==2.10.0"
LONGEST_S = 240


def asked(command: Sequence[str | Path], folder: Path = ROOT) -> subprocess.CompletedProcess[str]:
    """A command to its end; one that takes too long has no answer."""
    try:
        return subprocess.run(command, cwd=folder, capture_output=True, text=True, timeout=LONGEST_S)
    except subprocess.TimeoutExpired:
        return subprocess.CompletedProcess(command, 1, "", f"no answer within {LONGEST_S} s")


def of_python() -> list[str] | None:
    """The known flaws of Python's packages in lines; None where nobody answers."""
    if not (ENVIRONMENT / "bin" / "pip-audit").is_file():
        asked([sys.executable, "-m", "venv", ENVIRONMENT])
        asked([ENVIRONMENT / "bin" / "pip", "install", "--quiet", "--disable-pip-version-check", AUDITOR])
    command: list[str | Path] = [
        ENVIRONMENT / "bin" / "pip-audit",
        "--no-deps",
        "--disable-pip",
        "--format",
        "json",
    ]
    done = asked([*command, "-r", "requirements.txt"])
    try:
        packages = json.loads(done.stdout)["dependencies"]
    except (json.JSONDecodeError, KeyError, TypeError):
        return None
    if not any("vulns" in one for one in packages):
        # Each of them was left out, for nobody has heard of it there.
        return None
    unknown = [one["name"] for one in packages if "vulns" not in one]
    if unknown:
        print(f"Python: the database knows nothing of {', '.join(unknown)}")
    return [
        f"{one['name']} {one['version']}: {flaw['id']}, mended in {', '.join(flaw['fix_versions']) or 'no version'}"
        for one in packages
        for flaw in one.get("vulns", ())
    ]


def of_npm() -> list[str] | None:
    """The known flaws of the page's packages in lines; None where nobody answers."""
    done = asked(["npm", "audit", "--omit=dev", "--json"], FRONTEND)
    try:
        found = json.loads(done.stdout)["vulnerabilities"]
    except (json.JSONDecodeError, KeyError, TypeError):
        return None
    return [f"{name} {one['range']}: {one['severity']}" for name, one in found.items()]


def main() -> int:
    """Tells what is known; 1 where that is a flaw."""
    known = 0
    for what, flaws in (("Python", of_python()), ("the page", of_npm())):
        if flaws is None:
            print(f"{what}: no database of known flaws answers here, so nothing is known of its packages")
            continue
        print(f"{what}: {len(flaws) or 'no'} known flaws")
        for flaw in flaws:
            print(f"  {flaw}")
        known += len(flaws)
    return 1 if known else 0


if __name__ == "__main__":
    sys.exit(main())
