"""One file to install Pivrel from, with the page inside: `python -m tools.wheel` writes it into `dist/`.

It is built from a copy of what goes into it, so that nothing that an earlier build left lying about gets in.
"""

from __future__ import annotations

import shutil
from pathlib import Path
from tempfile import TemporaryDirectory

from tools.parts import ROOT
from tools.pins import pip

DIST = ROOT / "dist"
TAKEN = ("pyproject.toml", "README.md", "LICENSE", "docs/third-party.md", "src/pivrel")
PAGE = "src/pivrel/web/static/index.html"


def build(into: Path = DIST) -> Path:
    """Builds the wheel. SystemExit where the page is not built, or the build does not work."""
    if not (ROOT / PAGE).is_file():
        raise SystemExit("the page is not built; run 'make setup' first")
    with TemporaryDirectory(prefix="pivrel-wheel-") as folder:
        copy = Path(folder) / "copy"
        for name in TAKEN:
            _copied(ROOT / name, copy / name)
        made = Path(folder) / "made"
        pip("wheel", "--no-deps", "--wheel-dir", made, copy)
        wheel = next(made.glob("pivrel-*.whl"))
        into.mkdir(exist_ok=True)
        for older in into.glob("pivrel-*.whl"):
            older.unlink()
        return Path(shutil.copy(wheel, into))


def _copied(source: Path, target: Path) -> None:
    target.parent.mkdir(parents=True, exist_ok=True)
    if source.is_dir():
        # The page's stamp says what it was built from here.
        shutil.copytree(source, target, ignore=shutil.ignore_patterns("__pycache__", "made-from.txt"))
    else:
        shutil.copy(source, target)


if __name__ == "__main__":
    wheel = build()
    print(f"{wheel.relative_to(ROOT)}: {wheel.stat().st_size / 1e6:.1f} MB")
