"""Room that is kept free on the disk, so that deleting works where nothing else does."""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

RESERVE_BYTES = 16 << 20
"""What deleting the largest project writes before its room is given back."""

SPARE = 4
"""The reserve is taken while the disk has so many times as much room."""


class Reserve:
    """A file that stands for the room. Whoever serves a folder keeps it."""

    def __init__(self, path: Path) -> None:
        self.path, self._kept = path, False

    def keep(self) -> None:
        """Takes the room from now on, whenever there is enough."""
        self._kept = True
        self._take()

    @property
    def is_short(self) -> bool:
        """Whether the disk has less room than the reserve."""
        try:
            return shutil.disk_usage(self.path.parent).free < RESERVE_BYTES
        except OSError:
            return False

    @contextmanager
    def given_up(self) -> Iterator[None]:
        """Where the disk is full, the room is there for what is done within; it is taken again once there is enough."""
        if self.is_short:
            with suppress(OSError):
                self.path.unlink()
        try:
            yield
        finally:
            self._take()

    def _take(self) -> None:
        # A folder that cannot be written to is told by whoever has to write there.
        with suppress(OSError):
            if (
                not self._kept
                or self.path.exists()
                or shutil.disk_usage(self.path.parent).free < SPARE * RESERVE_BYTES
            ):
                return
            with self.path.open("wb") as file:
                if hasattr(os, "posix_fallocate"):
                    os.posix_fallocate(file.fileno(), 0, RESERVE_BYTES)
