"""Flow: the sheet runs along between two borders of a region, and across from the one to the other."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from pivrel.core.arrays import Floats, Ints, distinct
from pivrel.core.geometry.fits.frame import level_across
from pivrel.core.solve.border import SQUARE, Loop, goes_round, loops, squareness, straight_part
from pivrel.core.solve.even import STEPS, even
from pivrel.core.solve.graining import grained
from pivrel.core.solve.opening import along_path, shortest, sides_of
from pivrel.core.solve.region import Region
from pivrel.core.solve.solution import Frame, Laid, Line, Place, SolveError, refuse_closed
from pivrel.core.solve.strokes import REACH, Stroke, felt
from pivrel.core.solve.system import Axis, axis, cotangent, even_axis, jacobians, pulled, solved, stretch_of
from pivrel.core.solve.ties import Tied, Ties
from pivrel.core.solve.unfolding import unfolded

Form = Literal["strip", "ring", "tube"]

FLAT_DEG = 1.0
"""A region all of whose faces look the same way within this is flat."""

OBLIQUE_DEG = 35.0
"""An end that meets a long border at an angle farther off a right one is not made the sheet's end."""

LET_GO = (0.5, 2.0)
"""A tied vertex on a face that is stretched beyond these is let go."""

ROUNDS = 4


@dataclass(frozen=True)
class FlowAsked:
    """How a sheet shall flow, all lengths in mm of material.

    corners: four places on the border; the first border runs from the first to the second. shift: turns the choice of the
    borders by so many. hold: "size" keeps the material's, "borders" stretches extent_mm onto the four borders.
    limits_mm: length along and across, where they are set. closing_mm: what goes once round has to be a whole
    multiple of this, along or across. start: a place on the border at which the sheet begins. lines: strokes that s follows
    where the material keeps its size, and how far they reach. hasty: near enough while a
    hand drags something: one step on from the laying before, by the factors that serve again.
    """

    corners: tuple[Place, Place, Place, Place] | None = None
    shift: int = 0
    hold: Literal["size", "borders"] = "size"
    extent_mm: tuple[float, float] | None = None
    proportion: Literal["free", "along", "across"] = "free"
    limits_mm: tuple[float | None, float | None] = (None, None)
    closing_mm: tuple[float, float] | None = None
    start: Place | None = None
    lines: tuple[Stroke, ...] = ()
    reach: float = REACH
    hasty: bool = False


def flow(region: Region, asked: FlowAsked) -> Laid:
    """The region laid between its borders. SolveError where it has none that the sheet can run between."""
    found = loops(region)
    _refuse(region, found)
    outer = found[0]
    rows = _rows(outer, asked) if len(outer.vertices) > 3 else None
    if asked.corners is None and goes_round(found):
        return _flow_round(region, found[0], found[1], asked)
    if rows is None or (asked.corners is None and squareness(outer, rows) < SQUARE):
        flat = _flat(region)
        if flat is not None:
            return flat
    if rows is None:
        raise SolveError("a triangle has no four borders to flow between: lay it flat")
    return _flow_strip(region, outer, rows, asked)


def _refuse(region: Region, found: list[Loop]) -> None:
    refuse_closed(region)
    edges = len(region.pairs) + len(region.border)
    if len(region.points) - edges + len(region.triangles) != 2 - len(found):
        raise SolveError(
            "this region has a handle or a tunnel through it: divide the pick, so that it opens flat"
        )


def _flat(region: Region) -> Laid | None:
    """A region that is flat laid as it is, level across; None where it is not. Without corners nothing says which way
    it should flow."""
    a, b, c = (region.points[region.triangles[:, k]] for k in range(3))
    normals = np.cross(b - a, c - a)
    mean = normals.sum(axis=0)
    mean /= np.linalg.norm(mean)
    if (normals @ mean < np.cos(np.radians(FLAT_DEG)) * np.linalg.norm(normals, axis=1)).any():
        return None
    across = level_across(mean)
    st = region.points @ np.stack([across, np.cross(mean, across)], axis=1)
    frame = Frame("flat", (), np.empty((0, 3)), None)
    return Laid(region, st - st.min(axis=0), np.empty(0, np.int64), frame)


