"""Files of the command line: read with what is wrong told, and written all of them or none."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from pivrel.errors import PivrelError
from pivrel.formats.bundle import MAX_FILE_BYTES


class CommandError(PivrelError):
    """What is wrong, with the file it concerns."""

    def __init__(self, file: Path | str, what: str) -> None:
        super().__init__(f"{file}: {what}")


def read_bytes(path: Path) -> bytes:
    """The bytes of a file that must be there."""
    try:
        if path.stat().st_size > MAX_FILE_BYTES:
            raise CommandError(path, f"the file is larger than {MAX_FILE_BYTES >> 30} GB")
        return path.read_bytes()
    except OSError as error:
        raise CommandError(path, (error.strerror or "cannot be read").lower()) from None


def write_all(folder: Path, files: dict[str, bytes]) -> None:
    """Writes files under temporary names and then moves them, so that none is left half-written."""
    waiting: list[tuple[str, Path]] = []
    try:
        for name, data in files.items():
            handle, temporary = tempfile.mkstemp(dir=folder, prefix=".pivrel-")
            waiting.append((temporary, folder / name))
            with os.fdopen(handle, "wb") as file:
                file.write(data)
            Path(temporary).chmod(0o644)
        for temporary, target in waiting:
            Path(temporary).replace(target)
    except OSError as error:
        raise CommandError(folder, f"cannot be written to: {(error.strerror or '').lower()}") from None
    finally:
        for temporary, _ in waiting:
            Path(temporary).unlink(missing_ok=True)


def new_file(path: Path) -> Path:
    """A file to be written that must not be there yet, in a folder that must."""
    if path.exists():
        raise CommandError(path, "is there already; name another file")
    if not path.absolute().parent.is_dir():
        raise CommandError(path.parent, "there is no such folder")
    return path
