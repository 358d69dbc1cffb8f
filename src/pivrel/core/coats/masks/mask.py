"""What every mask is: a number from 0 to 1 at a point of the surface."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, ClassVar, Protocol

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.coats.sheet_over import SheetOver


@dataclass(frozen=True)
class Places:
    """Points on a surface.

    points: (N, 3) mm. normals: (N, 3) unit, those that shade. triangles: (N,) rows of the surface's triangles.
    shares: (N, 3) of the corners of each in its point.
    """

    points: Floats
    normals: Floats
    triangles: Ints
    shares: Floats

    def __len__(self) -> int:
        return len(self.points)


class Given(Protocol):
    """What a mask is told of the finish that it lies on."""

    def near(self, mask: Any, at: Places) -> Floats:
        """(N,) how near each point is to the lines of a mask, 0 to 1."""

    def channel(self, sheet: SheetOver, channel: str, at: Places) -> Floats:
        """(N,) 0 to 1, what a sheet shows of one of its images."""


class Mask(ABC):
    """A kind of mask with its parameters, as a frozen dataclass."""

    kind: ClassVar[str]

    @abstractmethod
    def weight(self, at: Places, given: Given) -> Floats:
        """(N,) 0 to 1 at each point."""

    @property
    def inner(self) -> tuple[Mask, ...]:
        """The masks that it is made of."""
        return ()

    @property
    def sheet(self) -> SheetOver | None:
        """The sheet that it samples."""
        return None

    @property
    def all(self) -> Iterator[Mask]:
        """It and all that it is made of, each before what is within it."""
        yield self
        for mask in self.inner:
            yield from mask.all


def falling(beyond: Floats, soft: float) -> Floats:
    """1 up to 0, and then linearly to 0 over `soft`."""
    if soft <= 0:
        return (beyond <= 0).astype(np.float64)
    return np.clip(1 - beyond / soft, 0, 1)


@dataclass(frozen=True)
class Everywhere(Mask):
    """1 at every point."""

    kind: ClassVar[str] = "everywhere"

    def weight(self, at: Places, given: Given) -> Floats:
        return np.ones(len(at))


EVERYWHERE = Everywhere()
