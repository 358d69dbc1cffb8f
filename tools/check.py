"""For daily work, in under two minutes: lint, types, and the tests of what differs from the newest commit that landed.

Of all tests that reach what differs through their imports, the nearest run first, until their known processor time
fills the time there is; which files are left to `make test` is said. `PIVREL_BASE` names another commit to compare with.
"""

from __future__ import annotations

import ast
import json
import os
import subprocess
import sys
from collections import defaultdict
from collections.abc import Iterable
from functools import cache
from pathlib import Path

from tools.parts import COMPONENTS, FRONTEND, LINT, ROOT, SHARED, Done, Part, run, side_by_side

BUDGET_S = 100.0
"""Processor seconds of tests: what two processors do in less than a minute."""

UNKNOWN_S = 3.0
"""What a file of tests is taken for that has not run here yet."""

SECONDS = ROOT / ".pytest_cache" / "v" / "pivrel" / "seconds"


def git(*words: str) -> str:
    """What git says; nothing where it cannot."""
    return subprocess.run(["git", *words], cwd=ROOT, capture_output=True, text=True).stdout.strip()


def landed() -> str:
    """The newest commit that landed: where this branch left what it follows; or the newest commit."""
    for name in (os.environ.get("PIVREL_BASE"), "@{upstream}", "origin/main"):
        if name and (base := git("merge-base", "HEAD", name)):
            return base
    return "HEAD"


def changed() -> set[Path]:
    """The files that differ from what landed, new ones with them."""
    names = git("diff", "--name-only", landed()).splitlines()
    names += git("ls-files", "--others", "--exclude-standard").splitlines()
    return {ROOT / name for name in names}


def modules() -> dict[str, Path]:
    """Every module by its dotted name."""
    found = {}
    for base, below in ((ROOT / "src", "pivrel"), (ROOT, "tests"), (ROOT, "benchmarks"), (ROOT, "tools")):
        for path in (base / below).rglob("*.py"):
            name = ".".join(path.relative_to(base).with_suffix("").parts).removesuffix(".__init__")
            found[name] = path
    return found


def importers(found: dict[str, Path]) -> dict[Path, set[Path]]:
    """The files that import each file."""
    out: dict[Path, set[Path]] = defaultdict(set)
    for path in found.values():
        for node in ast.walk(ast.parse(path.read_text())):
            names: list[str] = []
            if isinstance(node, ast.Import):
                names = [alias.name for alias in node.names]
            elif isinstance(node, ast.ImportFrom) and node.module:
                names = [node.module, *(f"{node.module}.{alias.name}" for alias in node.names)]
            for name in names:
                if name in found:
                    out[found[name]].add(path)
    return out


def distances(starts: Iterable[Path], edges: dict[Path, set[Path]]) -> dict[Path, int]:
    """How many imports lie between each file and what changed."""
    far = dict.fromkeys(starts, 0)
    front = list(far)
    while front:
        after = []
        for path in front:
            for other in edges.get(path, ()):
                if other not in far:
                    far[other] = far[path] + 1
                    after.append(other)
        front = after
    return far


@cache
def known_seconds() -> dict[str, float]:
    """The processor seconds of the tests that have run here, by their addresses."""
    return json.loads(SECONDS.read_text()) if SECONDS.is_file() else {}


def cost(path: Path) -> float:
    """The known processor seconds of a file of tests."""
    own = [s for test, s in known_seconds().items() if test.split("::")[0] == str(path.relative_to(ROOT))]
    return sum(own) if own else UNKNOWN_S


def chosen(differing: set[Path]) -> tuple[list[Path], list[Path]]:
    """The files of tests that run, and those that would be too many."""
    far = distances({path for path in differing if path.suffix == ".py"}, importers(modules()))
    tests = [path for path in far if path.name.startswith("test_") and path.is_file()]
    # The page's own tests need a browser, so they run here where they are what was changed.
    near = [path for path in tests if path in differing or "browser" not in path.parts]
    now: list[Path] = []
    left, budget = [path for path in tests if path not in near], BUDGET_S
    for path in sorted(near, key=lambda path: (far[path], cost(path))):
        needs = cost(path)
        (now if needs <= budget or path in differing else left).append(path)
        budget -= needs if path in now else 0
    return now, left


def main() -> int:
    """0 where what was looked at is in order."""
    differing = changed()
    done: list[Done] = side_by_side(LINT)
    if any(FRONTEND in path.parents for path in differing):
        related = ["npx", "vitest", "run", "--changed", landed(), "--passWithNoTests"]
        done.append(run(Part("component tests of what differs", related, COMPONENTS.folder)))
    now, left = chosen(differing)
    if now:
        files = [str(path.relative_to(ROOT)) for path in sorted(now)]
        command = [
            "python",
            "-m",
            "pytest",
            "-n",
            "2",
            "--dist",
            "worksteal",
            "-m",
            "not soak and not slow",
            *files,
        ]
        done.append(run(Part(f"tests of {len(now)} files", command, shown=True, environment=SHARED)))
    else:
        print("        no test reaches what differs")
    if left:
        print(f"        left to 'make test': {', '.join(sorted(path.name for path in left))}")
    return int(any(part.code for part in done))


if __name__ == "__main__":
    sys.exit(main())
