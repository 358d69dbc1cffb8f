"""Reads broken copies of a good file, each in a process of its own that may come down:
`python -m tests.formats.hostile NAME COUNT`. Prints a line for each: "read", "refused" or "down", and seconds.
"""

from __future__ import annotations

import functools
import importlib
import os
import signal
import sys
import time

import numpy as np
import trimesh

from pivrel.formats.bundle import FormatError, Upload
from pivrel.formats.reading import read_model
from pivrel.formats.registry import readable
from tests.formats import cad
from tests.formats.bad import GOOD_OBJ, glb, gltf, triangle

HUNG_S = 15


@functools.cache
def good(name: str) -> bytes:
    ball = trimesh.creation.icosphere(subdivisions=1, radius=10)
    match name:
        case "a.step":
            return cad.step(parts=("Plate",))
        case "a.ifc":
            return cad.ifc()
        case "a.stl":
            return ball.export(file_type="stl")
        case "text.stl":
            return ball.export(file_type="stl_ascii").encode()
        case "a.ply":
            return ball.export(file_type="ply")
        case "text.ply":
            return ball.export(file_type="ply", encoding="ascii")
        case "a.glb":
            return glb(triangle())
        case "a.gltf":
            return gltf()
    return GOOD_OBJ * 3


def broken(name: str, number: int) -> bytes:
    """The good file cut short, with bytes flipped, a stretch left out, doubled or exchanged."""
    random = np.random.default_rng(number)
    data = bytearray(good(name))
    for _ in range(random.integers(1, 4)):
        at, length = int(random.integers(len(data) + 1)), int(random.integers(1, 60))
        match random.integers(6):
            case 0:
                data = data[:at]
            case 1:
                for k in random.integers(0, max(len(data), 1), 5):
                    if len(data):
                        data[k] = int(random.integers(256))
            case 2:
                del data[at : at + length]
            case 3:
                data[at:at] = data[at : at + length]
            case 4:
                data[at : at + length] = bytes(random.integers(32, 127, length, np.uint8))
            case 5:
                # A number within the text becomes a huge one.
                digits = [k for k in range(at, min(at + 400, len(data))) if 48 <= data[k] <= 57]
                if digits:
                    data[digits[0] : digits[0] + 1] = b"99999999999"
        if not data:
            break
    return bytes(data)


def outcome(name: str, number: int) -> str:
    """What reading one of them comes to. Only the CAD libraries can bring their process down."""
    if not readable(name).aside:
        try:
            read_model(name, broken(name, number), Upload({}))
        except FormatError as error:
            return "refused" if str(error) and "\n" not in str(error) else "raised"
        return "read"
    child = os.fork()
    if child == 0:
        signal.alarm(HUNG_S)
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, 1)
        os.dup2(nowhere, 2)
        code = 9
        try:
            read_model(name, broken(name, number), Upload({}))
            code = 0
        except FormatError as error:
            code = 1 if str(error) and "\n" not in str(error) else 9
        except MemoryError:
            code = 1
        finally:
            os._exit(code)
    status = os.waitpid(child, 0)[1]
    if os.WIFSIGNALED(status):
        return "hung" if os.WTERMSIG(status) == signal.SIGALRM else "down"
    return {0: "read", 1: "refused"}.get(os.WEXITSTATUS(status), "raised")


def main() -> None:
    name = sys.argv[1]
    # Made beforehand, and the libraries loaded; but nothing is read, for threads do not outlive a fork.
    good(name)
    importlib.import_module("pivrel.formats.model.step")
    importlib.import_module("pivrel.formats.model.ifc")
    for number in range(int(sys.argv[2])):
        began = time.monotonic()
        how = outcome(name, number)
        print(number, how, f"{time.monotonic() - began:.2f}", flush=True)


if __name__ == "__main__":
    main()
