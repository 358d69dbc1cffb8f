"""Sets Pivrel up, and says what it is doing: `python3 tools/set_up.py` for use, `--tests` for tests and checks too.

The virtual environment, the page's packages, the page and the compiled kernels are each made where what they are made
from has changed. Python's side and the page's side go on at the same time.
"""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

try:
    from tools.made_from import digest, files_below, is_made_from
except ModuleNotFoundError:
    sys.path.insert(0, str(Path(__file__).parents[1]))
    from tools.made_from import digest, files_below, is_made_from

ROOT = Path(__file__).parents[1]
VENV = ROOT / ".venv"
PYTHON = VENV / "bin" / "python"
FRONTEND = ROOT / "frontend"
PAGE = ROOT / "src" / "pivrel" / "web" / "static"
STAMP = "made-from.txt"
BEGUN = time.monotonic()

PIP = ("-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--no-deps", "--no-compile")
"""Every version is pinned, so there is nothing to resolve; what is imported is compiled when it is."""


def say(part: str, words: str) -> None:
    """A line of what is being done, with the seconds since the start."""
    print(f"{time.monotonic() - BEGUN:5.0f} s  {part:8} {words}", flush=True)


def run(part: str, words: str, command: Sequence[str | Path], folder: Path = ROOT) -> None:
    """Runs a command that prints only what goes wrong; SystemExit with its words where it fails."""
    say(part, words)
    done = subprocess.run(
        command,
        cwd=folder,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
    )
    if done.returncode:
        raise SystemExit(f"{done.stdout}\nset-up: {part}: {words} did not work")


def make(part: str, stamp: Path, key: str, doing: Callable[[], None]) -> None:
    """Does what makes something, where it was not made from this already."""
    if is_made_from(stamp, key):
        return
    stamp.unlink(missing_ok=True)
    doing()
    stamp.parent.mkdir(parents=True, exist_ok=True)
    stamp.write_text(key + "\n")


def python_packages() -> None:
    """The virtual environment with what the application needs."""
    needed = [ROOT / "requirements.txt", ROOT / "pyproject.toml"]

    def install() -> None:
        run("python", "making the virtual environment", [sys.executable, "-m", "venv", VENV])
        run("python", "installing what is pinned", [PYTHON, *PIP, "-r", "requirements.txt"])
        run("python", "installing Pivrel itself", [PYTHON, *PIP, "-e", "."])

    make("python", VENV / "stamps" / "python", digest(ROOT, needed, sys.version), install)


def test_packages() -> None:
    """What tests and checks need beside it."""
    needed = [ROOT / "requirements.txt", ROOT / "requirements-dev.txt"]
    key = digest(ROOT, needed, sys.version)
    command: list[str | Path] = [PYTHON, *PIP, "-r", "requirements-dev.txt"]
    make("tests", VENV / "stamps" / "tests", key, lambda: run("tests", "installing what tests need", command))


def kernels() -> None:
    """Compiles the kernels, so that the first model opens as fast as the second."""
    stamps, example = VENV / "stamps", ROOT / "docs" / "example"
    key = digest(ROOT, files_below(ROOT / "src" / "pivrel", example), sys.version)

    def warm() -> None:
        every: list[str | Path] = [
            "apply",
            example / "every.json",
            example / "wall.obj",
            "-o",
            stamps / "wall.glb",
        ]
        run("kernels", "compiling those that are not yet", [PYTHON, "-m", "pivrel.cli.warming", *every])

    make("kernels", stamps / "kernels", key, warm)


def page_key() -> str:
    """What the built page is made from."""
    names = ("index.html", "vite.config.ts", "package.json", "package-lock.json", "tsconfig.json")
    sources = files_below(FRONTEND / "src", FRONTEND / "public", *(FRONTEND / name for name in names))
    return digest(ROOT, (path for path in sources if ".test." not in path.name))


def page() -> None:
    """The page's packages, and the page."""
    packages = FRONTEND / "node_modules"
    locked = digest(ROOT, [FRONTEND / "package-lock.json"])
    install = ["npm", "ci", "--no-audit", "--no-fund", "--loglevel=error"]
    make("page", packages / STAMP, locked, lambda: run("page", "installing its packages", install, FRONTEND))
    build = ["npm", "run", "--silent", "build"]
    make("page", PAGE / STAMP, page_key(), lambda: run("page", "building it", build, FRONTEND))


def main() -> None:
    """Sets up; what was made already takes no time."""
    with ThreadPoolExecutor() as pool:
        beside = pool.submit(page)
        python_packages()
        more = [pool.submit(kernels)] + ([pool.submit(test_packages)] if "--tests" in sys.argv else [])
        for done in (*more, beside):
            done.result()
    say("set-up", "done")


if __name__ == "__main__":
    main()
