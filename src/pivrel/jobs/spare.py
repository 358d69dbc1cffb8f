"""A process that stands ready for the next job: starting Python and loading compiled kernels take as long as reading
a quarter of a million triangles."""

from __future__ import annotations

import subprocess
import sys
import threading
from queue import SimpleQueue

from pivrel.parent import environment


def started(*folder: str) -> subprocess.Popen[str]:
    """A process for a job: of the folder that is named, or one that waits for its name as a line of its input.

    Its input stays open as long as this process lives, and ends with it.
    """
    return subprocess.Popen(
        [sys.executable, "-m", "pivrel.jobs.worker", *folder],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
        env=environment(),
    )


class Spare:
    """Keeps one process ready, and starts the next one as soon as it is taken."""

    def __init__(self) -> None:
        self._wanted = threading.Semaphore(0)
        self._ready: SimpleQueue[subprocess.Popen[str] | None] = SimpleQueue()
        self._thread: threading.Thread | None = None

    def keep(self) -> None:
        """Begins to keep one, for as long as this process lives."""
        if self._thread is None:
            # Processes end with the thread that started them, so this one goes on.
            self._thread = threading.Thread(target=self._start, name="spare", daemon=True)
            self._thread.start()
            self._wanted.release()

    def take(self, folder: str) -> subprocess.Popen[str]:
        """The process that stood ready, at work for a folder; a new one where none is kept, or it has died.

        OSError where the system gives none.
        """
        if self._thread is not None:
            process = self._ready.get()
            self._wanted.release()
            if process is not None and _told(process, folder):
                return process
        return started(folder)

    def _start(self) -> None:
        while self._wanted.acquire():
            try:
                self._ready.put(started())
            except OSError:
                # Whoever takes it tries anew, and is told what is wrong.
                self._ready.put(None)


def _told(process: subprocess.Popen[str], folder: str) -> bool:
    """Tells a waiting process its folder; whether it was there to hear it."""
    assert process.stdin is not None
    try:
        process.stdin.write(f"{folder}\n")
        process.stdin.flush()
    except OSError:
        process.wait()
        return False
    return True


SPARE = Spare()
"""The one of this process. A server keeps it; a command line does not."""
