"""The wheel: everything is in it, and it works beside nothing of this checkout."""

import json
import os
import re
import subprocess
import sys
import urllib.request
import zipfile
from email import message_from_bytes
from pathlib import Path

import pytest
from tools import wheel as building

import pivrel
from pivrel.demo import bracket
from pivrel.formats.registry import FORMATS
from tests.formats import cad
from tests.lengths import FULL
from tests.serving import Server, free_port

ROOT = Path(__file__).parents[1]
EXAMPLE = ROOT / "docs" / "example"


@pytest.fixture(scope="module")
def wheel(tmp_path_factory):
    return building.build(tmp_path_factory.mktemp("dist"))


def test_all_is_in_it(wheel):
    with zipfile.ZipFile(wheel) as held:
        names = set(held.namelist())
        told = message_from_bytes(held.read(f"pivrel-{pivrel.__version__}.dist-info/METADATA"))
        page = held.read("pivrel/web/static/index.html").decode()
        licences = held.read("pivrel/web/static/licences.md").decode()
    sources = {str(path.relative_to(ROOT / "src")) for path in (ROOT / "src" / "pivrel").rglob("*.py")}
    assert sources <= names
    for asked in re.findall(r'(?:src|href)="/([^"]+)"', page):
        assert f"pivrel/web/static/{asked}" in names
    assert "## react " in licences and "pivrel/web/static/barlow-licence.txt" in names
    assert {Path(name).name for name in names if ".dist-info/licenses/" in name} == {
        "LICENSE",
        "third-party.md",
    }
    assert (
        told["License-Expression"] == "MIT"
        and told.get_payload(decode=True).decode().strip() == (ROOT / "README.md").read_text().strip()
    )
    assert set(told.get_all("Provides-Extra") or ()) == {f.extra.name for f in FORMATS if f.extra}
    assert not [
        name for name in names if "__pycache__" in name or name.startswith(("tests", "tools", "frontend"))
    ]


@pytest.fixture(scope="module")
def installed(wheel, tmp_path_factory):
    """The environment of processes that have what is installed here, and of Pivrel the wheel alone."""
    folder = tmp_path_factory.mktemp("installed")
    command = [
        sys.executable,
        "-m",
        "pip",
        "install",
        "--quiet",
        "--no-deps",
        "--no-compile",
        "--target",
        folder,
    ]
    subprocess.run([*command, "--disable-pip-version-check", wheel], check=True)
    return {"PYTHONPATH": str(folder)}


def said(words, folder, env=None, program=(sys.executable, "-m", "pivrel.cli")):
    done = subprocess.run(
        [*map(str, program), *map(str, words)],
        capture_output=True, text=True, cwd=folder, env=os.environ | (env or {}),
    )  # fmt: skip
    assert done.returncode == 0, (words, done.stdout, done.stderr)
    return done.stdout


def test_it_runs_without_the_checkout(installed, tmp_path, monkeypatch):
    assert said(["--version"], tmp_path, installed) == f"pivrel {pivrel.__version__}\n"
    code = "import pivrel; print(pivrel.__file__)"
    where = said(["-c", code], tmp_path, installed, [sys.executable]).strip()
    assert where.startswith(installed["PYTHONPATH"])
    assert "nothing wrong" in said(["inspect", EXAMPLE / "wall.obj"], tmp_path, installed)
    monkeypatch.setenv("PYTHONPATH", installed["PYTHONPATH"])
    server = Server(tmp_path / "data", free_port(), [sys.executable, "-m", "pivrel.cli"])
    try:
        page = server.bytes("GET", "/").decode()
        script = re.search(r'src="(/assets/[^"]+)"', page).group(1)
        assert len(server.bytes("GET", script)) > 100_000
        assert [one["name"] for one in server.ask("GET", "/api/formats")] == [
            f.name for f in FORMATS if f.reader
        ]
    finally:
        server.kill()


def test_the_readme_says_which_formats_there_are():
    """Its table: name, endings, in, out, and the extra that it needs."""
    rows = re.findall(
        r"^\| (\w+) \| ([^|]+) \| (yes|) *\| (yes|) *\| (?:`pivrel\[(\w+)\]`|) *\|",
        (ROOT / "README.md").read_text(),
        re.M,
    )
    assert rows == [
        (f.name, " ".join(f"`{s}`" for s in f.suffixes), "yes" if f.reader else "", "yes" if f.writer else "", f.extra.name if f.extra else "")
        for f in FORMATS
    ]  # fmt: skip


@pytest.mark.soak
@pytest.mark.skipif(not FULL, reason="installs everything anew")
def test_a_fresh_environment_with_and_without_extras(wheel, tmp_path):
    """Every reader and writer of the README's table, the demo, the library at first start, and the page's own work."""
    venv = tmp_path / "venv"
    subprocess.run([sys.executable, "-m", "venv", venv], check=True)
    pip = [venv / "bin" / "python", "-m", "pip", "install", "--quiet", "--disable-pip-version-check"]
    program = [venv / "bin" / "pivrel"]
    env = {"PIVREL_KERNELS": str(tmp_path / "kernels"), "PYTHONPATH": ""}
    (tmp_path / "kernels").mkdir()
    (tmp_path / "a.step").write_bytes(bracket.step())
    (tmp_path / "a.ifc").write_bytes(cad.ifc())
    facet = "facet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\n"
    (tmp_path / "a.stl").write_text(f"solid a\n{facet}endsolid a\n")
    axes = "".join(f"property float {axis}\n" for axis in "xyz")
    (tmp_path / "a.ply").write_text(
        f"ply\nformat ascii 1.0\nelement vertex 3\n{axes}element face 1\nproperty list uchar int vertex_indices\n"
        "end_header\n0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n"
    )
    wall = EXAMPLE / "wall.obj"

    subprocess.run([*pip, wheel], check=True)
    for suffix in (s for f in FORMATS if f.writer for s in f.suffixes):
        said(["apply", EXAMPLE / "brick.json", wall, "-o", tmp_path / f"out{suffix}"], tmp_path, env, program)
        said(["inspect", tmp_path / f"out{suffix}"], tmp_path, env, program)
    for name in ("a.stl", "a.ply"):
        assert "faces: 1" in said(["inspect", tmp_path / name], tmp_path, env, program)
    done = subprocess.run(
        [*program, "inspect", tmp_path / "a.step"], capture_output=True, text=True, env=os.environ | env
    )
    assert done.returncode == 2 and "pip install 'pivrel[step]'" in done.stderr
    made = said(["demo", "--data", tmp_path / "demo"], tmp_path, env, program)
    assert "left out: the towel hook" in made and made.count("project: ") == 4
    said(["-m", "pivrel.cli.warming"], tmp_path, env, [venv / "bin" / "python"])
    process = subprocess.Popen(
        [*program, "serve", "--port", "0", "--data", tmp_path / "new"],
        stdout=subprocess.PIPE, text=True, env=os.environ | env,
    )  # fmt: skip
    try:
        lines = []
        while not (lines and lines[-1].startswith("Pivrel is at")):
            lines.append(process.stdout.readline())
            assert lines[-1], lines
        assert lines[0].startswith("first start")
        address = lines[-1].split()[3]
        with urllib.request.urlopen(f"{address}api/library") as answer:
            assert len(json.load(answer)) == 11
    finally:
        process.kill()

    subprocess.run([*pip, f"{wheel}[step,ifc]"], check=True)
    for name in ("a.step", "a.ifc"):
        assert "parts: " in said(["inspect", tmp_path / name], tmp_path, env, program)
