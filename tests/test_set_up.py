"""Set-up goes on by what things are made from; and what the tests use is made from what is there."""

import os
import subprocess
import sys
from pathlib import Path

import pytest
from tools import set_up
from tools.made_from import digest, files_below

from pivrel.web.app import STATIC

ROOT = Path(__file__).parents[1]


@pytest.fixture
def made(tmp_path):
    """Whether set-up makes something again from the files of a folder."""
    sources, stamp = tmp_path / "src", tmp_path / "out" / "made-from.txt"
    sources.mkdir()
    (sources / "a.ts").write_text("one")
    (sources / "b.ts").write_text("two")

    def again():
        done = []
        set_up.make("page", stamp, digest(tmp_path, files_below(sources)), lambda: done.append(1))
        return bool(done)

    assert again() and not again()
    return sources, stamp, again


def test_a_changed_file_is_seen_though_its_time_and_length_are_as_they_were(made):
    sources, _, again = made
    before = (sources / "a.ts").stat()
    (sources / "a.ts").write_text("eno")
    os.utime(sources / "a.ts", ns=(before.st_atime_ns, before.st_mtime_ns))
    assert again() and not again()


def test_a_file_that_went_and_one_that_got_another_name_are_seen(made):
    sources, _, again = made
    (sources / "b.ts").rename(sources / "c.ts")
    assert again()
    (sources / "c.ts").unlink()
    assert again() and not again()


def test_a_new_time_alone_makes_nothing(made):
    sources, _, again = made
    os.utime(sources / "a.ts", (1, 1))
    assert not again()


def test_what_was_cut_off_is_made_again(made, tmp_path):
    sources, stamp, again = made
    (sources / "a.ts").write_text("other")

    def cut_off():
        raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        set_up.make("page", stamp, digest(tmp_path, files_below(sources)), cut_off)
    assert again()


def test_what_fails_is_said_with_its_part(tmp_path):
    with pytest.raises(SystemExit, match="set-up: page: building it did not work"):
        set_up.run("page", "building it", [sys.executable, "-c", "import sys; sys.exit('no')"])


@pytest.mark.skipif(not STATIC.is_dir(), reason="the front end is not built")
def test_the_page_that_is_served_is_built_from_the_sources_that_are_there():
    assert (STATIC / set_up.STAMP).read_text().strip() == set_up.page_key()


def test_use_needs_nothing_that_only_tests_need():
    """Every module of the package is imported by a Python that finds what `requirements.txt` names, and no more."""
    named = {line.split("==")[0].lower().replace("_", "-") for line in
             (ROOT / "requirements.txt").read_text().splitlines() if "==" in line}  # fmt: skip
    code = f"""
import importlib.metadata, importlib.util, pkgutil, sys
named = {sorted(named)!r}
allowed = {{"pivrel"}}
for name in named:
    for file in importlib.metadata.files(name) or ():
        allowed.add(file.parts[0].split(".")[0])
class Keeper:
    def find_spec(self, name, path=None, target=None):
        top = name.split(".")[0]
        if top not in allowed and top not in sys.stdlib_module_names and not top.startswith("__"):
            raise ModuleNotFoundError(f"{{name}} is not among the requirements", name=name)
sys.meta_path.insert(0, Keeper())
import pivrel
for module in pkgutil.walk_packages(pivrel.__path__, "pivrel."):
    if not module.name.endswith("__main__"):
        importlib.import_module(module.name)
"""
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr[-2000:]
