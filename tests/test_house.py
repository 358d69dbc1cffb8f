"""The rules that the house stands on: imports run one way without circles, and the core does no input or output."""

from __future__ import annotations

import ast
import re
import subprocess
import sys
from functools import cache
from pathlib import Path

import pytest

SRC = Path(__file__).parents[1] / "src"
ROOT = SRC / "pivrel"
PAGE = Path(__file__).parents[1] / "docs" / "architecture.md"

CORE_MAY = {"__future__", "abc", "collections", "concurrent", "contextlib", "dataclasses", "fnmatch", "heapq", "functools", "hashlib",
            "itertools", "math", "numba", "numpy", "re", "scipy", "shapely", "threading", "typing", "xatlas"}  # fmt: skip

CORE_MAY_IN = {
    "pivrel.core.failures": {"logging", "traceback"},
    "pivrel.core.kernels": {"gc", "logging"},
    "pivrel.core.kernel_code": {"io", "llvmlite", "pickle", "sys"},
    "pivrel.core.kernel_key": {"builtins", "dis", "enum", "llvmlite", "sys", "types"},
    "pivrel.core.kernel_store": {"atexit", "filelock", "logging", "os", "pathlib", "platformdirs", "shutil", "tempfile", "time"},
}  # fmt: skip
"""The one place of the core with files: compiled kernels are kept in the user's cache."""

FLOORS = (
    ("bounded_json", "errors", "memory", "parent"),
    ("core",),
    ("materials",),
    ("recipe",),
    ("formats",),
    ("store",),
    ("jobs", "project"),
    ("web",),
    ("demo",),
    ("cli",),
)
"""From the ground up: a package knows those below it, and of its own floor those that do not know it."""

CORE_FLOORS = (
    (
        "arrays",
        "cache",
        "content_key",
        "failures",
        "kernel_code",
        "kernel_key",
        "kernel_store",
        "phrases",
        "plain_text",
        "quantity",
    ),
    ("kernels",),
    ("geometry",),
    ("picks", "solve"),
    ("projection", "view"),
    ("sheet",),
    ("coats",),
    ("laying",),
    ("measure", "set_out", "revision"),
    ("pattern", "evaluation"),
    ("bake",),
    ("schedule", "trials"),
)
"""The same within the core."""

LONGEST = 60
"""Lines of a function, its signature and docstring with it."""


def name_of(path: Path) -> str:
    """The dotted name of a module."""
    return ".".join(path.relative_to(SRC).with_suffix("").parts).removesuffix(".__init__")


@cache
def modules() -> dict[str, Path]:
    return {name_of(path): path for path in sorted(ROOT.rglob("*.py"))}


@cache
def tree_of(path: Path) -> ast.Module:
    """A module's syntax; most rules read it."""
    return ast.parse(path.read_text())


