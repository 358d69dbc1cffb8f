"""Nesting: pieces laid close together on boards of a stated size, none over another."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
import shapely
from scipy import fft
from shapely.affinity import rotate

from pivrel.core.arrays import Floats, Mask

Turns = Literal["none", "half", "quarter"]

TURNS: dict[Turns, tuple[float, ...]] = {
    "none": (0.0,),
    "half": (0.0, 180.0),
    "quarter": (0.0, 90.0, 180.0, 270.0),
}
"""Degrees by which a piece may be turned: not at all, end for end, or also across the grain."""

CELLS, LEAST_CELLS = 900, 300
"""A board's longer side is looked at in so many cells, in fewer where there are hundreds of pieces."""

FEW = 60
"""So many pieces are looked at in all the cells, and in more orders."""

TRIES, STIR = 10, 0.2
"""So many orders like the best are tried, each piece's place in them stirred by about such a share."""

LOOSE = 1.4
"""A square that holds pieces packed is about so much larger than they are."""

ROUND = 1.003
"""What is grown by a round border is grown by as much more, for the border is drawn with corners that lie within it."""


@dataclass(frozen=True)
class Board:
    """What pieces are cut from, mm. gap_mm: between pieces. margin_mm: that its borders are left free."""

    width_mm: float
    height_mm: float
    gap_mm: float = 5.0
    margin_mm: float = 5.0


@dataclass(frozen=True)
class Placed:
    """Where a piece lies: on which board, turned by degrees about the sheet's origin and then shifted by (2,) mm."""

    board: int
    turn_deg: float
    shift: Floats

    @property
    def motion(self) -> Floats:
        """(2, 3) the same as turn and shift."""
        angle = np.radians(self.turn_deg)
        c, s = np.cos(angle), np.sin(angle)
        return np.column_stack([[[c, -s], [s, c]], self.shift])

    def at(self, places: Floats) -> Floats:
        """(..., 2) where places (..., 2) mm of the piece come to lie."""
        out: Floats = np.asarray(places) @ self.motion[:, :2].T + self.shift
        return out


@dataclass(frozen=True)
class Nesting:
    """Where pieces lie, None for those that no board holds. boards: how many are used."""

    placed: tuple[Placed | None, ...]
    boards: int


