"""A model as it came in, with how its file measured it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

import numpy as np

from pivrel.core.geometry.mesh import Mesh, MeshError, within_reach
from pivrel.formats.bundle import FormatError
from pivrel.formats.convention import Convention, from_model, to_model
from pivrel.formats.guessing import unit_by_size
from pivrel.formats.units import MM

if TYPE_CHECKING:
    from pivrel.materials.images import Image


@dataclass(frozen=True)
class Imported:
    """A model as it came in: its mesh, how the file measured it, and what was found on the way.

    asks: whether the format states neither unit nor axis. tolerance_mm: how far facets may lie from the
    exact surfaces, for formats that have those. images: those of the source materials, by content hash, and
    image_names what the file calls them. why: the reason of a guess, in words.
    """

    mesh: Mesh
    unit: str
    up: str
    guessed: bool
    found: tuple[str, ...]
    asks: bool = False
    tolerance_mm: float | None = None
    images: Mapping[str, Image] = field(default_factory=dict)
    image_names: Mapping[str, str] = field(default_factory=dict)
    why: str = ""

    @property
    def convention(self) -> Convention:
        """The unit and axes to write an OBJ back in."""
        return Convention.of(self.unit, self.up)

    def read_as(self, unit: str | None, up: str | None, size_mm: float | None = None) -> Imported:
        """The same file with its numbers read in another unit or with another axis up.

        size_mm: about how large its largest side is, for a guess of the unit where none is given.
        """
        if not self.asks:
            return self
        if unit is None and size_mm is not None:
            largest = float(np.ptp(self.mesh.bounds(), axis=0).max()) / MM[self.unit]
            guess = unit_by_size(largest, size_mm)
            if guess is not None:
                why = f"read in {guess} it is about as large as the model before"
                return replace(self.read_as(guess, up), guessed=True, why=why)
        wanted = Convention.of(unit or self.unit, up or self.up)
        if wanted == self.convention:
            return replace(self, guessed=unit is None or up is None)
        mesh = in_reach(in_space(in_space(self.mesh, self.convention, from_model), wanted, to_model))
        guessed = unit is None or up is None
        return replace(self, mesh=mesh, unit=unit or self.unit, up=up or self.up, guessed=guessed)


def in_reach(mesh: Mesh) -> Mesh:
    """The mesh, or FormatError where it lies where nothing can be computed."""
    try:
        return within_reach(mesh)
    except MeshError as error:
        raise FormatError(str(error)) from None


def in_space(mesh: Mesh, convention: Convention, turned: Callable[..., np.ndarray]) -> Mesh:
    """The mesh with points and normals turned by `to_model` or `from_model`."""
    normals = None
    if mesh.normals is not None:
        normals = turned(mesh.normals, replace(convention, mm=1.0)).astype(np.float32)
    return replace(mesh, points=turned(mesh.points, convention), normals=normals)
