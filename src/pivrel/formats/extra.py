"""Libraries that are installed by themselves, for those who need them: `pip install 'pivrel[step]'`."""

from __future__ import annotations

from dataclasses import dataclass
from importlib.util import find_spec


@dataclass(frozen=True)
class Extra:
    """An optional library. name: as pip takes it, in brackets. module: what is imported. what: in words."""

    name: str
    module: str
    what: str

    @property
    def is_there(self) -> bool:
        """Whether it is installed; it is not loaded for that."""
        try:
            return find_spec(self.module) is not None
        except ValueError:
            # Somebody has put something else in its place.
            return False

    @property
    def missing(self) -> str:
        """What to do where it is not installed, after the name of what needs it."""
        return f"needs {self.what}, which is not installed here: pip install 'pivrel[{self.name}]'"


STEP = Extra("step", "OCP", "the CAD kernel")
IFC = Extra("ifc", "ifcopenshell", "the IFC library")
