"""Compiled kernels as files of the user's cache folder: looked up, kept, and swept when nobody has used them for long."""

from __future__ import annotations

import atexit
import hashlib
import logging
import os
import shutil
import tempfile
import time
from functools import cache
from pathlib import Path

from filelock import FileLock, Timeout
from platformdirs import user_cache_path

KEPT_S = 30 * 86400
"""How long what nobody uses is kept."""

NOTED_S = 86400
"""How often a use is written down, and how often is swept."""

FOLDER = "PIVREL_KERNELS"
"""The environment variable that names another folder: processes that this one begins find its temporary one by it."""

CHECKED = hashlib.sha256().digest_size

log = logging.getLogger("pivrel.kernels")


@cache
def user_store() -> KernelStore:
    """The store of this process: in the user's cache folder, or, where that cannot be written, a temporary one."""
    return KernelStore(Path(os.environ[FOLDER]) if FOLDER in os.environ else _user_folder())


def _user_folder() -> Path:
    """The folder in the user's cache; a temporary one that goes with this process where nothing can be written there."""
    folder = user_cache_path("pivrel") / "kernels"
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=folder):
            return folder
    except OSError as error:
        log.warning(
            "compiled code cannot be kept in %s (%s): each start compiles it again", folder, error.strerror
        )
        folder = Path(tempfile.mkdtemp(prefix="pivrel-kernels-"))
        atexit.register(shutil.rmtree, folder, ignore_errors=True)
        os.environ[FOLDER] = str(folder)
        return folder


class KernelStore:
    """A folder of files by name. Any number of processes may use it; a file is there whole or not at all.

    Beside the files, `users` has a file for each process that runs: the names that it has used, locked as long as it
    lives. So a sweep, of whichever process, leaves what a server uses that has been running for months.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._users = folder / "users"
        self._mine: Path | None = None
        self._told = False

    def get(self, name: str) -> bytes | None:
        """What is kept under a name; None where that is nothing, or a file that was damaged."""
        path = self.folder / name
        try:
            data = path.read_bytes()
            if hashlib.sha256(data[CHECKED:]).digest() != data[:CHECKED]:
                path.unlink()
                return None
            if time.time() - path.stat().st_mtime > NOTED_S:
                os.utime(path)
            self._use(name)
        except OSError:
            return None
        return data[CHECKED:]

    def put(self, name: str, data: bytes) -> None:
        """Keeps data under a name; where that fails it says so once, and the next process makes it again."""
        try:
            handle, made = tempfile.mkstemp(dir=self.folder, prefix="new-")
            with os.fdopen(handle, "wb") as file:
                file.write(hashlib.sha256(data).digest() + data)
            Path(made).replace(self.folder / name)
            self._use(name)
        except OSError as error:
            if not self._told:
                log.warning("compiled code cannot be kept in %s (%s)", self.folder, error.strerror)
            self._told = True

    def _use(self, name: str) -> None:
        if self._mine is None:
            self._users.mkdir(exist_ok=True)
            handle, mine = tempfile.mkstemp(dir=self._users, prefix=f"{os.getpid()}-", suffix=".used")
            os.close(handle)
            self._mine = Path(mine)
            self._lock = FileLock(f"{mine}.lock")
            self._lock.acquire()
            atexit.register(self._leave)
            self.sweep()
        with self._mine.open("a") as file:
            file.write(f"{name}\n")

    def _leave(self) -> None:
        """Takes this process off the users."""
        assert self._mine
        self._mine.unlink(missing_ok=True)
        self._lock.release()
        Path(self._lock.lock_file).unlink(missing_ok=True)

    def sweep(self, every_s: float = NOTED_S) -> None:
        """Deletes what nobody has used for long and no running process uses, unless that was done a short while ago."""
        swept = self.folder / "swept"
        now = time.time()
        if swept.exists() and now - swept.stat().st_mtime < every_s:
            return
        swept.touch()
        used = self._in_use()
        for path in self.folder.iterdir():
            if path.is_file() and path.name not in used and now - path.stat().st_mtime > KEPT_S:
                path.unlink(missing_ok=True)

    def _in_use(self) -> set[str]:
        """The names that running processes use; of processes that are gone, their files go."""
        names: set[str] = set()
        for user in self._users.glob("*.used"):
            lock = FileLock(f"{user}.lock")
            try:
                with lock.acquire(timeout=0):
                    user.unlink(missing_ok=True)
                Path(lock.lock_file).unlink(missing_ok=True)
            except Timeout:
                names.update(user.read_text().split())
        return names