def _rows(loop: Loop, asked: FlowAsked) -> tuple[int, int, int, int]:
    """The rows of the four corners, the first border's first."""
    if asked.corners is None:
        rows = _lower_first(loop, loop.corner_rows)
        if asked.start is not None:
            rows = _nearest_first(loop, rows, np.asarray(asked.start))
    else:
        places = np.asarray(asked.corners)
        near = [int(np.argmin(((loop.points - place) ** 2).sum(axis=1))) for place in places]
        if len(set(near)) < 4:
            raise SolveError(
                "two corners of the flow stand at the same place of the border: move one of them"
            )
        # Going round with the region on the left, from the first of them.
        a, b, c, d = sorted(near, key=lambda row: (row - near[0]) % len(loop.vertices))
        rows = a, b, c, d
    turn = asked.shift % 4
    a, b, c, d = rows[turn:] + rows[:turn]
    return a, b, c, d


def _lower_first(loop: Loop, rows: tuple[int, int, int, int]) -> tuple[int, int, int, int]:
    """Of the two long borders the lower one first, so that the sheet stands upright; of two as high the one in front."""
    a, b, c, d = rows
    one = _middle(loop, loop.run(a, b))
    other = _middle(loop, loop.run(c, d))
    return rows if one <= other else (c, d, a, b)


def _middle(loop: Loop, vertices: Ints) -> tuple[float, float, float]:
    """Height, depth and x of the middle of some vertices, for an order that rounding does not decide."""
    grain = max(loop.length * 1e-4, 1e-6)
    lookup = dict(zip(loop.vertices.tolist(), range(len(loop.vertices)), strict=True))
    x, y, z = np.round(loop.points[[lookup[v] for v in vertices.tolist()]].mean(axis=0) / grain).tolist()
    return z, y, x


def _nearest_first(loop: Loop, rows: tuple[int, int, int, int], place: Floats) -> tuple[int, int, int, int]:
    """The corners begun so that the border nearest to a place is the first."""
    row = int(np.argmin(((loop.points - place) ** 2).sum(axis=1)))
    count = len(loop.vertices)
    for k in range(4):
        start, end = rows[k], rows[(k + 1) % 4]
        if (row - start) % count < (end - start) % count:
            a, b, c, d = rows[k:] + rows[:k]
            return a, b, c, d
    return rows


def _flow_strip(region: Region, loop: Loop, rows: tuple[int, int, int, int], asked: FlowAsked) -> Laid:
    a, b, c, d = rows
    first, end, far, begin = loop.run(a, b), loop.run(b, c), loop.run(c, d), loop.run(d, a)
    sides = (loop.length_of(a, b), loop.length_of(b, c), loop.length_of(c, d), loop.length_of(d, a))
    if asked.hold == "borders":
        size = _size_held(asked, (sides[0] + sides[2]) / 2, (sides[1] + sides[3]) / 2)
        st = _between_four(region, loop, rows, size)
        return _strip(region, st, (first, end, far, begin), size)
    s, t = Tied.of(region), Tied.of(region)
    t.fixed.append((straight_part(loop, a, b), 0.0))
    _held(t, straight_part(loop, c, d), asked.limits_mm[1])
    oblique = _oblique(loop, rows)
    if oblique[1]:
        s.fixed.append((first[:1], 0.0))
    else:
        s.fixed.append((straight_part(loop, d, a), 0.0))
    if not oblique[0]:
        _held(s, straight_part(loop, b, c), asked.limits_mm[0])
    elif asked.limits_mm[0] is not None:
        s.fixed.append((first[-1:], asked.limits_mm[0]))
    st = _laid(region, s, t, far, -1, asked)
    size = (float(np.median(st[end, 0])), float(np.median(st[far, 1])))
    return _strip(region, st, (first, end, far, begin), size)


def _strip(
    region: Region, st: Floats, borders: tuple[Ints, Ints, Ints, Ints], size: tuple[float, float]
) -> Laid:
    names = ("first", "end", "far", "beginning")
    lines = tuple(Line(name, region.points[border]) for name, border in zip(names, borders, strict=True))
    corners = region.points[[border[0] for border in borders]]
    return Laid(region, st, np.empty(0, np.int64), Frame("strip", lines, corners, size))


