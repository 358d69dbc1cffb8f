"""Which code made what is kept: a short text that is another one as soon as any of that code is."""

from __future__ import annotations

import hashlib
from functools import cache
from importlib.util import find_spec
from pathlib import Path

PICTURES = ("pivrel.core", "pivrel.formats", "pivrel.materials", "pivrel.project", "pivrel.recipe")
"""What draws the picture of a project."""

LIBRARY = ("pivrel.core", "pivrel.materials")
"""What makes the built-in materials."""


@cache
def code_of(packages: tuple[str, ...]) -> str:
    """A digest of the text of every module of some packages, as it was when this process first asked."""
    told = hashlib.sha256()
    for package in packages:
        found = find_spec(package)
        assert found and found.submodule_search_locations
        folder = Path(found.submodule_search_locations[0])
        for path in sorted(folder.rglob("*.py")):
            for word in (str(path.relative_to(folder)).encode(), path.read_bytes()):
                told.update(len(word).to_bytes(8, "little") + word)
    return told.hexdigest()[:40]
