"""What a pattern draws, layer by layer; every format writes the same."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.geometry.nesting import Board, Nesting
from pivrel.core.pattern.pattern import Fold, PatternPiece
from pivrel.core.pattern.seams import Mark

LAYERS = ("OUTLINE", "INNER_CUT", "FOLD", "GRAIN", "NUMBER", "MARK", "MATERIAL", "BOARD")
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


APART_MM = 100.0
"""So far boards lie apart that are drawn side by side."""


def board_drawn(board: Board, number: int) -> Drawn:
    """A board's border from the origin on, with its number above it."""
    ring = np.array([board.width_mm, board.height_mm]) * [(0, 0), (1, 0), (1, 1), (0, 1)]
    told = f"Board {number} - {board.width_mm:g} x {board.height_mm:g}"
    at = np.array([board.width_mm / 2, board.height_mm + 25.0])
    return Drawn(0, rings=[("BOARD", ring)], words=[("BOARD", Words(told, at, 20.0))])


def boards_drawn(
    pattern: Sequence[PatternPiece], material: str, nesting: Nesting, board: Board
) -> list[list[Drawn]]:
    """The pieces on each board that they were nested on; each board begins at the origin."""
    out = [[board_drawn(board, number + 1)] for number in range(nesting.boards)]
    for piece, place in zip(pattern, nesting.placed, strict=True):
        if place is not None:
            out[place.board].append(_piece(piece.moved(place), material))
    return out


def side_by_side(boards: Sequence[Sequence[Drawn]], board: Board) -> list[Drawn]:
    """All boards in one drawing, one beside the other."""
    step = np.array([board.width_mm + APART_MM, 0.0])
    return [shifted(drawn, number * step) for number, own in enumerate(boards) for drawn in own]


def shifted(drawn: Drawn, by: Floats) -> Drawn:
    """The same elsewhere."""
    return Drawn(
        drawn.number,
        [(layer, ring + by) for layer, ring in drawn.rings],
        [(layer, line + by) for layer, line in drawn.lines],
        [(layer, replace(words, at=words.at + by)) for layer, words in drawn.words],
        tuple(replace(fold, ends=fold.ends + by) for fold in drawn.folds),
    )


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
