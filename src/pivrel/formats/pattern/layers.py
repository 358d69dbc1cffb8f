"""What a pattern draws, layer by layer; every format writes the same."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.pattern.pattern import Fold, PatternPiece
from pivrel.core.pattern.seams import Mark

LAYERS = ("OUTLINE", "INNER_CUT", "FOLD", "GRAIN", "NUMBER", "MARK", "MATERIAL")
"""By their names in every file; a laser cuts the first two."""

MARK_MM = 5.0
"""How long a matching mark is."""


@dataclass(frozen=True)
class Words:
    """Words at a place (2,) mm, so many mm high."""

    text: str
    at: Floats
    height_mm: float


@dataclass
class Drawn:
    """One piece's lines and words. rings are closed."""

    number: int
    rings: list[tuple[str, Floats]] = field(default_factory=list)
    lines: list[tuple[str, Floats]] = field(default_factory=list)
    words: list[tuple[str, Words]] = field(default_factory=list)
    folds: tuple[Fold, ...] = ()


def drawn(pattern: Sequence[PatternPiece], material: str) -> list[Drawn]:
    """Every piece of a pattern, drawn."""
    return [_piece(piece, material) for piece in pattern]


def _piece(piece: PatternPiece, material: str) -> Drawn:
    height = float(np.clip(0.05 * np.sqrt(piece.area_mm2), 2.0, 25.0))
    out = Drawn(piece.number, folds=piece.folds)
    out.rings = [("OUTLINE", ring) for ring in piece.rings]
    out.lines = [("INNER_CUT", slit) for slit in piece.slits]
    out.lines += [("GRAIN", line) for line in _arrow(piece.grain)]
    middle = piece.grain.mean(axis=0)
    out.words.append(("NUMBER", Words(str(piece.number), middle + np.array([0.0, 0.6 * height]), height)))
    told = f"{piece.part} - {material}" if piece.part else material
    out.words.append(("MATERIAL", Words(told, middle - np.array([0.0, 1.6 * height]), 0.6 * height)))
    for fold in piece.folds:
        beside = fold.ends.mean(axis=0) + np.array([0.0, 2.0])
        out.words.append(("FOLD", Words(f"{fold.angle_deg:.1f} deg", beside, 0.5 * MARK_MM)))
    for mark in piece.marks:
        out.lines.append(("MARK", _tick(mark)))
        out.words.append(
            ("MARK", Words(str(mark.seam), mark.at + (MARK_MM + 1) * mark.inward, 0.5 * MARK_MM))
        )
    return out


def _tick(mark: Mark) -> Floats:
    return np.stack([mark.at, mark.at + MARK_MM * mark.inward])


def _arrow(grain: Floats) -> list[Floats]:
    """The shaft, and the two sides of its tip."""
    tail, tip = grain
    back = 0.15 * (tail - tip)
    aside = np.array([-back[1], back[0]]) * 0.5
    return [grain, np.stack([tip, tip + back + aside]), np.stack([tip, tip + back - aside])]


def extent(pieces: Sequence[Drawn]) -> tuple[Floats, Floats]:
    """The lowest and the highest place of all outlines, mm."""
    places = np.concatenate([ring for piece in pieces for _, ring in piece.rings])
    return places.min(axis=0), places.max(axis=0)
