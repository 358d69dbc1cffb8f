"""What something was made from, as a short text beside it: it is made again where that is no longer so.

Times of files do not tell: a checkout of another commit writes them anew, and a file that went leaves none.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from pathlib import Path

LEFT_OUT = {"__pycache__", "node_modules", "static", ".venv"}


def files_below(*roots: Path) -> list[Path]:
    """All files of folders, and files that are named themselves."""
    found: set[Path] = set()
    for root in roots:
        below = root.rglob("*") if root.is_dir() else [root]
        found |= {path for path in below if path.is_file() and not LEFT_OUT & set(path.parts)}
    return sorted(found)


def digest(base: Path, files: Iterable[Path], *more: str) -> str:
    """The names and contents of files, and what else is told."""
    told = hashlib.sha256()
    for path in files:
        for word in (str(path.relative_to(base)).encode(), path.read_bytes()):
            told.update(len(word).to_bytes(8, "little") + word)
    for text in more:
        told.update(text.encode() + b"\0")
    return told.hexdigest()


def is_made_from(stamp: Path, key: str) -> bool:
    """Whether what lies beside a stamp was made from what the key tells."""
    return stamp.is_file() and stamp.read_text().strip() == key
