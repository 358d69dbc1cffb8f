"""The parts of the model before: which of them a new part may be, moved and perhaps renamed."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property

import numpy as np
from scipy.spatial import cKDTree

from pivrel.core.arrays import Floats, Ints, Mask, marked, rows_by
from pivrel.core.revision.faces import SAME_AREA, SAME_MM, Faces, exactly_same

ENOUGH = 0.5
"""A model, or a part, that keeps this share of its area in place has not moved."""

TRIED = 8
"""So many parts of the same shape are tried, the nearest first."""

NEAR = 64
"""So many near ones are looked at for those."""


class OldParts:
    """at: (K_new,) the row of the old face found for each new one, or -1. likely: (P_new,) the part of its name, or -1."""

    def __init__(self, was: Faces, at: Ints, likely: Ints) -> None:
        self._was, self._count = was, int(max(was.part.max(initial=-1), likely.max(initial=-1))) + 1
        known = marked(at[at >= 0], len(was.ids))
        # The last parts of a model may have no faces, and names all the same.
        count = self._count
        left = np.bincount(was.part, was.area * ~known, count)
        self._area = np.bincount(was.part, was.area, count)
        self._likely = likely
        self._free = (self._area > 0) & (left >= (1 - ENOUGH) * self._area)
        self._centre = was.centres(count)
        self._faces = np.bincount(was.part, minlength=count)
        self._trees: dict[int, tuple[Ints, cKDTree]] = {}

    @cached_property
    def own(self) -> list[Ints]:
        """The rows of each part's faces."""
        return rows_by(self._was.part, self._count)

    def moved_as_named(self, now: Faces, placed: Floats) -> tuple[Mask, Ints, Floats]:
        """(P,) new parts that are those of the same name, moved as a whole; (K_new,) old faces, and (P, 3) shifts.

        All of them at once, by the middles of their area. placed: (P,) the share of each new part found where it was.
        """
        likely = self._likely
        parts = len(likely)
        named, sizes = np.maximum(likely, 0), np.bincount(now.part, minlength=parts)
        asked = (likely >= 0) & (placed < 1 - SAME_AREA) & (sizes == self._faces[named]) & (sizes > 0)
        asked &= self._free[named] | (placed >= ENOUGH)
        # Of several new parts of one name the first is the old one.
        asked[
            np.setdiff1d(np.flatnonzero(asked), np.unique(np.where(asked, likely, -1), return_index=True)[1])
        ] = False
        shift = np.where(asked[:, None], now.centres(parts) - self._centre[named], 0.0)
        asked &= np.abs(shift).max(axis=1) > SAME_MM
        same = np.full(len(now.ids), -1)
        rows = np.flatnonzero(asked[now.part])
        went = np.full((self._count, 3), np.nan)
        went[likely[asked]] = shift[asked]
        gone = np.flatnonzero(~np.isnan(went[self._was.part, 0]))
        there = self._was.only(gone)
        found = exactly_same(there.shifted(went[there.part]), now.only(rows), likely[now.part[rows]])
        found = np.where(found >= 0, gone[found], -1)
        same[rows] = np.where(self._was.part[found] == likely[now.part[rows]], found, -1)
        brings = np.bincount(now.part, now.area * (same >= 0), parts)
        whole = np.bincount(now.part, now.area, parts)
        return asked & (brings >= (1 - SAME_AREA) * whole), same, shift

    def take(self, part: int) -> None:
        """No other new part can be this one."""
        self._free[part] = False

    def tried(self, part: int, here: Faces, has_gone: bool) -> Iterator[int]:
        """Old parts that the faces of a new one may come from, the likeliest first.

        has_gone: whether most of the new part is found nowhere; where it is
        not, the part of the same name alone can tell that it has moved all the same.
        """
        likely = int(self._likely[part])
        if likely >= 0 and (self._free[likely] or (not has_gone and len(self.own[likely]) == len(here.ids))):
            yield likely
        if has_gone:
            yield from (other for other in self._alike(here) if other != likely and self._free[other])

    def _alike(self, here: Faces) -> list[int]:
        """Parts with as many faces of the same areas, the nearest first."""
        if len(here.ids) not in self._trees:
            rows = np.flatnonzero(self._free & (self._faces == len(here.ids)))
            self._trees[len(here.ids)] = rows, cKDTree(self._centre[rows].reshape(-1, 3))
        rows, tree = self._trees[len(here.ids)]
        if not len(rows):
            return []
        wanted = np.sort(here.area)
        near = np.atleast_1d(tree.query(here.centre, k=min(NEAR, len(rows)))[1])
        alike = (part for part in rows[near].tolist() if self._free[part] and self._has(part, wanted))
        return [part for _, part in zip(range(TRIED), alike, strict=False)]

    def _has(self, part: int, wanted: Floats) -> bool:
        """Whether a part has faces of these areas (K,), ascending."""
        areas = np.sort(self._was.area[self.own[part]])
        return bool(np.abs(areas - wanted).max() <= SAME_AREA * max(float(wanted.max()), 1e-9))
