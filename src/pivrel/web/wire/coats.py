"""What the view needs beside a finish's own laying to draw its coats."""

from __future__ import annotations

from pivrel.recipe import DatumModel, Triple
from pivrel.recipe.coats import CoatModel
from pivrel.recipe.values import Name
from pivrel.web.wire.base import Answer, Request


class CoatSet(Answer):
    """Coats kept under a name, by the names of each."""

    name: str
    coats: list[str]


class CoatSetNamed(Request):
    """Which kept coats."""

    name: Name


class KeptCoats(Answer):
    """Kept coats as they would lie over a finish."""

    coats: list[CoatModel]


class OverState(Answer):
    """A sheet of a coat or of a mask, in the order in which they are stated.

    laying_key: of one with a laying of its own, None for one that lies as the finish beneath it, or is triplanar.
    datum: what a triplanar one measures from.
    """

    laying_key: str | None
    datum: DatumModel | None


class GridState(Answer):
    """The lines of a mask in the texels of a packet, each of four numbers.

    origin: of the grid, mm from the view's origin. cells: the first texel of the cells, each with where its rows begin and
    how many they are. rows: the first texel of the rows, four lines a texel. lines: the first texel of the lines, three a
    line: an end and its radius, the other end, and the side of the surface it lies on.
    """

    origin: Triple
    cell_mm: float
    counts: tuple[int, int, int]
    soft_mm: float
    cells: int
    rows: int
    lines: int


class LinesHeader(Answer):
    """The grids of a finish's masks, in the order in which they are stated, each once."""

    grids: list[GridState]
