"""Reads broken copies of a good file, one after the other in a process that may come down, and then in the next:
`python -m tests.formats.hostile NAME COUNT`. Prints a line for each: "read", "refused" or "down", and seconds.
"""

from __future__ import annotations

import functools
import importlib
import os
import signal
import sys
import time
from collections.abc import Iterable, Iterator

import numpy as np
import trimesh

from pivrel.formats.bundle import FormatError, Upload
from pivrel.formats.reading import read_model
from pivrel.formats.registry import readable
from tests.formats import cad
from tests.formats.bad import GOOD_OBJ, glb, gltf, triangle

# Not even on a slow machine.
HUNG_S = 50


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
    """What reading one of them comes to."""
    try:
        read_model(name, broken(name, number), Upload({}))
    except FormatError as error:
        return "refused" if str(error) and "\n" not in str(error) else "raised"
    except MemoryError:
        return "refused"
    return "read"


def reads_until_down(name: str, numbers: range) -> Iterator[tuple[int, str]]:
    """What reading them comes to, in a process that the CAD libraries may bring down; up to where they do."""
    inlet, outlet = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(inlet)
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, 1)
        os.dup2(nowhere, 2)
        try:
            for number in numbers:
                signal.alarm(HUNG_S)
                os.write(outlet, f"{outcome(name, number)}\n".encode())
        finally:
            os._exit(0)
    os.close(outlet)
    at = numbers.start
    with os.fdopen(inlet) as told:
        for line in told:
            yield at, line.strip()
            at += 1
    status = os.waitpid(child, 0)[1]
    if at < numbers.stop:
        down = os.WIFSIGNALED(status) and os.WTERMSIG(status) != signal.SIGALRM
        hung = os.WIFSIGNALED(status) and not down
        yield at, "down" if down else "hung" if hung else "raised"


def outcomes(name: str, count: int) -> Iterator[tuple[int, str]]:
    """What reading each of them comes to. Only the CAD libraries can bring their process down.

    What they left in its memory can also bring it to a stand, where the next file does nothing wrong. The
    application gives every file a process of its own: so does this, before it calls one hung.
    """
    if not readable(name).aside:
        yield from ((number, outcome(name, number)) for number in range(count))
        return
    told = 0
    while told < count:
        begin = told
        for number, how in reads_until_down(name, range(begin, count)):
            if how == "hung" and number > begin:
                break
            yield number, how
            told = number + 1


def timed(found: Iterable[tuple[int, str]]) -> Iterator[tuple[int, str, float]]:
    """The same, each with the seconds that it took."""
    began = time.monotonic()
    for number, how in found:
        yield number, how, time.monotonic() - began
        began = time.monotonic()


def main() -> None:
    name = sys.argv[1]
    # Made beforehand, and the libraries loaded; but nothing is read, for threads do not outlive a fork.
    good(name)
    importlib.import_module("pivrel.formats.model.step")
    importlib.import_module("pivrel.formats.model.ifc")
    for number, how, seconds in timed(outcomes(name, int(sys.argv[2]))):
        print(number, how, f"{seconds:.2f}", flush=True)


if __name__ == "__main__":
    main()
