"""How a finish looks beside its images: lighter, darker, rougher, flatter; some faces otherwise, each piece a little."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from typing import Literal

from pivrel.core.picks import Pick

Color = tuple[float, float, float]
"""Linear red, green and blue, 0 to 1."""


@dataclass(frozen=True)
class Tone:
    """tint, lightness: multiply the base color. roughness, bump: how much rougher it is, how much stronger its bumps."""

    tint: Color | None = None
    lightness: float = 1.0
    roughness: float = 1.0
    bump: float = 1.0

    @property
    def factors(self) -> tuple[float, float, float, float, float]:
        """What red, green and blue, roughness and bumps are multiplied by."""
        red, green, blue = self.tint or (1.0, 1.0, 1.0)
        light = self.lightness
        return red * light, green * light, blue * light, self.roughness, self.bump


AS_IT_IS = Tone()


@dataclass(frozen=True)
class TonedFaces:
    """Faces of a finish that look otherwise than the rest; several on one face multiply."""

    pick: Pick
    tone: Tone


SpreadBy = Literal["part", "board", "unit", "cell"]


@dataclass(frozen=True)
class Spread:
    """Each piece is a little lighter or darker, by no more than a share of it, by a hash of the seed and its name.

    by: a part, a connected piece, a unit of the material (a brick), a random cell.
    """

    by: SpreadBy
    lightness: float = 0.06
    seed: int = 1

    def of(self, name: str) -> float:
        """The lightness of a piece by its name: steady whatever others come and go."""
        digest = hashlib.blake2b(f"{self.seed}\0{name}\0tone".encode(), digest_size=8).digest()
        return 1 + self.lightness * (2 * int.from_bytes(digest, "little") / 2**64 - 1)
