"""Compiled code is of the code that is there: whatever a kernel reaches counts, and nothing else compiles again."""

from __future__ import annotations

import ast
import json
import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any, NamedTuple

import numba
import numpy as np
import pytest
from filelock import FileLock

from pivrel.core import kernel_key
from pivrel.core.kernel_key import reached, signature_of
from pivrel.core.kernel_store import FOLDER, KEPT_S, KernelStore
from pivrel.core.kernels import kernel

SRC = Path(__file__).parents[2] / "src"

HELPER = "pivrel/core/coats/hashing.py"

# What a process computes with a kernel whose helper lies in another file, and with one that reaches none of it; and
# which kernels it had to compile for that.
ASKED = """
import json, sys
import numba.core.event as event
compiled = []
class Listener(event.Listener):
    def on_start(self, told): compiled.append(told.data["dispatcher"].py_func.__name__)
    def on_end(self, told): pass
event.register("numba:compile", Listener())
import numpy as np
from pivrel.core.coats.noise import noise_at
from pivrel.core.geometry.union_find import root_of
value = noise_at(0.3, 0.4, 0.5, 7)
root = int(root_of(np.array([0, 0, 1]), np.zeros(3, bool), 2)[0])
print(json.dumps({"value": value, "root": root, "compiled": compiled}))
"""


def run(source: Path, code: str = ASKED, **environment: str) -> dict:
    """What a new process says that computes with a copy of the package."""
    env = {k: v for k, v in os.environ.items() if k != FOLDER} | environment | {"PYTHONPATH": str(source)}
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, env=env)
    assert done.returncode == 0, done.stderr
    return json.loads(done.stdout) | {"said": done.stderr}


@pytest.fixture(scope="module")
def checkouts(tmp_path_factory):
    """Two copies of the package, of which the second has another constant in a helper, and a cache for both."""
    folder = tmp_path_factory.mktemp("checkouts")
    for name in ("one", "other"):
        shutil.copytree(
            SRC, folder / name, ignore=shutil.ignore_patterns("static", "__pycache__", "*.egg-info")
        )
    helper = folder / "other" / HELPER
    text = helper.read_text()
    assert "1664525" in text
    # As long as before and written at the same moment: nothing but the text tells the two apart.
    helper.write_text(text.replace("1664525", "1664527"))
    before = (folder / "one" / HELPER).stat()
    os.utime(helper, ns=(before.st_atime_ns, before.st_mtime_ns))
    return folder


@pytest.mark.slow
def test_each_checkout_computes_with_its_own_code(checkouts):
    cache = {"XDG_CACHE_HOME": str(checkouts / "cache")}
    first = run(checkouts / "one", **cache)
    assert {"noise_at", "pcg4d", "root_of"} <= set(first["compiled"])

    # A helper changed: its callers are compiled again, what does not reach it is not.
    second = run(checkouts / "other", **cache)
    assert second["value"] != first["value"]
    assert {"noise_at", "pcg4d"} <= set(second["compiled"])
    assert not {"root_of", "_faded", "_gradient"} & set(second["compiled"])

    # By turns, both from the one cache.
    for name, before in (("one", first), ("other", second), ("one", first)):
        again = run(checkouts / name, **cache)
        assert again["value"] == before["value"]
        assert again["compiled"] == []

    # And what is computed is what the code says, without a compiler.
    for name, before in (("one", first), ("other", second)):
        plain = run(checkouts / name, NUMBA_DISABLE_JIT="1")
        assert plain["value"] == pytest.approx(before["value"], abs=1e-12)


def test_an_update_in_place_computes_with_the_new_helper(checkouts):
    """The file of `noise_at` is as it was; numba's own cache looks at nothing else, and answers with the old value."""
    cache = {"XDG_CACHE_HOME": str(checkouts / "cache")}
    before = run(checkouts / "one", **cache)
    updated = checkouts / "one" / HELPER
    shutil.copy2(checkouts / "other" / HELPER, updated)
    # By its time Python tells that what it keeps of a module is old.
    os.utime(updated, (updated.stat().st_atime, updated.stat().st_mtime + 60))
    try:
        after, plain = run(checkouts / "one", **cache), run(checkouts / "one", NUMBA_DISABLE_JIT="1")
    finally:
        (checkouts / "one" / HELPER).write_text((SRC / HELPER).read_text())
    assert after["value"] == pytest.approx(plain["value"], abs=1e-12) != before["value"]


