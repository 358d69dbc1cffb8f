"""The folders of imports: named after the process that owns them, so that those of a dead one can be swept."""

from __future__ import annotations

import os
import re
import shutil
import tempfile
from pathlib import Path

PREFIX = "pivrel-import-"
_NAMED = re.compile(rf"{PREFIX}(\d+)-")


def new_folder() -> Path:
    """A folder for one import of this process, in the system's folder for temporary files."""
    return Path(tempfile.mkdtemp(prefix=f"{PREFIX}{os.getpid()}-"))


def _alive(pid: int) -> bool:
    """Whether a process of this number runs."""
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return True


def sweep() -> int:
    """Removes the folders whose process is gone; how many."""
    gone = [
        folder
        for folder in Path(tempfile.gettempdir()).glob(f"{PREFIX}*")
        if (named := _NAMED.match(folder.name)) and not _alive(int(named.group(1)))
    ]
    for folder in gone:
        shutil.rmtree(folder, ignore_errors=True)
    return len(gone)


def end_all() -> None:
    """Removes what this process has left; its imports are over."""
    for folder in Path(tempfile.gettempdir()).glob(f"{PREFIX}{os.getpid()}-*"):
        shutil.rmtree(folder, ignore_errors=True)