def _oblique(loop: Loop, rows: tuple[int, int, int, int]) -> tuple[bool, bool]:
    """Whether the end and the beginning meet the long borders at angles far off right ones."""
    off = [abs(np.degrees(loop.turn[row]) - 90) > OBLIQUE_DEG for row in rows]
    return bool(off[1] or off[2]), bool(off[0] or off[3])


def _held(tied: Tied, border: Ints, at_mm: float | None) -> None:
    """A border on one line of the sheet: at a stated place, or wherever it falls."""
    if at_mm is None:
        tied.together.append(border)
    else:
        tied.fixed.append((border, at_mm))


def _laid(region: Region, s: Tied, t: Tied, far: Ints, sense: Literal[1, -1], asked: FlowAsked) -> Floats:
    """(V, 2) mm: from a field that one coordinate runs along to the laying that is as even as the ties allow.

    far: the border that this coordinate runs to. sense: -1 where that is t, from which the direction of s is turned by -90
    degrees; 1 where it is s.
    """
    ties, st = _even_between(region, s, t, far, sense, asked)
    return grained(region, ties, st, felt(region, asked.lines), asked.reach, turns=False, hasty=asked.hasty)


def _even_between(
    region: Region, s: Tied, t: Tied, far: Ints, sense: Literal[1, -1], asked: FlowAsked
) -> tuple[tuple[Ties, Ties], Floats]:
    """What is left of the ties, and the laying before it follows any lines."""
    axes = even_axis(region, s.ties(region.kept)), even_axis(region, t.ties(region.kept))
    ties = axes[0].ties, axes[1].ties
    # How much of the sheet there is changes no direction.
    name = "flow", replace(asked, limits_mm=(None, None), lines=(), reach=REACH, hasty=False)
    before = region.kept.found(name)
    if asked.hasty and before is not None:
        return ties, even(region, axes, before, steps=0)
    st = even(region, axes, _begun(region, axes, far, sense), steps=0 if asked.hasty else STEPS)
    if asked.hasty:
        return ties, st
    for _ in range(ROUNDS):
        high, low = stretch_of(region, st)
        strained = distinct(region.triangles[(low < LET_GO[0]) | (high > LET_GO[1])])
        loosened = [_loosened(tied, strained) for tied in (s, t)]
        if not any(loosened):
            break
        axes = axis(cotangent(region), s.ties()), axis(cotangent(region), t.ties())
        st = even(region, axes, st)
    ties = axes[0].ties, axes[1].ties
    st = unfolded(region, ties, st)
    region.kept.put(name, st)
    return ties, st


def _begun(region: Region, axes: tuple[Axis, Axis], far: Ints, sense: Literal[1, -1]) -> Floats:
    """(V, 2) mm: the laying whose gradients come nearest to the field and what is square to it."""
    toward = _toward(region, axes[1 if sense < 0 else 0], far)
    other = sense * np.stack([-toward[:, 1], toward[:, 0]], axis=1)
    targets = np.stack([other, toward] if sense < 0 else [toward, other], axis=1)
    right = pulled(region.triangles, region.gradients, region.areas, targets, len(region.points))
    return solved(axes, right)


def _toward(region: Region, coordinate: Axis, far: Ints) -> Floats:
    """(T, 2) unit vectors towards a border: the gradient of the harmonic function that is level on it and on the one before.

    The coordinate's own ties ask for both; a pull on the far border alone, or its stated place, makes them differ.
    """
    pull = np.zeros(len(region.points))
    pull[far] = 1.0
    h = coordinate.solved(pull)
    gradient = jacobians(region.triangles, region.gradients, np.stack([h, h], axis=1))[:, 0]
    size = np.linalg.norm(gradient, axis=1)
    # Where nothing leads across, as in a corner that both borders share, any direction serves as a start.
    gradient[size < 1e-9 * max(float(size.max()), 1e-300)] = (0.0, 1.0)
    return gradient / np.linalg.norm(gradient, axis=1)[:, None]