def test_where_the_cache_cannot_be_written_it_is_said_once(checkouts, tmp_path):
    (tmp_path / "file").touch()
    twice = f"""
import subprocess, sys, os
code = {ASKED!r}
exec(code)
done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
assert json.loads(done.stdout)["compiled"] == [] and not done.stderr, done
print(json.dumps({{"folder": os.environ["{FOLDER}"]}}), file=open({str(tmp_path / "told")!r}, "w"))
"""
    done = run(checkouts / "one", twice, XDG_CACHE_HOME=str(tmp_path / "file"))
    assert done["said"].count("compiled code cannot be kept in") == 1
    # The temporary folder goes with the process that made it.
    assert not Path(json.loads((tmp_path / "told").read_text())["folder"]).exists()


def test_every_kernel_is_made_by_the_one_decorator():
    for path in SRC.rglob("*.py"):
        if path.name == "kernels.py":
            continue
        for node in ast.walk(ast.parse(path.read_text())):
            names = {getattr(node, "attr", None), getattr(node, "id", None)}
            names |= {alias.name for alias in getattr(node, "names", ()) if isinstance(alias, ast.alias)}
            assert not names & {"njit", "jit", "vectorize", "guvectorize", "stencil", "cfunc"}, path


def made_from(kernel: Any) -> str:
    return kernel_key.made_from(kernel)


CONSTANT = 2.0
ARRAY = np.arange(3.0)


class Pair(NamedTuple):
    low: float
    high: float


PAIR = Pair(1.0, 2.0)


def doubled(x):
    return x * CONSTANT


helper = kernel(doubled)


@kernel
def caller(x):
    """Reaches a kernel, an array, a tuple with names, and numpy."""
    return helper(x) + ARRAY[1] + PAIR.high + np.sqrt(x)


@kernel
def even(n):
    return True if n == 0 else odd(n - 1)


@kernel
def odd(n):
    return False if n == 0 else even(n - 1)


@kernel
def strange(x):
    return UNKNOWN(x)


UNKNOWN = object()


@pytest.mark.parametrize(
    ("name", "value"),
    [
        ("CONSTANT", 3.0),
        ("CONSTANT", 2),
        ("ARRAY", np.arange(3.0) * 2),
        ("ARRAY", np.arange(3)),
        ("PAIR", Pair(1.0, 3.0)),
        ("helper", kernel(lambda x: x)),
        ("helper", kernel(error_model="numpy")(doubled)),
    ],
)
def test_whatever_is_reached_counts(monkeypatch, name, value):
    before = made_from(caller)
    monkeypatch.setitem(globals(), name, value)
    assert made_from(caller) != before
    monkeypatch.undo()
    assert made_from(caller) == before


def compiled(text: str) -> str:
    namespace = {"kernel": kernel, "np": np, "__name__": "elsewhere"}
    exec(text, namespace)
    return made_from(namespace["f"])


def test_only_what_is_compiled_counts():
    first = compiled("@kernel\ndef f(x):\n    return x + 1\n")
    assert first == compiled("\n\n@kernel\ndef f(x):\n    'Told.'\n    # And told.\n    return x + 1\n")
    assert first != compiled("@kernel\ndef f(x):\n    return x + 2\n")
    assert first != compiled("@kernel\ndef f(x):\n    return x - 1\n")
    assert first != compiled("@kernel\ndef f(y):\n    return y + 1\n")
    assert first != compiled("@kernel\ndef f(x, y=1):\n    return x + 1\n")
    assert first != compiled("@kernel(parallel=True)\ndef f(x):\n    return x + 1\n")
    assert compiled("g = 1.0\n@kernel\ndef f(x):\n    return x + g\n") != compiled(
        "g = -1.0\n@kernel\ndef f(x):\n    return x + g\n"
    )


