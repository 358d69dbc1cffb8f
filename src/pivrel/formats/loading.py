"""What is loaded when it is needed, for it brings large libraries: named in a registry as "module:function"."""

from __future__ import annotations

import importlib
from typing import Any


def loaded(path: str) -> Any:
    """The function that "module:function" names."""
    module, name = path.split(":")
    return getattr(importlib.import_module(module), name)
