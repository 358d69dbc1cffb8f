"""One import: a process that reads, watched from a thread, until it is done, fails or is stopped."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
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
from pivrel.importing import leftovers, memory
from pivrel.materials.images import Image
from pivrel.store.blobs import read_mesh

WATCHED_EVERY_S = 0.2
LEAST_FREE = 128 << 20

LONGEST_S = 60 * float(os.environ.get("PIVREL_IMPORT_MINUTES", "20"))
"""After this a reader is ended: what takes longer is broken, or made to take for ever."""

AT_ONCE = max(2, min(6, os.cpu_count() or 2))
_TURNS = threading.BoundedSemaphore(AT_ONCE)
"""So many readers run side by side; the next one waits for one of them to end."""


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
        """Starts to read; files: by their names, or the folder where they lie. OSError where there is no room."""
        self.asked = asked
        self.state: Literal["reading", "ready", "failed", "stopped"] = "reading"
        self.doing, self.share, self.error = "starting", 0.0, ""
        self.folder = leftovers.new_folder()
        """Where the files and the results lie."""
        self._process: subprocess.Popen[str] | None = None
        self._lock = threading.Lock()
        self._source = files if isinstance(files, Path) else self.folder / "files"
        try:
            if not isinstance(files, Path):
                for name, data in files.items():
                    target = self._source / safe_relative(name)
                    target.parent.mkdir(parents=True, exist_ok=True)
                    target.write_bytes(data)
            request = {**vars(asked), "folder": str(self._source)}
            (self.folder / "request.json").write_text(json.dumps(request))
            self._size = (self._source / asked.name).stat().st_size
        except OSError:
            shutil.rmtree(self.folder, ignore_errors=True)
            raise
        self._thread = threading.Thread(target=self._run, daemon=True)
        self._thread.start()

    def file(self, name: str) -> bytes:
        """A file as it came in."""
        return (self._source / safe_relative(name)).read_bytes()

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
        shutil.rmtree(self.folder, ignore_errors=True)

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
        self.doing = "waiting for other imports to end"
        while not _TURNS.acquire(timeout=WATCHED_EVERY_S):
            if self.over:
                return
        try:
            self._read()
        finally:
            _TURNS.release()

    def _read(self) -> None:
        self.doing = "starting"
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
            # Its input stays open as long as this process lives, and ends with it.
            process = self._process = subprocess.Popen(
                [sys.executable, "-m", "pivrel.importing.worker", str(self.folder)],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                text=True,
            )
        threading.Thread(target=self._watch, args=(process, free), daemon=True).start()
        self._listen(process)

    def _listen(self, process: subprocess.Popen[str]) -> None:
        """Follows the process to its end."""
        assert process.stdout is not None and process.stdin is not None
        ended: dict[str, object] = {}
        with process.stdin, process.stdout:
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
        """Stops the process before the machine's memory runs out, or when it takes too long: estimates can be wrong."""
        begun = time.monotonic()
        while process.poll() is None:
            taken, free = memory.taken(process.pid), memory.free()
            why = None
            if limit is not None and (taken > limit or (free is not None and free < LEAST_FREE)):
                why = f"reading the file has taken {memory.in_words(taken)} of memory, and this machine has no more"
            elif time.monotonic() - begun > LONGEST_S:
                why = (
                    f"reading the file has taken more than {LONGEST_S / 60:g} minutes, so it was ended; the "
                    "environment's PIVREL_IMPORT_MINUTES allows more"
                )
            if why:
                with self._lock:
                    self._fail(why)
                process.kill()
            time.sleep(WATCHED_EVERY_S)

    def _fail(self, why: str) -> None:
        self.error, self.state = why, "failed"
