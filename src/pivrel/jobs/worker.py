"""The process of one job: `python -m pivrel.jobs.worker FOLDER`.

FOLDER holds request.json and takes the results. Without one the process loads what most jobs need, and waits for the
name of its folder as a line on standard input. Each line on standard output is JSON: what is being done and how much
of it, what can be read already, at last {"done": true} or {"error": ...}.
"""

from __future__ import annotations

import importlib
import json
import logging
import os
import select
import sys
import tempfile
import threading
from pathlib import Path

from pivrel.errors import PivrelError
from pivrel.jobs.compiling import listen
from pivrel.jobs.line import Line
from pivrel.memory import keep_freed_memory
from pivrel.parent import end_with_parent
from pivrel.store.errors import told

WORK = {
    "import": "pivrel.jobs.read_model",
    "plan": "pivrel.jobs.bake_model",
    "bake": "pivrel.jobs.bake_model",
    "trials": "pivrel.jobs.try_model",
    "files": "pivrel.jobs.write_model",
}
"""Every kind of job, and the module whose `work` does it. A new kind is a module and a line here."""


COMPILING = "compiling what is used for the first time on this machine"

BEHIND = 10
"""How far a job steps back from the processors where others want them too, of 19."""


def end_with_input() -> None:
    """The same where the kernel does not see to it: the input ends with whoever holds its other end."""

    def wait() -> None:
        # Not by sys.stdin, whose lock would be held when the process ends by itself.
        while os.read(0, 1):
            pass
        os._exit(1)

    threading.Thread(target=wait, daemon=True).start()


class _Telling(logging.Handler):
    """Tells whoever waits for the job, or will, that something has to be compiled first."""

    def __init__(self, line: Line) -> None:
        super().__init__()
        self.line = line

    def emit(self, _: logging.LogRecord) -> None:
        self.line.tell(COMPILING, 0.0)


def named() -> str:
    """The folder that this process is told to work in; it ends where it is told none."""
    importlib.import_module("pivrel.jobs.preparing").prepare(lambda: not select.select([0], [], [], 0)[0])
    line = sys.stdin.readline()
    if not line:
        sys.exit(0)
    return line.removesuffix("\n")


def main() -> None:
    """Does the work, and says how it ended."""
    end_with_parent()
    keep_freed_memory()
    # Whoever edits meanwhile goes first.
    os.nice(BEHIND)
    line = Line()
    listen(_Telling(line))
    folder = Path(sys.argv[1] if len(sys.argv) > 1 else named())
    end_with_input()
    try:
        request = json.loads((folder / "request.json").read_text())
        importlib.import_module(WORK[request["kind"]]).work(folder, request, line)
    except PivrelError as error:
        line.say(error=str(error))
    except OSError as error:
        line.say(
            error=str(told(error, tempfile.gettempdir()) or f"the file cannot be read: {error.strerror}")
        )
    except MemoryError:
        line.say(error="there is not enough memory for this model")
    else:
        line.say(done=True)
    # Whoever waits for the result does not wait until all is put away.
    os._exit(0)


if __name__ == "__main__":
    main()
