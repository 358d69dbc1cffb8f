"""The files that belong to one model: a folder on disk or the files of one upload."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path, PurePosixPath
from typing import Protocol
from urllib.parse import unquote

from pivrel.errors import InputError

MAX_FILE_BYTES = 2 << 30


class FormatError(InputError):
    """A file that cannot be read or written; the message is one sentence: what, and where."""


class Bundle(Protocol):
    """Files by the relative names that a model uses for them."""

    def read(self, name: str) -> bytes | None:
        """The bytes of a file, or None where there is none. FormatError for an unsafe name."""
        ...


def safe_relative(name: str) -> PurePosixPath:
    """A relative path that stays in its folder; FormatError where it does not."""
    path = PurePosixPath(name.replace("\\", "/"))
    windows_drive = len(name) > 1 and name[1] == ":"
    depth = 0
    for piece in path.parts:
        depth += -1 if piece == ".." else 1
        if depth < 0:
            break
    if path.is_absolute() or windows_drive or depth < 0 or "\0" in name:
        raise FormatError(f"the path {name[:200]!r} leaves the model's folder")
    return path


class Folder:
    """A bundle on disk; links that lead out of the folder are refused like paths that do."""

    def __init__(self, root: Path) -> None:
        self.root = root.resolve()

    def read(self, name: str) -> bytes | None:
        try:
            path = (self.root / safe_relative(name)).resolve()
            if not path.is_relative_to(self.root):
                raise FormatError(f"the path {name!r} leaves the model's folder")
            return path.read_bytes() if path.is_file() else None
        except (OSError, UnicodeEncodeError):
            # No disk keeps such a name, so there is no such file.
            return None


class Upload:
    """A bundle in memory. Browsers send bare file names, so a path also matches by its last piece."""

    def __init__(self, files: Mapping[str, bytes]) -> None:
        self.files = {str(safe_relative(name)): data for name, data in files.items()}
        self.by_last_piece = {PurePosixPath(n).name: data for n, data in self.files.items()}

    def read(self, name: str) -> bytes | None:
        path = safe_relative(name)
        return self.files.get(str(path), self.by_last_piece.get(path.name))


def from_uri(uri: str) -> str:
    """The relative file name that a URI reference in a model file stands for."""
    if "://" in uri:
        raise FormatError(f"the path {uri[:80]!r} is an address; only files beside the model are read")
    return unquote(uri)
