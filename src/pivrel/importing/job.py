"""One import: a process that reads, watched from a thread, until it is done, fails or is stopped."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Literal, cast

import numpy as np

from pivrel.core.geometry.faults import Fault, Key
from pivrel.formats import FormatError, Imported
from pivrel.formats.bundle import safe_relative
from pivrel.importing import memory
from pivrel.materials.images import Image
from pivrel.store.blobs import read_mesh

WATCHED_EVERY_S = 0.2
LEAST_FREE = 128 << 20


@dataclass(frozen=True)
class Asked:
    """What shall be read, and how."""

    name: str
    unit: str | None = None
    up: str | None = None
    tolerance_mm: float | None = None
    check: bool = True


class Job:
    """A model being read. state: "reading", then "ready", "failed" or "stopped"."""

    def __init__(self, asked: Asked, files: Mapping[str, bytes] | Path) -> None:
        """Starts to read; files: by their names, or the folder where they lie."""
        self.asked = asked
        self.state: Literal["reading", "ready", "failed", "stopped"] = "reading"
        self.doing, self.share, self.error = "starting", 0.0, ""
        self._folder = tempfile.TemporaryDirectory(prefix="pivrel-import-")
        self._process: subprocess.Popen[str] | None = None
        self._lock = threading.Lock()
        path = Path(self._folder.name)
        source = files if isinstance(files, Path) else path / "files"
        if not isinstance(files, Path):
            for name, data in files.items():
                target = source / safe_relative(name)
                target.parent.mkdir(parents=True, exist_ok=True)
                target.write_bytes(data)
        request = {**vars(asked), "folder": str(source)}
        (path / "request.json").write_text(json.dumps(request))
        self._size = (source / asked.name).stat().st_size
        self._thread = threading.Thread(target=self._run, daemon=True)
        self._thread.start()

    @property
    def folder(self) -> Path:
        """Where the results lie."""
        return Path(self._folder.name)

    @property
    def over(self) -> bool:
        """Whether nothing more will happen."""
        return self.state != "reading"

    def wait(self) -> None:
        """Returns when the job is over."""
        self._thread.join()

    def stop(self) -> None:
        """Ends the job, whatever its state, and removes its files."""
        with self._lock:
            if self.state == "reading":
                self.state = "stopped"
            if self._process:
                self._process.kill()
        self._thread.join()
        self._folder.cleanup()

    def result(self) -> tuple[Imported, list[Fault]]:
        """What was read and found. FormatError where the job failed."""
        if self.state != "ready":
            raise FormatError(self.error or "the import was stopped")
        facts = json.loads((self.folder / "facts.json").read_text())
        mesh = read_mesh((self.folder / "mesh.npz").read_bytes())
        with np.load(self.folder / "faults.npz", allow_pickle=False) as held:
            faults = [
                Fault(cast(Key, key), int(held[key][0]), held[key][1:].astype(np.int32)) for key in held.files
            ]
        images = {
            sha256: Image((self.folder / "images" / sha256).read_bytes(), mime)
            for sha256, mime in facts["images"].items()
        }
        return Imported(mesh, **{**facts, "found": tuple(facts["found"]), "images": images}), faults

    def _run(self) -> None:
        need, free = memory.needed(self.asked.name, self._size), memory.free()
        if free is not None and need > free:
            self._fail(
                f"the file has {memory.in_words(self._size)}, and reading it may take {memory.in_words(need)} of "
                f"memory; this machine has {memory.in_words(free)} free"
            )
            return
        with self._lock:
            if self.over:
                return
            process = self._process = subprocess.Popen(
                [sys.executable, "-m", "pivrel.importing.worker", self._folder.name],
                stdout=subprocess.PIPE,
                text=True,
            )
        threading.Thread(target=self._watch, args=(process, free), daemon=True).start()
        self._listen(process)

    def _listen(self, process: subprocess.Popen[str]) -> None:
        """Follows the process to its end."""
        assert process.stdout is not None
        ended: dict[str, object] = {}
        with process.stdout:
            for line in process.stdout:
                said = json.loads(line)
                if "doing" in said:
                    self.doing, self.share = said["doing"], said["share"]
                else:
                    ended = said
        code = process.wait()
        with self._lock:
            if self.over:
                return
            if ended.get("done") and code == 0:
                self.state = "ready"
            else:
                broken = "the file is broken in a way that stopped its reader; export it anew"
                self._fail(str(ended.get("error", broken)))

    def _watch(self, process: subprocess.Popen[str], limit: int | None) -> None:
        """Stops the process before the machine's memory runs out: estimates can be wrong."""
        while limit is not None and process.poll() is None:
            taken, free = memory.taken(process.pid), memory.free()
            if taken > limit or (free is not None and free < LEAST_FREE):
                with self._lock:
                    self._fail(
                        f"reading the file has taken {memory.in_words(taken)} of memory, and this machine "
                        "has no more"
                    )
                process.kill()
            time.sleep(WATCHED_EVERY_S)

    def _fail(self, why: str) -> None:
        self.error, self.state = why, "failed"