def nest(
    shapes: Sequence[shapely.Geometry], board: Board, turns: Turns = "none", once: bool = False
) -> Nesting:
    """Pieces on as few boards as are found; the best of some orders, or in one order alone.

    Each goes to the place furthest left, and of those furthest down, at which it meets nothing: bottom-left fill on a
    grid of cells, with all places tried at once by a convolution. E. K. Burke, R. Hellier, G. Kendall and G. Whitwell,
    "A new bottom-left-fill heuristic algorithm for the two-dimensional irregular packing problem", Operations Research
    54(3), 2006. Cells are taken as full where a piece, with half of the gap about it, touches them: what lies apart here
    lies apart.
    """
    if not shapes:
        return Nesting((), 0)
    cells = LEAST_CELLS if once else int(np.clip(CELLS * np.sqrt(FEW / len(shapes)), LEAST_CELLS, CELLS))
    grid = _Grid(board, max(board.width_mm, board.height_mm) / cells)
    pieces = [[grid.seen(shape, turn) for turn in TURNS[turns]] for shape in shapes]
    sizes = np.array([shape.bounds for shape in shapes])
    sides = sizes[:, 2:] - sizes[:, :2]
    few = len(shapes) <= FEW and not once
    keys = [-shapely.area(np.asarray(shapes, object))]
    keys += [] if once else [-sides.max(axis=1)]
    keys += [-sides[:, 1], -sides.sum(axis=1)] if few else []
    tried = [(grid.filled(pieces, np.argsort(key, kind="stable").tolist()), key) for key in keys]
    (best, score), key = min(tried, key=lambda one: one[0][1])
    rng = np.random.default_rng(0)
    for _ in range(TRIES // len(TURNS[turns]) if few else 0):
        stirred = key * np.exp(rng.normal(0.0, STIR, len(key)))
        found, reached = grid.filled(pieces, np.argsort(stirred, kind="stable").tolist())
        if reached < score:
            best, score, key = found, reached, stirred
    return best


def packed(shapes: Sequence[shapely.Geometry], gap_mm: float, turns: Turns = "none") -> list[Placed]:
    """Pieces close together in about a square that begins at the origin, at least a gap apart."""
    sizes = np.array([shape.bounds for shape in shapes])
    sides = sizes[:, 2:] - sizes[:, :2] + gap_mm
    if turns == "quarter":
        sides = np.maximum(sides, sides[:, ::-1])
    area = sum(shape.buffer(gap_mm / 2).area for shape in shapes)
    height = max(float(np.sqrt(LOOSE * area)), float(sides[:, 1].max()))
    # Long enough whatever happens: the pieces one after another.
    width = min(float(sides[:, 0].sum()), 4 * area / height + 2 * float(sides[:, 0].max()))
    nesting = nest(shapes, Board(width * 1.01, height * 1.01, gap_mm, 0.0), turns)
    assert nesting.boards == 1, "the board is long enough for all"
    return [place for place in nesting.placed if place is not None]


@dataclass(frozen=True)
class _Seen:
    """A turned piece in cells: (h, w) which it takes, where its lower left cell begins, and the mask's transform."""

    turn_deg: float
    mask: Mask
    low: Floats
    spectrum: np.ndarray


@dataclass
class _Open:
    """A board being filled: (H, W) which cells are taken, and their transform."""

    taken: np.ndarray
    spectrum: np.ndarray
    reach: int = 0


@dataclass(frozen=True)
class _Grid:
    """A board in cells of some mm."""

    board: Board
    cell: float
    shape: tuple[int, int] = field(init=False)
    padded: tuple[int, int] = field(init=False)

    def __post_init__(self) -> None:
        # Half of the gap lies about every piece, and may lie over the margin.
        free = self.board.gap_mm - 2 * self.board.margin_mm
        sides = (self.board.height_mm + free, self.board.width_mm + free)
        rows, columns = (max(int(np.floor(side / self.cell + 1e-9)), 0) for side in sides)
        object.__setattr__(self, "shape", (rows, columns))
        object.__setattr__(
            self, "padded", (fft.next_fast_len(max(rows, 1)), fft.next_fast_len(max(columns, 1)))
        )

    @property
    def origin(self) -> float:
        """Where the cells begin, along and up, in mm from the board's corner."""
        return self.board.margin_mm - self.board.gap_mm / 2

    def seen(self, shape: shapely.Geometry, turn_deg: float) -> _Seen | None:
        """A piece in cells; None where the board does not hold it."""
        turned = rotate(shape, turn_deg, origin=(0.0, 0.0)) if turn_deg else shape
        half = self.board.gap_mm / 2
        bounds = np.array(turned.bounds)
        low, size = bounds[:2] - half, bounds[2:] - bounds[:2] + 2 * half
        columns, rows = (max(int(np.ceil(side / self.cell - 1e-6)), 1) for side in size)
        if rows > self.shape[0] or columns > self.shape[1]:
            return None
        # A cell is touched where its middle is within half of its diagonal.
        touching = turned.buffer((half + self.cell * np.sqrt(0.5)) * ROUND)
        x = low[0] + (np.arange(columns) + 0.5) * self.cell
        y = low[1] + (np.arange(rows) + 0.5) * self.cell
        shapely.prepare(touching)
        mask = np.asarray(shapely.contains_xy(touching, *np.meshgrid(x, y)))
        return _Seen(turn_deg, mask, low, fft.rfft2(mask.astype(np.float32), self.padded).conj())

    def filled(
        self, pieces: Sequence[Sequence[_Seen | None]], order: Iterable[int]
    ) -> tuple[Nesting, tuple[int, int, int]]:
        """The pieces laid in an order, and how good that is: pieces left out, boards, cells of the last board's length."""
        boards: list[_Open] = []
        placed: list[Placed | None] = [None] * len(pieces)
        for row in order:
            ways = [seen for seen in pieces[row] if seen is not None]
            if not ways:
                continue
            number, seen, at = self._place(boards, ways)
            self._take(boards[number], seen, at)
            shift = np.array([at[1], at[0]]) * self.cell + self.origin - seen.low
            placed[row] = Placed(number, seen.turn_deg, shift)
        left = sum(place is None for place in placed)
        return Nesting(tuple(placed), len(boards)), (left, len(boards), boards[-1].reach if boards else 0)

    def _place(self, boards: list[_Open], ways: Sequence[_Seen]) -> tuple[int, _Seen, tuple[int, int]]:
        """The first board that holds a piece, the turn that ends furthest left there, and its lowest row and column."""
        for number, board in enumerate(boards):
            found = [
                (at[1] + seen.mask.shape[1], seen, at) for seen in ways if (at := self._free(board, seen))
            ]
            if found:
                _, seen, at = min(found, key=lambda one: one[0])
                return number, seen, at
        boards.append(
            _Open(
                np.zeros(self.shape, np.float32),
                np.zeros((self.padded[0], self.padded[1] // 2 + 1), np.complex64),
            )
        )
        least = min(ways, key=lambda seen: seen.mask.shape[1])
        return len(boards) - 1, least, (0, 0)

    def _free(self, board: _Open, seen: _Seen) -> tuple[int, int] | None:
        """The row and column furthest left, and then lowest, at which a piece meets nothing."""
        rows, columns = (side - own + 1 for side, own in zip(self.shape, seen.mask.shape, strict=True))
        met = fft.irfft2(board.spectrum * seen.spectrum, self.padded)[:rows, :columns]
        free = (met < 0.5).T
        at = int(np.argmax(free))
        column, row = divmod(at, rows)
        return (row, column) if free[column, row] else None

    def _take(self, board: _Open, seen: _Seen, at: tuple[int, int]) -> None:
        rows, columns = seen.mask.shape
        board.taken[at[0] : at[0] + rows, at[1] : at[1] + columns][seen.mask] = 1.0
        board.spectrum = fft.rfft2(board.taken, self.padded)
        board.reach = max(board.reach, at[1] + columns)
