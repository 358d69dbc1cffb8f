"""The rules that the house stands on: imports run one way, and the core does no input or output."""

import ast
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1] / "src" / "pivrel"
CORE_MAY = {"__future__", "collections", "dataclasses", "fnmatch", "functools", "hashlib", "math", "numba", "numpy", "re",
            "scipy", "typing", "abc", "itertools"}  # fmt: skip
LEVELS = {"core": 0, "materials": 1, "formats": 2, "recipe": 2, "store": 3, "edits": 4, "laid_project": 4,
          "memory": 0, "caching": 0, "computing": 0, "picture": 2, "importing": 4,
          "remembered": 4, "joinery": 5, "revision": 4, "project_looks": 5, "sources": 6, "placing_model": 5, "housekeeping": 5, "web": 7, "demo": 8, "cli": 9}  # fmt: skip


def imports(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found |= {f"{node.module}.{alias.name}" for alias in node.names}
    return found


@pytest.mark.parametrize("path", sorted((ROOT / "core").rglob("*.py")), ids=lambda p: p.stem)
def test_core_knows_only_numbers(path):
    for name in imports(path):
        assert name.split(".")[0] in CORE_MAY or name.startswith("pivrel.core"), name
    assert "open(" not in path.read_text()


@pytest.mark.parametrize("path", sorted(ROOT.rglob("*.py")), ids=lambda p: str(p.relative_to(ROOT)))
def test_imports_run_one_way(path):
    own = path.relative_to(ROOT).parts[0].removesuffix(".py")
    if own == "__init__":
        return
    for name in imports(path):
        pieces = name.split(".")
        if pieces[0] == "pivrel" and pieces[1] in LEVELS:
            assert LEVELS[pieces[1]] <= LEVELS[own], f"{own} must not know {name}"
