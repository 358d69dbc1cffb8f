"""Models that other people made, as packages of the registries ship them."""

from __future__ import annotations

import importlib.util
from pathlib import Path


def compas_sample(name: str) -> Path:
    """A sample of the COMPAS framework (compas 2.15.1, MIT licence)."""
    found = importlib.util.find_spec("compas")
    assert found and found.submodule_search_locations, "compas is in requirements-dev.txt"
    return Path(found.submodule_search_locations[0]) / "data" / "samples" / name
