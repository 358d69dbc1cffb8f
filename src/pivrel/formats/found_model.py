"""What a reader takes, and what it makes of a file."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from pivrel.core.geometry.mesh import Mesh
from pivrel.formats.bundle import Bundle
from pivrel.formats.source_images import SourceImages

Tell = Callable[[str, float], None]
"""Is told what is being done, and how much of it is done (0 to 1)."""


def no_telling(doing: str, share: float) -> None:
    """Nobody listens."""


@dataclass(frozen=True)
class GivenFile:
    """A file to be read. bundle: the files beside it. tolerance_mm: how far facets may lie from exact surfaces."""

    data: bytes
    bundle: Bundle
    tolerance_mm: float | None = None
    tell: Tell = no_telling


@dataclass(frozen=True)
class FoundModel:
    """What a reader made of a file. unit: where the file itself states it. images: what the file brings."""

    mesh: Mesh
    unit: str | None = None
    images: SourceImages = field(default_factory=SourceImages)
    tolerance_mm: float | None = None
