"""Masks of masks."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.coats.masks.mask import Given, Mask, Places


@dataclass(frozen=True)
class Every(Mask):
    """The product of masks; 1 where there is none."""

    masks: tuple[Mask, ...]
    kind: ClassVar[str] = "every"

    @property
    def inner(self) -> tuple[Mask, ...]:
        return self.masks

    def weight(self, at: Places, given: Given) -> Floats:
        out = np.ones(len(at))
        for mask in self.masks:
            out = out * mask.weight(at, given)
        return out


@dataclass(frozen=True)
class AnyOf(Mask):
    """The largest of masks; 0 where there is none."""

    masks: tuple[Mask, ...]
    kind: ClassVar[str] = "any"

    @property
    def inner(self) -> tuple[Mask, ...]:
        return self.masks

    def weight(self, at: Places, given: Given) -> Floats:
        out = np.zeros(len(at))
        for mask in self.masks:
            out = np.maximum(out, mask.weight(at, given))
        return out


@dataclass(frozen=True)
class Not(Mask):
    """What a mask leaves out."""

    mask: Mask
    kind: ClassVar[str] = "not"

    @property
    def inner(self) -> tuple[Mask, ...]:
        return (self.mask,)

    def weight(self, at: Places, given: Given) -> Floats:
        return 1 - self.mask.weight(at, given)
