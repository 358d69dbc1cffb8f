"""The command line without a network and without what is optional."""

import os
import subprocess
import sys
from pathlib import Path

import pytest

from pivrel.demo import bracket
from pivrel.formats import extra, model_format
from pivrel.formats.bundle import FormatError, Upload
from pivrel.formats.reading import read_model
from tests.alone_here import alone
from tests.formats import cad

ROOT = Path(__file__).parents[2]
EXAMPLE = ROOT / "docs" / "example"


def pivrel(*words, env):
    command = [sys.executable, "-m", "pivrel.cli", *map(str, words)]
    return subprocess.run(command, capture_output=True, text=True, cwd=ROOT, env=os.environ | env)


def test_what_would_leave_is_refused_and_written_down(tmp_path):
    """The test's own means, tried first: a connection and a name that is looked up, both refused."""
    for code in ("socket.create_connection(('192.0.2.1', 80))", "socket.getaddrinfo('example.org', 80)"):
        env = os.environ | alone(tmp_path / "tried")
        done = subprocess.run(
            [sys.executable, "-c", f"import socket; {code}"], capture_output=True, text=True, env=env
        )
        assert "refused by the test" in done.stderr
    assert len((tmp_path / "tried").read_text().splitlines()) == 2


def test_every_command_works_without_a_network(tmp_path):
    (tmp_path / "hook.step").write_bytes(bracket.step())
    env = alone(tmp_path / "tried")
    wall, brick = EXAMPLE / "wall.obj", EXAMPLE / "brick.json"
    for words in (
        ["inspect", wall],
        ["inspect", tmp_path / "hook.step"],
        ["measure", brick, wall, "--json"],
        ["apply", brick, wall, "-o", tmp_path / "wall.glb"],
        ["bake", brick, wall, "-o", tmp_path / "baked.glb", "--px-per-m", "100", "--all"],
        ["revise", brick, wall, wall, "-o", tmp_path / "again.json"],
        ["schema"],
    ):
        done = pivrel(*words, env=env)
        assert done.returncode == 0, (words, done.stderr)
    assert not (tmp_path / "tried").exists()


@pytest.mark.parametrize(("name", "module"), [("step", "OCP"), ("ifc", "ifcopenshell")])
def test_a_format_whose_library_is_missing_names_it(tmp_path, name, module):
    file = tmp_path / f"model.{name}"
    file.write_bytes(bracket.step() if name == "step" else b"ISO-10303-21;")
    env = alone(tmp_path / "tried", module)
    done = pivrel("inspect", file, env=env)
    assert done.returncode == 2
    assert done.stderr.startswith(f"error: {file}: {name.upper()} needs ")
    assert done.stderr.endswith(f"which is not installed here: pip install 'pivrel[{name}]'\n")
    assert pivrel("inspect", EXAMPLE / "wall.obj", env=env).returncode == 0


def test_a_library_that_does_not_load_says_why(monkeypatch):
    def broken(path):
        raise ImportError("libGL.so.1: cannot open shared object file")

    monkeypatch.setattr(model_format, "loaded", broken)
    with pytest.raises(
        FormatError, match=r"^IFC cannot be read here, as the IFC library does not load: libGL\.so\.1"
    ):
        read_model("a.ifc", b"ISO", Upload({}))
    assert cad and extra.IFC.is_there


def test_the_demo_leaves_out_what_it_cannot_make(tmp_path):
    code = "from pivrel import demo; demo.fill_library = lambda _: iter(()); " \
           "from pivrel.store.database import Database; from pathlib import Path; " \
           f"print(next(demo.fill(Database(Path({str(tmp_path / 'data')!r})))))"  # fmt: skip
    env = os.environ | alone(tmp_path / "tried", "OCP")
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, env=env)
    assert done.stdout.startswith("left out: the towel hook, a STEP model: it needs the CAD kernel"), (
        done.stderr
    )
