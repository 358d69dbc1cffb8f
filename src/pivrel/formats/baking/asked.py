"""What is asked of a bake."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from pivrel.errors import InputError
from pivrel.materials.channels import CHANNELS, Channel

Unfold = Literal["own", "anew"]

SIZES = (64, 16384)
PADDINGS = (0, 64)
MOST_IMAGES = 64
"""So many images a channel are made at most: at 4,096 px they are a gigapixel."""


@dataclass(frozen=True)
class Asked:
    """What is asked.

    px_per_m: texels per metre of the surface. size: the longest side of an image in pixels. padding_px: that are filled
    about each piece, so that smaller copies of the image show nothing of its neighbours. finishes: by their codes, None
    for those that files cannot hold otherwise. unfold: by the finish's own pieces where they lie true, or all
    anew. channels: that are written. height_bits: of the height images.
    """

    px_per_m: float
    size: int = 4096
    padding_px: int = 8
    finishes: tuple[str, ...] | None = None
    unfold: Unfold = "own"
    channels: tuple[Channel, ...] = CHANNELS
    height_bits: Literal[8, 16] = 16

    @property
    def px_per_mm(self) -> float:
        return self.px_per_m / 1000

    def check(self) -> None:
        """InputError where it cannot be done."""
        if not 1e-3 <= self.px_per_m <= 1e6:
            raise InputError(f"{self.px_per_m:g} px/m cannot be baked; ask for 0.001 to 1,000,000")
        if not SIZES[0] <= self.size <= SIZES[1]:
            raise InputError(f"images of {self.size:,} px are not made; ask for {SIZES[0]} to {SIZES[1]:,}")
        if not PADDINGS[0] <= self.padding_px <= PADDINGS[1]:
            raise InputError(f"a padding of {self.padding_px} px is not made; ask for 0 to {PADDINGS[1]}")
        if not self.channels:
            raise InputError("no channel is asked for")
