"""The laid schedule: which finish lies where, and how. The only place that settles, solves, lays and measures.

Everything is kept in the cache that is passed in, by the content that it depends on, so that an edit makes anew
only what it touched.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from contextlib import suppress
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise
from typing import TypeVar

import numpy as np

from pivrel.core.arrays import Floats, Floats32, Ints
from pivrel.core.cache import Cache
from pivrel.core.coats.masks.nearness import Near
from pivrel.core.coats.segments import LineGrid
from pivrel.core.coats.sheet_over import SheetOver
from pivrel.core.content_key import content_key
from pivrel.core.evaluation.coated import Coated
from pivrel.core.evaluation.jumps import Jumps, find_jumps
from pivrel.core.evaluation.settling import LinesOf, Under, grid_of, own_finish, settle_coats
from pivrel.core.evaluation.textures import Textures
from pivrel.core.failures import UNREAD, UNREAD_HELP, Failure, PassingError, RowError, attempt
from pivrel.core.geometry.frames import FrameError
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import (
    BARE,
    Finish,
    Layers,
    Settled,
    lay,
    lay_raw,
    layers_of,
    settle,
    settle_pieces,
    solve,
    with_sheets,
)
from pivrel.core.laying.face_sheets import tie_offs
from pivrel.core.laying.lay import lay_by_corner
from pivrel.core.measure.faces import FaceStretch, face_stretch
from pivrel.core.measure.figures import Figures, left_areas, measure, seams_of, shown_by_face
from pivrel.core.measure.pieces import Pieces, find_pieces
from pivrel.core.measure.seams import Seams
from pivrel.core.picks import as_faces, resolve
from pivrel.core.projection import Solved
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.solution import Solution, joined_troubles

T = TypeVar("T")

FAILURE_BYTES = 1000

VERDICTS = 8
"""So many versions of each row, about, are known to be laid or not."""

NO_FACES = np.empty(0, np.int32)

WHOLLY = 1e-3
"""A face of which a smaller share is left bare counts as covered."""


@dataclass(frozen=True)
class Covering:
    """What a click meets on each face (F,), and what lies there, single sheets told from those that tile.

    drawn: the faces that each finish is laid on: those that it covers and, where it does not tile, those
    that its single sheet lies over.
    """

    face_finish: Ints
    layers: Layers
    drawn: tuple[Ints, ...]
    areas_m2: tuple[float, ...]
    """Of the bare faces, and then of each finish, where no single sheet lies over them."""
    drawn_keys: tuple[str, ...]
    """By finish; changes where the faces do that it is laid on."""
    bare: Ints
    """(K,) int32 ids of the faces that nothing lies on."""


class Rows(dict[str, Finish]):
    """Finishes in their order, by code; never changed once they are made."""

    @cached_property
    def cover_keys(self) -> str:
        """Changes where one of them may cover other faces."""
        return "; ".join([finish.cover_key for finish in self.values()])


@dataclass(frozen=True)
class Schedule:
    """Finishes in their order, by code, laid on a surface.

    mesh: a name for the surface that no other surface has. preview: whether this is a finish under the hand,
    whose states must not crowd out those of the schedule itself. hasty: the row whose solution is under the hand too,
    and need be no more than near enough. owner: whose rows these are, whatever model they lie on: of each of its rows a few
    versions are kept, and those on a model that it had before go first.
    """

    surface: Surface
    mesh: str
    finishes: Mapping[str, Finish]
    cache: Cache
    preview: bool = False
    hasty: str | None = None
    owner: str = ""
    _verdicts: dict[str, str] = field(init=False, repr=False)
    """Why each finish that was tried on this surface cannot be laid, by its `tried_key`; empty where it can."""

    def __post_init__(self) -> None:
        if not isinstance(self.finishes, Rows):
            object.__setattr__(self, "finishes", Rows(self.finishes))
        # Not a cached_property either: this waits for its turn.
        object.__setattr__(self, "_verdicts", self.cache.get("verdicts", self.mesh, dict, lambda _: 1))

    def with_finish(self, key: str, finish: Finish) -> Schedule:
        """The same with another finish in a row, for looking at it; what does not change is not made anew."""
        now, was = ((one.pick_key, self._solved_key(key, one)) for one in (finish, self.finishes[key]))
        hasty = key if now != was else None
        return Schedule(
            self.surface, self.mesh, {**self.finishes, key: finish}, self.cache, True, hasty, self.owner
        )

    @property
    def _whose(self) -> str:
        return self.owner or self.mesh

    @cached_property
    def keys(self) -> list[str]:
        """The finishes' codes in the order of the schedule."""
        return list(self.finishes)

    @cached_property
    def _row(self) -> dict[str, int]:
        return {key: row for row, key in enumerate(self.keys)}

    def _kept(self, room: str, key: str, content: str, make: Callable[[], T], size: Callable[[T], int]) -> T:
        """What is kept of a finish, in a few versions, whatever edits it goes through. RowError where it cannot be made."""
        slot = f"{'preview ' if self.preview else ''}{room} {key} {self._whose}"
        found = self.cache.get(
            room,
            content,
            lambda: attempt(room, key, make),
            lambda made: FAILURE_BYTES if isinstance(made, Failure) else size(made),
            slot,
        )
        if isinstance(found, Failure):
            raise found.error()
        return found

    @property
    def cover_key(self) -> str:
        """Changes where a face may have changed its finish."""
        # Not a cached_property: Python 3.11 makes those of all instances under one lock, and this may wait for its turn.
        if "" not in self._cover_keys:
            assert isinstance(self.finishes, Rows), "made so at the beginning"
            failed = [key for key in self.keys if self.failure(key)]
            self._cover_keys[""] = content_key(
                "cover", self.mesh, self.hasty, failed, self.finishes.cover_keys
            )
        return self._cover_keys[""]

    @cached_property
    def _cover_keys(self) -> dict[str, str]:
        return {}

    def _solved_key(self, key: str, finish: Finish) -> str:
        """Changes where a solution may have changed, and with it the faces that could be laid."""
        return f"{finish.solved_key} hastily" if key == self.hasty else finish.solved_key

    def covering(self) -> Covering:
        """Which face takes which finish."""

        def make() -> Covering:
            count = self.surface.mesh.face_count
            held = ((f.tile, self.held(key)) for key, f in self.finishes.items())
            face_finish, over = layers_of(count, held)
            rows = len(self.keys)
            areas = _areas_by_row(over.base, self.surface.face_areas, rows)
            drawn = list(_by_row(over.base, rows))
            for row, mask in over.singles.items():
                drawn[row] = as_faces(mask)
            drawn_keys = tuple(content_key(faces.tobytes()) for faces in drawn)
            return Covering(face_finish, over, tuple(drawn), areas, drawn_keys, as_faces(face_finish == BARE))

        return self.cache.get("covers", self.cover_key, make, lambda c: c.face_finish.nbytes * 3, self._whose)

    def drawn(self, key: str) -> Ints:
        """(K,) int32 ids of the faces that a finish is laid on, ascending."""
        return self.covering().drawn[self._row[key]]

    def drawn_key(self, key: str) -> str:
        """Changes where the faces that a finish is laid on have changed."""
        return self.covering().drawn_keys[self._row[key]]

    def held_key(self, key: str) -> str:
        """Changes where the faces of a finish's pick may have changed."""
        return content_key(f"held {self.mesh} {self.finishes[key].pick_key}")

    def held(self, key: str) -> Ints:
        """(K,) int32 ids of the faces that a finish can be laid on, covered by later rows or not; none where it is off.

        Those that its pick holds, but for what could not be solved; none where it fails.
        """
        return NO_FACES if self.failure(key) else self._could_hold(key)

    def _could_hold(self, key: str) -> Ints:
        solution = self.solution(key)
        return self.asked(key) if solution is None else solution.faces

    def failure(self, key: str) -> str:
        """Why nothing of a finish can be laid, though its faces are there; empty where it can.

        Each edit asks it of every row: what was found once is found by the finish's own key.
        """
        name = f"{self.finishes[key].tried_key}{' hastily' * (key == self.hasty)}"
        told = self._verdicts.get(name)
        if told is None:
            told = ""
            try:
                self._try(key)
            except PassingError as error:
                return str(error)
            except RowError as error:
                told = str(error)
            if len(self._verdicts) > VERDICTS * (len(self.finishes) + VERDICTS):
                self._verdicts.clear()
            self._verdicts[name] = told
        return told

    def _try(self, key: str) -> None:
        """Lays a finish on all that its pick holds, wherever its sheet is placed. RowError where that fails."""
        if unread := self.finishes[key].unread:
            raise RowError(f"{UNREAD} ({unread}); {UNREAD_HELP}")
        faces = self._could_hold(key)
        self._laid(key, faces, self._laying_key_on(key, content_key(faces.tobytes())), "held")

    def asked(self, key: str) -> Ints:
        """(K,) int32 ids of the faces that a finish's pick holds; none where it is off."""

        def make() -> Ints:
            finish = self.finishes[key]
            return as_faces(resolve(finish.pick, self.surface)) if finish.on else np.empty(0, np.int32)

        return self._kept("held", key, self.held_key(key), make, lambda faces: faces.nbytes)

    def solution(self, key: str) -> Solution | None:
        """The raw laying of a finish that is solved over its region, None for others.

        It outlives every change of turn, offset, scale or material.
        """
        finish = self.finishes[key]
        if not isinstance(finish.projection, Solved):
            return None
        return self._kept(
            "solutions",
            key,
            content_key("solution", self.held_key(key), self._solved_key(key, finish)),
            lambda: solve(finish, self._ground(key), key == self.hasty),
            lambda found: 100 if found is None else found.nbytes,
        )

    def _ground(self, key: str) -> Ground:
        """What a finish is solved over; it outlives every change of what is asked of the solver."""
        return self._kept(
            "grounds",
            key,
            content_key("ground", self.held_key(key)),
            lambda: Ground(self.surface, self.asked(key)),
            lambda ground: ground.nbytes,
        )

    def tie_offs(self, key: str) -> Floats:
        """(N,) mm on the sheet by which each tie of a finish is missed."""
        finish, faces = self.finishes[key], self.held(key)
        if not finish.tie or not len(faces):
            return np.empty(0)
        settled = self.settled(key)
        assert settled.sheets is not None, "what is tied has its sheets settled"
        raw = np.zeros((self.surface.mesh.corner_count, 2))
        raw[self.surface.corners_of(faces)] = lay_raw(self.surface, faces, settled)
        return tie_offs(self.surface, finish, settled.sheets, raw)

    def troubles(self, key: str) -> str:
        """What of a finish could not be solved and lies bare, and why; empty where nothing does."""
        failure = self.failure(key)
        if failure:
            return failure
        solution = self.solution(key)
        return "" if solution is None else joined_troubles(solution.troubles)

    def _pieces(self, key: str) -> Settled:
        finish = self.finishes[key]
        told = (finish.projection_key, finish.datum, finish.datum_for, finish.material.repeat_mm)
        return self._kept(
            "pieces",
            key,
            content_key("pieces", self.held_key(key), told),
            lambda: settle_pieces(self.surface, finish, self._could_hold(key), self.solution(key)),
            lambda found: 400 * len(found.pieces) + (0 if found.of_face is None else found.of_face.nbytes),
        )

    def settled(self, key: str) -> Settled:
        """Datum and measured sizes of a finish, and how the sheet lies on each of its faces."""
        finish = self.finishes[key]
        if finish.is_one_sheet:
            return self._pieces(key)
        return self._kept(
            "sheets",
            key,
            content_key("sheets", self.held_key(key), finish.laid_key),
            lambda: with_sheets(self.surface, finish, self._could_hold(key), self._pieces(key)),
            lambda settled: 8 * len(self._could_hold(key)) + 1000,
        )

    @cached_property
    def _laying_keys(self) -> dict[str, str]:
        return {}

    def laying_key(self, key: str) -> str:
        """Changes where the (s', t') of a finish may have changed."""
        if key not in self._laying_keys:
            self._laying_keys[key] = self._laying_key_on(key, self.drawn_key(key))
        return self._laying_keys[key]

    def _laying_key_on(self, key: str, faces_key: str) -> str:
        """The same on some of the faces that a finish holds, by a name for them."""
        finish = self.finishes[key]
        solved = self._solved_key(key, finish)
        return content_key("laying", self.mesh, finish.pick_key, solved, faces_key, finish.laid_key)

    def raw_key(self, key: str) -> str | None:
        """The same but for the placement of the whole sheet; None where that is not all that places it."""
        raw = self.finishes[key].raw_key
        return None if raw is None else content_key(f"raw {self._laid_on(key)} {raw}")

    def _laid_on(self, key: str) -> str:
        """What a laying of a finish depends on besides the finish itself."""
        finish = self.finishes[key]
        return f"{self.mesh} {finish.pick_key} {self._solved_key(key, finish)} {self.drawn_key(key)}"

    def laying(self, key: str) -> Floats32:
        """(K, 2) float32 (s', t') in mm for the corners of the faces that it is laid on, in face order."""
        return self._laid(key, self.drawn(key), self.laying_key(key), "drawn")

    def _laid(self, key: str, faces: Ints, content: str, which: str) -> Floats32:
        if not len(faces):
            return np.empty((0, 2), np.float32)

        def make() -> Floats32:
            st = lay(self.surface, self.finishes[key], faces, self.settled(key), np.float32)
            if not np.isfinite(st).all():
                raise FrameError("some of its corners come to lie nowhere on the sheet")
            return st

        return self._kept("layings", f"{key} {which}", content, make, lambda st: st.nbytes)

    def final(self, key: str) -> Floats:
        """(K, 2) float64 (s', t') in mm, as `laying` in full precision; not kept."""
        return lay(self.surface, self.finishes[key], self.drawn(key), self.settled(key))

    def _measured_key(self, what: str, key: str) -> str:
        material = self.finishes[key].material
        return content_key(what, self.laying_key(key), material.repeat_mm, material.joints)

    def figures(self, key: str) -> Figures:
        """What is measured of a finish. RowError where it cannot be laid, too."""

        def make() -> Figures:
            if told := self.failure(key):
                raise RowError(told)
            return measure(self.surface, self.finishes[key], self.drawn(key), self.settled(key))

        return self._kept(
            "figures",
            key,
            self._measured_key("figures", key),
            make,
            lambda f: 1000 + f.seam_faces.nbytes + f.smeared_faces.nbytes,
        )

    def off_within(self, key: str) -> float:
        """mm on the sheet by which a straight line between corners misses the laying of a finish, at most."""
        finish = self.finishes[key]
        return self._kept(
            "off",
            key,
            content_key("off", self.laying_key(key)),
            lambda: finish.projection.off_within(self.surface, self.drawn(key)),
            lambda _: 100,
        )

    def face_stretch(self, key: str) -> FaceStretch:
        """How truly each of the faces is laid that a finish is laid on."""
        return self._kept(
            "stretch",
            key,
            content_key("stretch", self.laying_key(key)),
            lambda: face_stretch(self.surface, self.finishes[key], self.drawn(key), self.settled(key)),
            lambda found: 3 * found.low.nbytes,
        )

    def seams(self, key: str) -> Seams:
        """The edges within a finish, and where the pattern breaks."""
        return self._kept(
            "seams",
            key,
            self._measured_key("seams", key),
            lambda: seams_of(self.surface, self.finishes[key], self.drawn(key), self.settled(key)),
            lambda found: 4 * found.gap_mm.nbytes,
        )

    def pieces(self, key: str) -> Pieces:
        """What hangs together on the sheet of the faces that a finish is laid on, in mm of the model."""

        def make() -> Pieces:
            final = self.final(key) * np.array(self.finishes[key].scale)
            return find_pieces(self.surface, self.drawn(key), final)

        return self._kept(
            "flat",
            key,
            content_key("flat", self.laying_key(key)),
            make,
            lambda found: found.nbytes,
        )

    def over_key(self, key: str, sheet: SheetOver) -> str:
        """Changes where the (s', t') of a sheet over a finish may have changed; of one with a laying of its own."""
        own = own_finish(self.finishes[key], sheet)
        return content_key("over", self._laid_on(key), own.laid_key)

    def laid_over(self, key: str, sheet: SheetOver) -> Under:
        """A sheet with a laying of its own over a finish, on the faces that the finish is laid on."""
        own = own_finish(self.finishes[key], sheet)

        def make() -> Under:
            settled = settle(self.surface, own, self.held(key))
            st = lay_by_corner(self.surface, own, settled.laid_of(self.drawn(key)), settled)
            return Under(own, settled, st)

        return self._kept(
            "over", f"{key} {sheet.key}", self.over_key(key, sheet), make, lambda found: found.st.nbytes
        )

    def grid_key(self, key: str, mask: Near) -> str:
        """Changes where the lines that a mask is near to may have changed."""
        return content_key("lines", mask, self._measured_key("seams", key))

    def grid(self, key: str, mask: Near) -> LineGrid:
        """The lines that a mask of a finish's coats is near to, sorted into cells."""
        lines = LinesOf(self.surface, self.drawn(key), lambda: self.seams(key))
        return self._kept(
            "lines",
            f"{key} {self.finishes[key].near_masks.index(mask)}",
            self.grid_key(key, mask),
            lambda: grid_of(mask, lines),
            lambda grid: grid.nbytes,
        )

    def coated(self, key: str) -> Coated:
        """A finish with its coats, to be evaluated at points."""
        finish = self.finishes[key]
        st = lay_by_corner(self.surface, finish, self.drawn(key), self.settled(key))
        under = Under(finish, self.settled(key), st)
        return settle_coats(
            self.surface,
            under,
            lambda sheet: self.laid_over(key, sheet),
            lambda mask: self.grid(key, mask),
        )

    def jumps(self, key: str, textures: Mapping[str, Textures], shown: str) -> Jumps:
        """How far each channel of a finish jumps across the edges within it.

        shown: changes where its coats, its tones or what the textures hold may have changed.
        """
        return self._kept(
            "jumps",
            key,
            content_key("jumps", self._measured_key("seams", key), shown),
            lambda: find_jumps(self.coated(key), self.seams(key), textures),
            lambda found: 8 * found.length_mm.nbytes,
        )

    def shown_areas(self) -> tuple[dict[str, float], float]:
        """m² that show each finish, and m² that are bare.

        A single sheet takes no more than the sheet itself off what it lies over.
        """
        covering = self.covering()
        if not covering.layers.singles:
            return dict(zip(self.keys, covering.areas_m2[1:], strict=True)), covering.areas_m2[0]
        singles = [self.keys[row] for row in covering.layers.singles]
        out = {key: float(self._shown_by_face(key).sum()) / 1e6 for key in singles}
        by_row = _areas_by_row(covering.layers.base, self._left_by_face(), len(self.keys))
        for row, key in enumerate(self.keys):
            out.setdefault(key, by_row[row + 1])
        return out, by_row[0]

    def _left_by_face(self) -> Floats:
        """(F,) mm² of each face beside the single sheets that lie on it."""
        singles = [self.keys[row] for row in self.covering().layers.singles]

        def make() -> Floats:
            return left_areas(self.surface, ((self.drawn(key), self._shown_by_face(key)) for key in singles))

        content = content_key("left", [self._measured_key("shown", key) for key in singles])
        return self.cache.get("shown", content, make, lambda left: left.nbytes, f"left {self._whose}")

    def _shown_by_face(self, key: str) -> Floats:
        """(K,) mm² of each face that a finish is laid on which show it; none of it where that cannot be measured."""

        def make() -> Floats:
            return shown_by_face(self.surface, self.finishes[key], self.drawn(key), self.settled(key))

        try:
            return self._kept(
                "shown", key, self._measured_key("shown", key), make, lambda shown: shown.nbytes
            )
        except RowError:
            return np.zeros(len(self.drawn(key)))

    def of_each(self, make: Callable[[str], T], keys: Iterable[str] | None = None) -> dict[str, T]:
        """What is made of each finish by its code, without those of which it cannot be made. keys: all where None."""
        out = {}
        for key in self.keys if keys is None else keys:
            with suppress(RowError):
                out[key] = make(key)
        return out

    def bare(self) -> Ints:
        """(K,) int32 ids of the faces without a finish, or with a single sheet that leaves some of them bare."""
        covering = self.covering()
        if not covering.layers.singles:
            return covering.bare
        partly = self._left_by_face() > WHOLLY * self.surface.face_areas
        return as_faces((covering.layers.base == BARE) & (partly | (covering.face_finish == BARE)))


def _areas_by_row(face_row: Ints, areas: Floats, rows: int) -> tuple[float, ...]:
    """m² of the bare faces, and then of each row; areas: (F,) mm²."""
    return tuple((np.bincount(face_row + 1, weights=areas, minlength=rows + 1) / 1e6).tolist())


def _by_row(face_row: Ints, rows: int) -> tuple[Ints, ...]:
    """The faces of each row, ascending."""
    order = np.argsort(face_row, kind="stable").astype(np.int32)
    bounds = np.searchsorted(face_row[order], np.arange(rows + 1))
    return tuple(order[a:b] for a, b in pairwise(bounds))