def _loosened(tied: Tied, strained: Ints) -> bool:
    """Lets strained vertices go, all but two of a border; says whether there were any."""
    changed = False

    def rest(border: Ints) -> Ints:
        nonlocal changed
        kept = border[~np.isin(border, strained)]
        if len(kept) == len(border) or len(kept) < 2:
            return border
        changed = True
        return kept

    tied.together = [rest(border) for border in tied.together]
    tied.fixed = [(rest(border), value) for border, value in tied.fixed]
    return changed


def _size_held(asked: FlowAsked, length: float, width: float) -> tuple[float, float]:
    """What of the sheet lies between the borders, mm along and across."""
    assert asked.extent_mm is not None, "what is stretched onto borders has a size"
    along, across = asked.extent_mm
    if asked.proportion == "along":
        return along, width * along / length
    if asked.proportion == "across":
        return length * across / width, across
    return along, across


def _between_four(
    region: Region, loop: Loop, rows: tuple[int, int, int, int], size: tuple[float, float]
) -> Floats:
    """(V, 2) mm: the sheet's rectangle exactly on the four borders by their length, harmonic between them."""
    a, b, c, d = rows
    s, t = Tied.of(region), Tied.of(region)
    for tied, at, (one, two), (low, high) in (
        (s, size[0], ((a, b), (c, d)), ((d, a), (b, c))),
        (t, size[1], ((b, c), (d, a)), ((a, b), (c, d))),
    ):
        for (start, stop), backwards in ((one, False), (two, True)):
            share = _shares(loop, start, stop)
            tied.fixed.append((loop.run(start, stop), at * (1 - share if backwards else share)))
        tied.fixed += [(loop.run(*low), 0.0), (loop.run(*high), at)]
    none = np.zeros(len(region.points))
    return np.stack([even_axis(region, tied.ties(region.kept)).solved(none) for tied in (s, t)], axis=1)


def _shares(loop: Loop, start: int, end: int) -> Floats:
    """(N,) the share of the way from one row to another at each vertex between them."""
    rows = (start + np.arange((end - start) % len(loop.vertices) + 1)) % len(loop.vertices)
    along = (loop.at[rows] - loop.at[start]) % loop.length
    along[-1] = loop.length_of(start, end)
    out: Floats = along / along[-1]
    return out


@dataclass(frozen=True)
class Opened:
    """A ring or a tube cut open along the shortest way between its borders.

    cut: the region, opened; was: (V',) the vertex that each of its vertices was. path: vertices of the cut, from the first
    border on, way_mm long; halves: its slots. The sheet begins at the vertices behind and comes round to those ahead.
    """

    cut: Region
    was: Ints
    path: Ints
    way_mm: float
    halves: Ints
    ahead: Ints
    behind: Ints
    form: Form

    def along_border(self, loop: Loop) -> Ints:
        """The vertices of the opened region on a border."""
        return np.flatnonzero(np.isin(self.was, loop.vertices))

    def tied(self) -> Tied:
        """Nothing known but that the two sides of the cut belong together."""
        tied = Tied.of(self.cut)
        tied.copies = np.stack([self.ahead, self.behind], axis=1)
        return tied


def _opened(region: Region, near: Loop, far: Loop, asked: FlowAsked) -> Opened:
    name = "opened round", asked.start, asked.shift
    return region.kept.get(name, lambda: _cut_apart(region, near, far, asked))


def _cut_apart(region: Region, near: Loop, far: Loop, asked: FlowAsked) -> Opened:
    path, way = shortest(region, int(near.vertices[_start_row(near, asked.start)]), far.vertices)
    around = (near.length + far.length) / 2
    form: Form = "ring" if (around >= way) != bool(asked.shift % 2) else "tube"
    halves = along_path(region, path)
    cut, was = region.opened(halves)
    left, right = sides_of(region, cut, halves, path)
    ahead, behind = (left, right) if form == "ring" else (right, left)
    return Opened(cut, was, path, way, halves, ahead, behind, form)


def _flow_round(region: Region, one: Loop, other: Loop, asked: FlowAsked) -> Laid:
    """A ring, along which the sheet goes round, or a tube, along which it runs from end to end."""
    near, far = _near_and_far(one, other, asked)
    opened = _opened(region, near, far, asked)
    st, size = (
        _between_two(opened, near, far, asked)
        if asked.hold == "borders"
        else _run_round(opened, near, far, asked)
    )
    lines = (
        Line("first", _closed(near.points)),
        Line("far", _closed(far.points)),
        Line("cut", region.points[opened.path]),
    )
    corners = region.points[opened.path[[0, -1]]]
    return Laid(opened.cut, st, opened.halves, Frame(opened.form, lines, corners, size))


