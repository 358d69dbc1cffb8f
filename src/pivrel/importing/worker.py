"""The process that reads one model: `python -m pivrel.importing.worker FOLDER`.

FOLDER holds request.json and the files; mesh.npz, faults.npz and facts.json are written there. Each line
on standard output is JSON: what is being done and how much of it, at last {"done": true} or {"error": …}.
"""

from __future__ import annotations

import ctypes
import json
import os
import signal
import sys
import tempfile
import threading
import time
from pathlib import Path
from typing import Any, TextIO

import numpy as np

from pivrel.core.geometry.faults import find_faults
from pivrel.core.geometry.mesh import MeshError
from pivrel.core.geometry.surface import Surface
from pivrel.formats import FormatError, read_model
from pivrel.formats.bundle import Folder
from pivrel.store.blobs import mesh_data
from pivrel.store.errors import told

TOLD_EVERY_S = 0.1


class Line:
    """The line to whoever waits, kept clear of what the kernels print by themselves."""

    def __init__(self) -> None:
        self.out: TextIO = os.fdopen(os.dup(1), "w", buffering=1)
        self.last: tuple[str, float] = ("", 0.0)
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, 1)
        os.dup2(nowhere, 2)

    def say(self, **what: object) -> None:
        print(json.dumps(what), file=self.out)

    def tell(self, doing: str, share: float) -> None:
        """Passes progress on, at most ten times a second for one kind of work."""
        now = time.monotonic()
        if doing != self.last[0] or now - self.last[1] > TOLD_EVERY_S:
            self.last = (doing, now)
            self.say(doing=doing, share=share)


def read(folder: Path, line: Line) -> None:
    """Reads the model of the request and writes what was found."""
    asked = json.loads((folder / "request.json").read_text())
    files = folder / "files" if asked["folder"] is None else Path(asked["folder"])
    data = (files / asked["name"]).read_bytes()
    imported = read_model(
        asked["name"], data, Folder(files), asked["unit"], asked["up"], asked["tolerance_mm"], line.tell
    )
    line.tell("checking the model", 0.0)
    faults = find_faults(Surface(imported.mesh)) if asked["check"] else []
    (folder / "mesh.npz").write_bytes(mesh_data(imported.mesh))
    with (folder / "faults.npz").open("wb") as out:
        counted: dict[str, Any] = {f.key: np.concatenate([[f.count], f.faces]) for f in faults}
        np.savez(out, **counted)
    (folder / "images").mkdir()
    for sha256, image in imported.images.items():
        (folder / "images" / sha256).write_bytes(image.data)
    facts = {k: v for k, v in vars(imported).items() if k not in ("mesh", "images")}
    facts["images"] = {sha256: image.mime for sha256, image in imported.images.items()}
    (folder / "facts.json").write_text(json.dumps(facts))


def end_with_parent() -> None:
    """Ends this process as soon as the one that started it is gone, killed or not."""
    if sys.platform == "linux":
        # prctl(PR_SET_PDEATHSIG): the kernel sees to it, also while a reader holds Python's lock.
        ctypes.CDLL(None).prctl(1, signal.SIGKILL)

    def wait() -> None:
        # Not by sys.stdin, whose lock would be held when the process ends by itself.
        while os.read(0, 1):
            pass
        os._exit(1)

    threading.Thread(target=wait, daemon=True).start()


def main() -> None:
    """Reads, and says how it ended."""
    end_with_parent()
    line = Line()
    try:
        read(Path(sys.argv[1]), line)
    except (FormatError, MeshError) as error:
        line.say(error=str(error))
    except OSError as error:
        line.say(
            error=str(told(error, tempfile.gettempdir()) or f"the file cannot be read: {error.strerror}")
        )
    except MemoryError:
        line.say(error="there is not enough memory for this model")
    else:
        line.say(done=True)


if __name__ == "__main__":
    main()
