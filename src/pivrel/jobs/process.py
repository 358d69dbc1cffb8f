"""A piece of long work: a process of its own, watched from a thread, until it is done, fails or is stopped."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import threading
import time
from collections.abc import Callable, Mapping
from contextlib import suppress
from pathlib import Path
from typing import Literal

from pivrel.formats.bundle import safe_relative
from pivrel.jobs import leftovers, memory
from pivrel.jobs.spare import SPARE, started
from pivrel.memory import resident

WATCHED_EVERY_S = 0.2
LEAST_FREE = 128 << 20

AT_ONCE = max(2, min(6, os.cpu_count() or 2))
"""So many processes run side by side; the next one waits for one of them to end."""

State = Literal["working", "ready", "failed", "stopped"]


class Job:
    """Work in a process of its own. A kind of job says what it is, and puts what goes wrong into words.

    kind: its row in `jobs.worker.WORK`. longest_s: after this the process is ended.
    turns: those of all jobs of its kind.
    doing, share: what is being done, and how much of it (0 to 1). made: the results that can be read already.
    """

    kind: str
    longest_s: float
    turns = threading.BoundedSemaphore(AT_ONCE)

    def __init__(self, request: Mapping[str, object], files: Mapping[str, bytes] | Path) -> None:
        """Starts the work; files: by their names, or the folder where they lie. OSError where there is no room."""
        self.state: State = "working"
        self.doing, self.share, self.error = "starting", 0.0, ""
        self.made = frozenset[str]()
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
            stated = {**request, "kind": self.kind, "folder": str(self._source)}
            (self.folder / "request.json").write_text(json.dumps(stated))
            self._need = self.needed()
        except OSError:
            shutil.rmtree(self.folder, ignore_errors=True)
            raise
        self._thread = threading.Thread(target=self._run, daemon=True)
        self._thread.start()

    def needed(self) -> int:
        """Bytes of memory that the work takes at most, in good faith."""
        raise NotImplementedError

    def too_large(self, need: int, free: int) -> str:
        """What is said where the memory that is free does not do."""
        raise NotImplementedError

    def took_memory(self, taken: int) -> str:
        """What is said where the work took more memory than there is."""
        raise NotImplementedError

    def took_long(self) -> str:
        """What is said where the work took too long."""
        raise NotImplementedError

    def broke(self) -> str:
        """What is said where the process ended without a word."""
        raise NotImplementedError

    def file(self, name: str) -> bytes:
        """A file as it came in."""
        return (self._source / safe_relative(name)).read_bytes()

    @property
    def over(self) -> bool:
        """Whether nothing more will happen."""
        return self.state != "working"

    def wait(self, meanwhile: Callable[[], None] = lambda: None) -> None:
        """Returns when the job is over; meanwhile: called now and then until it is."""
        while self._thread.is_alive():
            meanwhile()
            self._thread.join(WATCHED_EVERY_S)

    def stop(self) -> None:
        """Ends the job, whatever its state, and removes its files."""
        with self._lock:
            if self.state == "working":
                self.state = "stopped"
            if self._process:
                self._process.kill()
        self._thread.join()
        shutil.rmtree(self.folder, ignore_errors=True)

    def _run(self) -> None:
        self.doing = "waiting for other work to end"
        while not self.turns.acquire(timeout=WATCHED_EVERY_S):
            if self.over:
                return
        try:
            self._work()
        finally:
            self.turns.release()

    def _work(self) -> None:
        self.doing = "starting"
        free = memory.free()
        if free is not None and self._need > free:
            self._fail(self.too_large(self._need, free))
            return
        for begin in (SPARE.take, started):
            with self._lock:
                if self.over:
                    return
                try:
                    process = self._process = begin(str(self.folder))
                except OSError as error:
                    self._fail(f"no process could be begun for it: {error.strerror}")
                    return
            threading.Thread(target=self._watch, args=(process, free), daemon=True).start()
            # One that ends without a word was killed before it began, as a process that stands ready may be.
            if self._listen(process, last=begin is started):
                return

    def _listen(self, process: subprocess.Popen[str], last: bool) -> bool:
        """Follows the process to its end; False where it never said anything, and another one may be begun."""
        assert process.stdout is not None and process.stdin is not None
        ended: dict[str, object] = {}
        began = False
        with suppress(BrokenPipeError), process.stdin, process.stdout:
            for line in process.stdout:
                began = True
                said = json.loads(line)
                if "doing" in said:
                    self.doing, self.share = said["doing"], said["share"]
                elif "made" in said:
                    self.made |= {said["made"]}
                else:
                    ended = said
            code = process.wait()
        with self._lock:
            if self.over or not (began or last):
                return self.over
            if ended.get("done") and code == 0:
                self.state = "ready"
            else:
                self._fail(str(ended.get("error", self.broke())))
        return True

    def _watch(self, process: subprocess.Popen[str], limit: int | None) -> None:
        """Stops the process before the machine's memory runs out, or when it takes too long: estimates can be wrong."""
        begun = time.monotonic()
        while process.poll() is None:
            taken, free = resident(process.pid), memory.free()
            why = None
            if limit is not None and (taken > limit or (free is not None and free < LEAST_FREE)):
                why = self.took_memory(taken)
            elif time.monotonic() - begun > self.longest_s:
                why = self.took_long()
            if why:
                with self._lock:
                    self._fail(why)
                process.kill()
            time.sleep(WATCHED_EVERY_S)

    def _fail(self, why: str) -> None:
        self.error, self.state = why, "failed"