@cache
def mentioned(path: Path) -> tuple[str, ...]:
    """Everything that a module imports, at its top or later: dotted names, of names within a module too."""
    found: list[str] = []
    for node in ast.walk(tree_of(path)):
        if isinstance(node, ast.Import):
            found += (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            assert node.level == 0, f"{path}: imports are written out"
            found += (node.module, *(f"{node.module}.{alias.name}" for alias in node.names))
    return tuple(found)


@cache
def graph() -> dict[str, set[str]]:
    """The modules of the house that each module imports; a package's own `__init__` counts where it is named."""
    out = {}
    for name, path in modules().items():
        known = {m for m in mentioned(path) if m in modules() and m != name}
        # `from pivrel.store import blobs` names the package only to reach the module.
        direct = {m for m in known if not any(other.startswith(f"{m}.") for other in known)}
        out[name] = direct | {m for m in known if _takes_names_of(path, m)}
    return out


def _takes_names_of(path: Path, package: str) -> bool:
    """Whether a module takes something that the package's `__init__` itself offers."""
    for node in ast.walk(tree_of(path)):
        if isinstance(node, ast.ImportFrom) and node.module == package:
            return any(f"{package}.{alias.name}" not in modules() for alias in node.names)
    return False


def circle(edges: dict[str, set[str]]) -> list[str]:
    """A way along the edges that comes back to where it began; empty where there is none."""
    done: set[str] = set()
    for start in edges:
        way: list[str] = []
        stack = [(start, iter(sorted(edges[start])))]
        way.append(start)
        while stack:
            node, after = stack[-1]
            following = next(after, None)
            if following is None:
                stack.pop()
                way.pop()
                done.add(node)
            elif following in way:
                return [*way[way.index(following) :], following]
            elif following not in done:
                way.append(following)
                stack.append((following, iter(sorted(edges.get(following, ())))))
    return []


def rooms(depth: int, within: str = "pivrel") -> dict[str, set[str]]:
    """The same with modules put together by the first pieces of their names."""
    out: dict[str, set[str]] = {}
    for name, known in graph().items():
        if not name.startswith(f"{within}."):
            continue
        room = name.split(".")[depth]
        others = {m.split(".")[depth] for m in known if m.startswith(f"{within}.") and m.count(".") >= depth}
        out.setdefault(room, set()).update(others - {room})
    return out


def test_no_module_knows_itself_by_a_detour():
    assert not circle(graph())


@pytest.mark.parametrize(("depth", "within"), [(1, "pivrel"), (2, "pivrel.core")])
def test_no_package_knows_itself_by_a_detour(depth, within):
    assert not circle(rooms(depth, within))


def test_the_finder_of_circles_finds_one():
    assert circle({"a": {"b"}, "b": {"c"}, "c": {"b"}}) == ["b", "c", "b"]
    assert not circle({"a": {"b", "c"}, "b": {"c"}, "c": set()})


@pytest.mark.parametrize(
    ("floors", "depth", "within"),
    [(FLOORS, 1, "pivrel"), (CORE_FLOORS, 2, "pivrel.core")],
    ids=["house", "core"],
)
def test_imports_run_one_way(floors, depth, within):
    level = {room: at for at, floor in enumerate(floors) for room in floor}
    found = rooms(depth, within)
    assert set(found) - {"__init__"} <= set(level), "a package that no floor names"
    for room, known in found.items():
        for other in known:
            assert level[other] <= level[room], f"{room} must not know {other}"


def test_core_knows_only_numbers():
    for path in sorted((ROOT / "core").rglob("*.py")):
        may = CORE_MAY | CORE_MAY_IN.get(name_of(path), set())
        for name in mentioned(path):
            own = name.startswith(("pivrel.core", "pivrel.errors")) or name == "pivrel"
            assert own or name.split(".")[0] in may, f"{path}: {name}"
        assert "open(" not in path.read_text() or name_of(path) in CORE_MAY_IN, path


def test_the_roots_hold_little():
    assert {p.name for p in ROOT.glob("*.py")} == {
        "__init__.py",
        "bounded_json.py",
        "errors.py",
        "memory.py",
        "parent.py",
    }


def test_no_function_is_longer_than_a_screen():
    for path in modules().values():
        for node in ast.walk(tree_of(path)):
            if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
                length = node.end_lineno - node.lineno + 1
                assert length <= LONGEST, f"{path}: {node.name} has {length} lines"


UNTYPED = "dict[str, Any]"


@pytest.mark.parametrize("package", ["core", "project", "web"])
def test_nothing_untyped_between_route_and_core(package):
    """What reads or writes JSON may hold it as it is; each such place says so with its reason."""
    for path in (ROOT / package).rglob("*.py"):
        lines = path.read_text().splitlines()
        for number, line in enumerate(lines):
            if UNTYPED in line:
                above = lines[max(number - 1, 0)].strip()
                assert "# JSON" in line or above.startswith("# JSON"), f"{path}:{number + 1}: {line.strip()}"


def test_every_folder_is_named_on_the_architecture_page():
    told = PAGE.read_text()
    folders = [p for p in ROOT.rglob("*") if p.is_dir() and p.name not in ("__pycache__", "static", "assets")]
    frontend = Path(__file__).parents[1] / "frontend" / "src"
    for folder in [*folders, *(p for p in frontend.rglob("*") if p.is_dir())]:
        if "static" in folder.parts:
            continue
        assert re.search(rf"\b{re.escape(folder.name)}/", told), f"{folder} is not on the page"


def test_no_component_is_longer_than_200_lines():
    frontend = Path(__file__).parents[1] / "frontend" / "src"
    for path in frontend.rglob("*.tsx"):
        for match in re.finditer(
            r"^(?:export )?(?:default )?function ([A-Z]\w*).*?^}", path.read_text(), re.M | re.S
        ):
            length = match.group(0).count("\n") + 1
            assert length <= 200, f"{path.name}: {match.group(1)} has {length} lines"


def test_the_process_of_a_reader_does_not_load_what_lays():
    """Every opened file waits for that process to start."""
    said = subprocess.run(
        [sys.executable, "-c", "import sys, pivrel.jobs.read_model; print(*sys.modules)"],
        capture_output=True,
        text=True,
        check=True,
    )
    loaded = set(said.stdout.split())
    assert "pivrel.formats.reading" in loaded
    assert not loaded & {"pivrel.core.laying", "pivrel.recipe", "pivrel.store.documents", "flask"}