def test_what_is_enclosed_counts():
    def make(by):
        @kernel
        def f(x):
            return x * by

        return f

    assert made_from(make(1.0)) != made_from(make(2.0))
    assert made_from(make(1.0)) == made_from(make(1.0))


def test_kernels_that_call_each_other_are_told():
    assert made_from(even) != made_from(odd)
    assert made_from(even) == made_from(even)


def test_what_cannot_be_told_is_an_error():
    with pytest.raises(TypeError, match="cannot be told"):
        strange(1.0)


def test_names_are_followed_through_modules():
    def f(x):
        return np.linalg.norm(x) + numba.get_num_threads() + x.size

    assert {("np", "linalg", "norm"), ("numba", "get_num_threads")} == reached(f.__code__)


def test_fields_of_what_is_given_count():
    class Other(NamedTuple):
        high: float
        low: float

    Other.__name__ = Other.__qualname__ = "Pair"
    assert signature_of((numba.typeof(PAIR),)) != signature_of((numba.typeof(Other(1.0, 2.0)),))
    assert signature_of((numba.typeof(ARRAY),)) != signature_of((numba.typeof(ARRAY[::2]),))


@pytest.fixture
def store(tmp_path):
    return KernelStore(tmp_path)


def old(path: Path, seconds: float) -> None:
    then = time.time() - seconds
    os.utime(path, (then, then))


def test_what_is_kept_comes_back(store):
    assert store.get("a") is None
    store.put("a", b"code")
    assert store.get("a") == b"code"


def test_a_damaged_file_counts_as_none(store, tmp_path):
    store.put("a", b"code of a kernel")
    for damage in (b"", b"short", (tmp_path / "a").read_bytes()[:-1]):
        (tmp_path / "a").write_bytes(damage)
        assert store.get("a") is None
        store.put("a", b"code of a kernel")


def test_what_nobody_uses_is_swept_and_what_somebody_uses_is_not(store, tmp_path):
    for name in ("mine", "unused", "fresh"):
        store.put(name, b"code")
    store._leave()
    other = KernelStore(tmp_path)
    other.get("mine")
    for name in ("mine", "unused"):
        old(tmp_path / name, KEPT_S + 60)
    KernelStore(tmp_path).sweep(0)
    assert (tmp_path / "mine").exists() and (tmp_path / "fresh").exists()
    assert not (tmp_path / "unused").exists()

    # Its process is gone: now it is swept too, and so is what told of it.
    other._lock.release()
    KernelStore(tmp_path).sweep(0)
    assert not (tmp_path / "mine").exists()
    assert not list((tmp_path / "users").iterdir())


def test_a_use_is_noted_and_a_sweep_is_not_made_twice_a_day(store, tmp_path):
    store.put("a", b"code")
    old(tmp_path / "a", KEPT_S + 60)
    store.sweep()
    assert (tmp_path / "a").exists()
    store.get("a")
    assert time.time() - (tmp_path / "a").stat().st_mtime < 60


def test_a_process_that_was_killed_holds_nothing(tmp_path):
    code = f"""
import os, pathlib
from pivrel.core.kernel_store import KernelStore
KernelStore(pathlib.Path({str(tmp_path)!r})).put("a", b"code")
os.kill(os.getpid(), 9)
"""
    subprocess.run([sys.executable, "-c", code])
    (user,) = (tmp_path / "users").glob("*.used")
    with FileLock(f"{user}.lock").acquire(timeout=0):
        assert user.read_text() == "a\n"
    old(tmp_path / "a", KEPT_S + 60)
    KernelStore(tmp_path).sweep(0)
    assert not (tmp_path / "a").exists()


def test_a_full_disk_is_said_once_and_computes_on(store, tmp_path, monkeypatch, caplog):
    def full(*_args, **_more):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(tempfile, "mkstemp", full)
    store.put("a", b"code")
    store.put("b", b"code")
    assert [r.getMessage() for r in caplog.records] == [
        f"compiled code cannot be kept in {tmp_path} (No space left on device)"
    ]
