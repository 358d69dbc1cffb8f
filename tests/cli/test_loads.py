"""What a command loads: no more than it needs, so that it answers at once."""

import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
EXAMPLE = ROOT / "docs" / "example"

HEAVY = {
    "numpy", "numba", "scipy", "scipy.sparse", "scipy.spatial", "pydantic", "PIL", "shapely", "flask", "waitress",
    "reportlab", "ezdxf", "fontTools", "pygltflib", "OCP", "ifcopenshell", "xatlas",
}  # fmt: skip
"""Libraries that take a tenth of a second or more to load, or are of use to few commands."""

TOLD = """
import sys
from pivrel.cli.main import main
code = 0
try:
    code = main(sys.argv[1:])
except SystemExit as end:
    code = end.code
print("LOADED", *sorted(name for name in sys.modules if sys.modules[name]), file=sys.stderr)
sys.exit(code)
"""


def loaded(*words, code=TOLD):
    """The heavy libraries that are there once a command is done."""
    done = subprocess.run(
        [sys.executable, "-c", code, *map(str, words)], capture_output=True, text=True, cwd=ROOT
    )
    assert done.returncode == 0, done.stderr
    return HEAVY & set(done.stderr.split("LOADED ")[-1].split())


@pytest.mark.parametrize("words", [["--help"], ["--version"], ["inspect", "--help"], ["serve", "--help"]])
def test_help_loads_nothing_heavy(words):
    assert loaded(*words) == set()


def test_what_is_inspected_is_read_by_what_reads_it_alone(tmp_path):
    needed = {"numpy", "numba", "scipy"}
    assert loaded("inspect", EXAMPLE / "wall.obj") == needed
    triangle = "facet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\n"
    (tmp_path / "a.stl").write_text(f"solid a\n{triangle}endsolid a\n")
    assert loaded("inspect", tmp_path / "a.stl", "--json") == needed


def test_a_recipe_needs_no_server(tmp_path):
    found = loaded("apply", EXAMPLE / "brick.json", EXAMPLE / "wall.obj", "-o", tmp_path / "wall.obj")
    assert not found & {
        "flask",
        "waitress",
        "reportlab",
        "ezdxf",
        "fontTools",
        "OCP",
        "ifcopenshell",
        "xatlas",
    }
    assert not loaded("schema") & {"flask", "waitress", "PIL", "reportlab", "ezdxf", "pygltflib", "OCP"}


def test_a_server_loads_the_libraries_of_files_when_one_is_asked_for():
    code = TOLD.replace("code = main(sys.argv[1:])", "import pivrel.cli.data, pivrel.web.server")
    assert not loaded(code=code) & {
        "reportlab",
        "ezdxf",
        "fontTools",
        "pygltflib",
        "OCP",
        "ifcopenshell",
        "xatlas",
    }
