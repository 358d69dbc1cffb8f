"""The pinned versions, made from the ranges of `pyproject.toml`: `python -m tools.pins`.

What is pinned and still fits stays as it is. `--newest` takes the newest of everything; `--told` writes nothing and says
what that would change.
"""

from __future__ import annotations

import json
import re
import subprocess
import sys
import tomllib
from pathlib import Path

from tools.parts import ROOT

USE, DEV = ROOT / "requirements.txt", ROOT / "requirements-dev.txt"
HEADS = {
    USE: "# What the application needs, pinned; versions as resolved for Python 3.11 by 'make pins'.\n",
    DEV: "# What the tests and checks need beside it.\n-r requirements.txt\n",
}


def stated() -> tuple[list[str], list[str]]:
    """What `pyproject.toml` asks for: for use with every extra, and for tests and checks."""
    project = tomllib.loads((ROOT / "pyproject.toml").read_text())
    extras = project["project"]["optional-dependencies"].values()
    use = [*project["project"]["dependencies"], *(one for extra in extras for one in extra)]
    return use, project["dependency-groups"]["dev"]


def plain(name: str) -> str:
    """A package's name as all its spellings come to (PyPA, "Names and normalization")."""
    return re.sub(r"[-_.]+", "-", name).lower()


def pinned(file: Path) -> dict[str, str]:
    """The lines of a list of pins by the package's plain name."""
    lines = file.read_text().splitlines() if file.is_file() else []
    return {plain(line.split("==")[0]): line for line in lines if "==" in line}


def pip(*words: str | Path) -> str:
    """What pip prints; SystemExit with its words where it does not work."""
    command = [sys.executable, "-m", "pip", words[0], "--quiet", "--disable-pip-version-check", *words[1:]]
    done = subprocess.run(command, capture_output=True, text=True)
    if done.returncode:
        raise SystemExit(done.stderr)
    return done.stdout


def resolved(wanted: list[str], kept: dict[str, str]) -> dict[str, str]:
    """All that these ask for, with what that asks for in turn, as lines by plain name; of what is kept, that version."""
    constraints = ROOT / ".venv" / "kept-versions.txt"
    constraints.write_text("\n".join(kept.values()))
    report = pip("install", "--dry-run", "--ignore-installed", "--report", "-", "-c", constraints, *wanted)
    found = (one["metadata"] for one in json.loads(report)["install"])
    return {plain(one["name"]): f"{one['name']}=={one['version']}" for one in found}


def main() -> None:
    """Writes both lists, or tells what is newer."""
    use, dev = stated()
    known = pinned(USE) | pinned(DEV)
    newest = {"--newest", "--told"} & set(sys.argv)
    kept = {} if newest else known
    of_use = resolved(use, kept)
    of_all = resolved([*use, *dev], kept | of_use)
    found = {USE: of_use, DEV: {name: line for name, line in of_all.items() if name not in of_use}}
    for name, line in sorted(of_all.items()):
        if known.get(name) != line:
            print(f"{known.get(name, f'{name}: not there yet')} -> {line}")
    for name in sorted(known.keys() - of_all.keys()):
        print(f"{known[name]} -> not needed")
    if "--told" in sys.argv:
        return
    for file, lines in found.items():
        file.write_text(HEADS[file] + "\n".join(lines[name] for name in sorted(lines)) + "\n")


if __name__ == "__main__":
    main()