def _run_round(opened: Opened, near: Loop, far: Loop, asked: FlowAsked) -> tuple[Floats, tuple[float, float]]:
    """(V', 2) mm as even as can be, whole repeats or a stated length round where asked; and the sheet's size."""
    along, across = opened.tied(), opened.tied()
    ring = opened.form == "ring"
    closing, other, row = (along, across, 0) if ring else (across, along, 1)
    closing.jump_mm = None
    closing.fixed.append((opened.behind[:1], 0.0))
    last = opened.along_border(far)
    other.fixed.append((opened.along_border(near), 0.0))
    _held(other, last, asked.limits_mm[1 - row])

    def solved() -> Floats:
        return _laid(opened.cut, along, across, last, -1 if ring else 1, asked)

    stated = asked.limits_mm[row]
    if stated is not None:
        closing.jump_mm = stated
    st = solved()
    if stated is None and asked.closing_mm is not None:
        jump = float(st[opened.ahead[0], row] - st[opened.behind[0], row])
        repeat = asked.closing_mm[row]
        closing.jump_mm = max(1, round(jump / repeat)) * repeat
        st = solved()
    jump = float(st[opened.ahead[0], row] - st[opened.behind[0], row])
    width = float(np.median(st[last, 1 - row]))
    return st, (jump, width) if ring else (width, jump)


def _between_two(
    opened: Opened, near: Loop, far: Loop, asked: FlowAsked
) -> tuple[Floats, tuple[float, float]]:
    """(V', 2) mm: whole repeats once round both borders, by their length, harmonic between them; and the sheet's size."""
    around, ring = (near.length + far.length) / 2, opened.form == "ring"
    size = _size_held(asked, around if ring else opened.way_mm, opened.way_mm if ring else around)
    round_mm, between_mm = size if ring else size[::-1]
    closing, other = opened.tied(), opened.tied()
    closing.jump_mm = round_mm
    for loop, vertex, forwards in ((near, opened.path[0], ring), (far, opened.path[-1], not ring)):
        # Each border has the region on its left, so the two are gone round in opposite senses.
        at = int(np.flatnonzero(loop.vertices == vertex)[0])
        share = (loop.at[:-1] - loop.at[at]) % loop.length / loop.length
        share = share if forwards else -share % 1.0
        lookup = np.zeros(int(opened.was.max()) + 1)
        lookup[loop.vertices] = share
        on = opened.along_border(loop)
        closing.fixed.append((on, lookup[opened.was[on]] * round_mm))
        other.fixed.append((on, 0.0 if loop is near else between_mm))
    none = np.zeros(len(opened.cut.points))
    found = [even_axis(opened.cut, tied.ties(opened.cut.kept)).solved(none) for tied in (closing, other)]
    return np.stack(found if ring else found[::-1], axis=1), size


def _closed(points: Floats) -> Floats:
    return np.concatenate([points, points[:1]])


def _near_and_far(one: Loop, other: Loop, asked: FlowAsked) -> tuple[Loop, Loop]:
    """The border that the sheet begins at, and the one that it runs to."""
    if asked.start is not None:
        place = np.asarray(asked.start)
        near = min((one, other), key=lambda loop: float(((loop.points - place) ** 2).sum(axis=1).min()))
    else:
        near = min((one, other), key=lambda loop: _middle(loop, loop.vertices))
    far = other if near is one else one
    return (far, near) if asked.shift % 4 >= 2 else (near, far)


def _start_row(loop: Loop, place: Place | None) -> int:
    """The row of a round border at which the sheet begins: the nearest to a place, else its sharpest corner, else the one
    farthest back."""
    if place is not None:
        return int(np.argmin(((loop.points - np.asarray(place)) ** 2).sum(axis=1)))
    grain = max(loop.length * 1e-6, 1e-9)
    x, y, z = np.round(loop.points / grain).T
    turn = np.round(np.degrees(loop.turn) / 10)
    return int(np.lexsort((x, z, -y, -turn))[0])
